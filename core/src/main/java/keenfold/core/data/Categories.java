package keenfold.core.data;

import java.util.Arrays;
import java.util.List;
import java.util.TreeMap;
import java.util.function.Function;

/** A column of categories: a code per row into the levels, which are sorted by code point; −1 if missing. */
public final class Categories implements Column {
    /** A level that no file has and that stands behind all others: it stands for values that a model was not trained on. */
    public static final String UNSEEN = "\uDBFF\uDFFF";

    private final String name;
    private final List<String> levels;
    private final int[] codes;
    private final boolean text;

    private Categories(String name, List<String> levels, int[] codes, boolean text) {
        this.name = name;
        this.text = text;
        this.levels = levels;
        this.codes = codes;
    }

    /** Returns the column of the given texts, null for a missing one. */
    public static Categories of(String name, String... texts) {
        TreeMap<String, Integer> seen = new TreeMap<>(CodePoints.ORDER);
        for (String text : texts) {
            if (text != null) {
                seen.put(text, 0);
            }
        }
        List<String> levels = List.copyOf(seen.keySet());
        for (int i = 0; i < levels.size(); i++) {
            seen.put(levels.get(i), i);
        }
        int[] codes = new int[texts.length];
        for (int i = 0; i < texts.length; i++) {
            String text = texts[i];
            codes[i] = text == null ? -1 : seen.getOrDefault(text, -1);
        }
        return new Categories(name, levels, codes, false);
    }

    /**
     * Returns a column of codes in order of first appearance, whose levels are sorted here.
     *
     * @param levels distinct texts in any order
     * @param codes per row an index into {@code levels}, or −1
     */
    public static Categories ofCodes(String name, List<String> levels, int[] codes) {
        Integer[] order = new Integer[levels.size()];
        Arrays.setAll(order, i -> i);
        Arrays.sort(order, (a, b) -> CodePoints.ORDER.compare(levels.get(a), levels.get(b)));
        int[] place = new int[order.length];
        for (int i = 0; i < order.length; i++) {
            place[order[i]] = i;
        }
        int[] sorted = new int[codes.length];
        for (int i = 0; i < codes.length; i++) {
            Checks.that(
                    codes[i] >= -1 && codes[i] < place.length, "column \"%s\": code %d has no level", name, codes[i]);
            sorted[i] = codes[i] < 0 ? -1 : place[codes[i]];
        }
        return new Categories(name, Arrays.stream(order).map(levels::get).toList(), sorted, false);
    }

    /** Returns the text of a level; of one that begins with {@link #UNSEEN}, that of the value that it stands for. */
    public static String text(String level) {
        return level.startsWith(UNSEEN) ? level.substring(UNSEEN.length()) : level;
    }

    /**
     * Returns the column as one of texts: each row has another value, which can only be learned by heart, so that its words are
     * read or nothing of it is.
     */
    public Categories asTexts() {
        return new Categories(name, levels, codes, true);
    }

    /** Returns the column under another name. */
    public Categories named(String other) {
        return new Categories(other, levels, codes, text);
    }

    /** Returns whether it is one of texts. */
    public boolean texts() {
        return text;
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public int rows() {
        return codes.length;
    }

    /** Returns the levels of the whole column, sorted by code point, whether or not a selection still shows each. */
    public List<String> levels() {
        return levels;
    }

    /** Returns the code of a row, −1 if it is missing. */
    public int code(int row) {
        return codes[row];
    }

    @Override
    public boolean missing(int row) {
        return codes[row] < 0;
    }

    @Override
    public Categories select(int[] rows) {
        int[] chosen = new int[rows.length];
        for (int i = 0; i < rows.length; i++) {
            chosen[i] = codes[rows[i]];
        }
        return new Categories(name, levels, chosen, text);
    }

    /** Returns the column with each missing value put at the given code. */
    public Categories fill(int code) {
        int[] filled = codes.clone();
        for (int i = 0; i < filled.length; i++) {
            if (filled[i] < 0) {
                filled[i] = code;
            }
        }
        return new Categories(name, levels, filled, text);
    }

    /** Returns the column with only those levels that a row has. */
    public Categories withoutUnused() {
        int[] counts = counts();
        int[] place = new int[counts.length];
        List<String> used = new java.util.ArrayList<>();
        for (int level = 0; level < counts.length; level++) {
            place[level] = used.size();
            if (counts[level] > 0) {
                used.add(levels.get(level));
            }
        }
        int[] renumbered = new int[codes.length];
        for (int i = 0; i < codes.length; i++) {
            renumbered[i] = codes[i] < 0 ? -1 : place[codes[i]];
        }
        return new Categories(name, List.copyOf(used), renumbered, text);
    }

    /** Returns how many rows have each level. */
    public int[] counts() {
        int[] counts = new int[levels.size()];
        for (int code : codes) {
            if (code >= 0) {
                counts[code]++;
            }
        }
        return counts;
    }

    @Override
    public <T> T match(
            Function<? super Numbers, ? extends T> numbers, Function<? super Categories, ? extends T> categories) {
        return categories.apply(this);
    }

    /** Returns the codes: per row an index into the levels, or −1. */
    public int[] codes() {
        return codes.clone();
    }
}
