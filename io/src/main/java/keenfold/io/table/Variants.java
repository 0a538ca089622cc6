package keenfold.io.table;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import keenfold.core.data.Categories;
import keenfold.core.data.Notice;
import keenfold.io.table.parse.NumberParser;

/** Values of a column of categories that a reader takes for one, and the program for several. */
public final class Variants {
    private static final int MOST = 3;

    private Variants() {}

    /** Returns one notice about a column, if it has such values; none else. */
    public static List<Notice> in(Categories column) {
        int[] counts = column.counts();
        Map<String, List<Integer>> alike = new LinkedHashMap<>();
        for (int level = 0; level < counts.length; level++) {
            if (counts[level] > 0) {
                alike.computeIfAbsent(key(column.levels().get(level)), k -> new ArrayList<>())
                        .add(level);
            }
        }
        List<String> pairs = new ArrayList<>();
        int more = 0;
        for (List<Integer> levels : alike.values()) {
            if (levels.size() > 1 && pairs.size() < MOST) {
                pairs.add(String.join(
                        " and ",
                        levels.stream()
                                .map(l -> "\"" + column.levels().get(l) + "\" (" + counts[l] + ")")
                                .toList()));
            } else if (levels.size() > 1) {
                more++;
            }
        }
        return pairs.isEmpty()
                ? List.of()
                : List.of(Notice.plain(
                                "variants",
                                "column \"" + column.name() + "\": " + String.join("; ", pairs)
                                        + (more > 0 ? String.format(Locale.ROOT, "; and %d more", more) : "")
                                        + " count as different values, though they differ in case, blanks or the form of a number alone;"
                                        + " write alike what is the same")
                        .with("column", column.name()));
    }

    /** What is left of a text without case, blanks and characters without a shape; of a number its value. */
    private static String key(String text) {
        double number = NumberParser.parse(text);
        if (!Double.isNaN(number)) {
            return Double.toString(number + 0.0);
        }
        return Normalizer.normalize(text, Normalizer.Form.NFKC)
                .replaceAll("[\\p{Z}\\p{C}]", "")
                .toLowerCase(Locale.ROOT);
    }
}
