package keenfold.io.table.parse;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.io.InputException;
import keenfold.io.ShellWords;

/** Collects one column while its file is read; numbers until a word turns up, if it may. */
public final class ColumnBuilder {
    /** From this share of numbers on, a word among them is taken for a slip and not for a category. */
    private static final double MOSTLY = 0.9;

    /** Values are kept in pieces, so that a growing column is never copied but once, at its end. */
    private static final int CHUNK = 1 << 13;

    private final String file;
    private final String unit;
    private final String name;
    private final boolean comma;
    private final boolean mustBeNumber;
    private final boolean mayBeNumber;
    private boolean words;
    private boolean odd;
    private int rows;
    private int present;
    private final List<double[]> numbers = new ArrayList<>();
    private final List<int[]> codes = new ArrayList<>();
    private double[] lastNumbers = new double[0];
    private int[] lastCodes = new int[0];
    private final Levels levels = new Levels();
    private final List<Long> levelLines = new ArrayList<>();

    /** A column that began with numbers and went on with words: it must be read again, as text. */
    private boolean mixed;

    /** Begins a column of a file. */
    public ColumnBuilder(String file, String unit, String name, TableFormat format, boolean asText) {
        this.file = file;
        this.unit = unit;
        this.name = name;
        this.comma = format.decimal() == ',';
        this.mustBeNumber = format.number().contains(name);
        this.mayBeNumber = !format.text().contains(name);
        this.words = !mayBeNumber || asText;
    }

    /** Returns the name of the column. */
    public String name() {
        return name;
    }

    /** Returns whether numbers and other texts were met. */
    public boolean mixed() {
        return mixed;
    }

    /** Adds a missing value. */
    public void addMissing() {
        addNumber(Double.NaN);
        addCode(-1);
        rows++;
    }

    /** Adds the text of a row. */
    public void add(char[] text, int from, int length, long line, List<String> notices) {
        if (!words && !mixed) {
            double value = comma ? number(new String(text, from, length)) : NumberParser.parse(text, from, length);
            if (!Double.isNaN(value)) {
                if (Double.isInfinite(value)) {
                    throw new InputException(
                            place(line),
                            "\"" + new String(text, from, length) + "\" is too large for a number of double precision");
                }
                addNumber(value);
                present++;
                rows++;
                return;
            }
            becomeWords(text, from, length, line);
        }
        if (words) {
            int before = levels.count();
            int code = levels.of(text, from, length);
            if (code == before) {
                levelLines.add(line);
                if (!odd) {
                    odd = OddText.in(new String(text, from, length), place(line), "a value", notices);
                }
            }
            addCode(code);
            present++;
        }
        rows++;
    }

    /** The first word: a column without a number so far is one of words; one with numbers must be read again. */
    private void becomeWords(char[] text, int from, int length, long line) {
        if (mustBeNumber) {
            throw new InputException(
                    place(line),
                    "\"" + new String(text, from, length) + "\" is not a number, as the plan says it should be");
        }
        mixed = present > 0;
        words = !mixed;
        if (words) {
            toWords();
        }
    }

    private double number(String text) {
        return NumberParser.parse(comma ? text.replace(',', '.') : text);
    }

    private void addNumber(double value) {
        if (!words && !mixed) {
            int place = rows % CHUNK;
            if (place == 0) {
                lastNumbers = new double[CHUNK];
                numbers.add(lastNumbers);
            }
            lastNumbers[place] = value;
        }
    }

    private void addCode(int code) {
        if (words) {
            int place = rows % CHUNK;
            if (place == 0) {
                lastCodes = new int[CHUNK];
                codes.add(lastCodes);
            }
            lastCodes[place] = code;
        }
    }

    /** All values so far were missing: now as words. */
    private void toWords() {
        numbers.clear();
        lastNumbers = new double[0];
        for (int row = 0; row < rows; row += CHUNK) {
            lastCodes = new int[CHUNK];
            Arrays.fill(lastCodes, -1);
            codes.add(lastCodes);
        }
    }

    private double[] numbers() {
        double[] all = new double[rows];
        for (int i = 0; i < numbers.size(); i++) {
            System.arraycopy(numbers.get(i), 0, all, i * CHUNK, Math.min(CHUNK, rows - i * CHUNK));
        }
        return all;
    }

    private int[] codes() {
        int[] all = new int[rows];
        for (int i = 0; i < codes.size(); i++) {
            System.arraycopy(codes.get(i), 0, all, i * CHUNK, Math.min(CHUNK, rows - i * CHUNK));
        }
        return all;
    }

    /** The finished column. */
    public ReadColumn build() {
        if (!words) {
            Column column = Numbers.owning(name, numbers());
            return new ReadColumn(column, ReadColumn.Kind.NUMBER, Optional.empty(), Optional.empty());
        }
        int[] own = codes();
        if (mayBeNumber) {
            if (allDates()) {
                return new ReadColumn(
                        Numbers.owning(name, days(own)), ReadColumn.Kind.DATE, Optional.empty(), Optional.empty());
            }
        }
        return new ReadColumn(
                Categories.ofCodes(name, levels.texts(), own), ReadColumn.Kind.CATEGORY, stray(own), disguised(own));
    }

    /** The first word of a column that holds numbers too. */
    private Optional<ReadColumn.Stray> stray(int[] own) {
        int[] counts = new int[levels.texts().size()];
        for (int code : own) {
            if (code >= 0) {
                counts[code]++;
            }
        }
        int numeric = 0;
        int firstWord = -1;
        for (int level = 0; level < counts.length; level++) {
            if (Double.isNaN(number(levels.texts().get(level)))) {
                firstWord = firstWord < 0 ? level : firstWord;
            } else {
                numeric += counts[level];
            }
        }
        return firstWord < 0 || numeric == 0
                ? Optional.empty()
                : Optional.of(new ReadColumn.Stray(
                        levels.texts().get(firstWord),
                        unit + " " + levelLines.get(firstWord),
                        numeric,
                        present - numeric));
    }

    /** The first number in disguise and how many there are, where nearly all values are numbers in disguise or plain ones. */
    private Optional<ReadColumn.Stray> disguised(int[] own) {
        int[] counts = new int[levels.texts().size()];
        for (int code : own) {
            if (code >= 0) {
                counts[code]++;
            }
        }
        int plain = 0;
        int hidden = 0;
        int first = -1;
        int others = 0;
        for (int level = 0; level < counts.length && others <= (1 - MOSTLY) * present; level++) {
            String text = levels.texts().get(level);
            if (!Double.isNaN(number(text))) {
                plain += counts[level];
            } else if (OddText.disguised(text)) {
                first = first < 0 ? level : first;
                hidden += counts[level];
            } else {
                others += counts[level];
            }
        }
        return hidden == 0 || others > (1 - MOSTLY) * present
                ? Optional.empty()
                : Optional.of(new ReadColumn.Stray(
                        levels.texts().get(first), unit + " " + levelLines.get(first), hidden, plain + others));
    }

    /** What is said against a column of numbers in disguise. */
    public static InputException disguise(String file, String name, ReadColumn.Stray first) {
        return new InputException(
                file + ", " + first.place() + ", column \"" + name + "\"",
                String.format(
                        Locale.ROOT,
                        "\"%s\"%s numbers, but not plainly written; %s, or read the column as text (text: [%s], --text"
                                + " %s)",
                        first.text(),
                        first.numbers() == 1 ? " is one of the" : " and " + others(first) + " of this column are",
                        plainly(first.text(), "decimal: \",\" (--decimal ,)"),
                        name,
                        ShellWords.quoted(name)));
    }

    /** What is to be said of a column of numbers in disguise. */
    static String disguised(ReadColumn.Stray first) {
        return String.format(
                Locale.ROOT,
                "\"%s\"%s not plainly written; draft, compare and run refuse the column: %s, or read it as text (--text)",
                first.text(),
                first.numbers() == 1 ? " is a number, but" : " and " + others(first) + " are numbers, but",
                plainly(first.text(), "--decimal ,"));
    }

    /** What is to be said of a column of numbers with a word among them that is read as categories. */
    static String strayed(ReadColumn.Stray stray) {
        if (!isMostlyNumbers(stray)) {
            return String.format(
                    Locale.ROOT,
                    "\"%s\" is %s among %d numbers; the column counts as categories",
                    stray.text(),
                    stray.words() == 1 ? "a word" : "the first of " + stray.words() + " words",
                    stray.numbers());
        }
        return String.format(
                Locale.ROOT,
                "\"%s\" is %s among %d numbers, so that the column is read as categories; to have numbers, correct %s, or read %s as missing (--missing %s)",
                stray.text(),
                stray.words() == 1 ? "a word" : "the first of " + stray.words() + " words",
                stray.numbers(),
                stray.words() == 1 ? "it" : "them",
                stray.words() == 1 ? "it" : "each",
                ShellWords.quoted(stray.text()));
    }

    /**
     * How a number in disguise would be plain: commas in front of three digits each part thousands, most likely; another comma
     * stands before decimals.
     *
     * @param option how to say that a comma stands before decimals
     */
    static String plainly(String text, String option) {
        if (text.matches("[+-]?[0-9]{1,3}(,[0-9]{3})+(\\.[0-9]+)?")) {
            boolean unclear = text.matches("[+-]?[0-9]{1,3},[0-9]{3}");
            return "write them without commas between thousands (" + text.replace(",", "") + ")"
                    + (unclear ? ", or, if a comma stands before decimals here, say " + option : "");
        }
        return text.matches("[+-]?[0-9]*,[0-9]+")
                ? "say " + option + " if a comma stands before decimals, or write a point (" + text.replace(',', '.')
                        + ")"
                : "write them with digits and a point alone (1234.5)";
    }

    /** The other values like a first one, in words. */
    static String others(ReadColumn.Stray first) {
        int more = first.numbers() - 1;
        return more == 1 ? "another value" : more + " other values";
    }

    /** Whether so many values are numbers that the words among them are taken for slips. */
    static boolean isMostlyNumbers(ReadColumn.Stray stray) {
        return stray.numbers() >= MOSTLY * (stray.numbers() + stray.words());
    }

    /** What is said against a word among many numbers; nothing where words are many. */
    public static Optional<MixedColumnException.MixedColumn> mixed(String file, String name, ReadColumn.Stray stray) {
        if (!isMostlyNumbers(stray)) {
            return Optional.empty();
        }
        String text = stray.text();
        return Optional.of(new MixedColumnException.MixedColumn(
                name,
                file + ", " + stray.place() + ", column \"" + name + "\"",
                String.format(
                        Locale.ROOT,
                        "\"%s\" is not a number, as %d others of this column are; %sor read the column as text"
                                + " (text: [%s] in a plan, --text %s), or \"%s\" as a missing value (missing, --missing)",
                        text,
                        stray.numbers(),
                        mended(text),
                        name,
                        ShellWords.quoted(name),
                        text),
                strayed(stray)));
    }

    private static String mended(String text) {
        if (text.matches("[+-]?[0-9]{1,3}(,[0-9]{3})+")) {
            return "write it without the comma, ";
        }
        String withPoint = text.replace(',', '.');
        return !withPoint.equals(text) && !Double.isNaN(NumberParser.parse(withPoint))
                ? "write " + withPoint + ", "
                : "mend it, ";
    }

    /** The first text that is not a date, of a column of which most values are. */
    public Optional<String> noDate() {
        List<String> texts = levels.texts();
        List<Integer> not = IntStream.range(0, texts.size())
                .filter(i -> Double.isNaN(Values.day(texts.get(i))))
                .boxed()
                .toList();
        return not.isEmpty() || texts.size() < 5 || 2 * not.size() > texts.size()
                ? Optional.empty()
                : Optional.of(
                        place(levelLines.get(not.get(0))) + ": \"" + texts.get(not.get(0))
                                + "\" is no date, as most values of this column are; the column counts as categories until that is corrected");
    }

    private boolean allDates() {
        return !levels.texts().isEmpty() && levels.texts().stream().allMatch(t -> !Double.isNaN(Values.day(t)));
    }

    private double[] days(int[] own) {
        double[] ofLevel = levels.texts().stream().mapToDouble(Values::day).toArray();
        double[] days = new double[own.length];
        Arrays.setAll(days, i -> own[i] < 0 ? Double.NaN : ofLevel[own[i]]);
        return days;
    }

    private String place(long line) {
        return file + ", " + unit + " " + line + ", column \"" + name + "\"";
    }
}
