package keenfold.io.table;

import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.io.InputException;

/** Collects one column while its file is read; numbers until a word turns up, if it may. */
final class ColumnBuilder {
    /** From this share of numbers on, a word among them is taken for a slip and not for a category. */
    private static final double MOSTLY = 0.9;

    private static final int FIRST_CAPACITY = 1024;

    private final String file;
    private final String name;
    private final boolean mustBeNumber;
    private final boolean mayBeNumber;
    private boolean words;
    private int rows;
    private int present;
    private double[] numbers = new double[0];
    private int[] codes = new int[0];
    private final Map<String, Integer> levels = new HashMap<>();
    private final List<String> levelTexts = new ArrayList<>();
    private final List<Long> levelLines = new ArrayList<>();

    /** A column that began with numbers and went on with words: it must be read again, as text. */
    private boolean mixed;

    ColumnBuilder(String file, String name, TableFormat format) {
        this.file = file;
        this.name = name;
        this.mustBeNumber = format.number().contains(name);
        this.mayBeNumber = !format.text().contains(name);
        this.words = !mayBeNumber;
    }

    String name() {
        return name;
    }

    boolean mixed() {
        return mixed;
    }

    void addMissing() {
        addNumber(Double.NaN);
        addCode(-1);
        rows++;
    }

    void add(String text, long line) {
        if (!words && !mixed) {
            double value = NumberParser.parse(text);
            if (!Double.isNaN(value)) {
                if (Double.isInfinite(value)) {
                    throw new InputException(
                            place(line), "\"" + text + "\" is too large for a number of double precision");
                }
                addNumber(value);
                present++;
                rows++;
                return;
            }
            if (mustBeNumber) {
                throw new InputException(
                        place(line), "\"" + text + "\" is not a number, as the plan says it should be");
            }
            mixed = present > 0;
            words = !mixed;
            if (words) {
                codes = new int[Math.max(FIRST_CAPACITY, rows)];
                Arrays.fill(codes, 0, rows, -1);
                numbers = new double[0];
            }
        }
        if (words) {
            Integer code = levels.get(text);
            if (code == null) {
                code = levelTexts.size();
                levels.put(text, code);
                levelTexts.add(text);
                levelLines.add(line);
            }
            addCode(code);
            present++;
        }
        rows++;
    }

    private void addNumber(double value) {
        if (!words && !mixed) {
            if (rows >= numbers.length) {
                numbers = Arrays.copyOf(numbers, Math.max(FIRST_CAPACITY, rows + rows / 2));
            }
            numbers[rows] = value;
        }
    }

    private void addCode(int code) {
        if (words) {
            if (rows >= codes.length) {
                codes = Arrays.copyOf(codes, Math.max(FIRST_CAPACITY, rows + rows / 2));
            }
            codes[rows] = code;
        }
    }

    /** The finished column. */
    ReadColumn build() {
        if (!words) {
            Column column = Numbers.owning(name, Arrays.copyOf(numbers, rows));
            return new ReadColumn(column, ReadColumn.Kind.NUMBER, Optional.empty());
        }
        int[] own = Arrays.copyOf(codes, rows);
        if (mayBeNumber) {
            if (allDates()) {
                return new ReadColumn(Numbers.owning(name, days(own)), ReadColumn.Kind.DATE, Optional.empty());
            }
        }
        return new ReadColumn(Categories.ofCodes(name, levelTexts, own), ReadColumn.Kind.CATEGORY, stray(own));
    }

    /** The first word of a column that holds numbers too. */
    private Optional<ReadColumn.Stray> stray(int[] own) {
        int[] counts = new int[levelTexts.size()];
        for (int code : own) {
            if (code >= 0) {
                counts[code]++;
            }
        }
        int numeric = 0;
        int firstWord = -1;
        for (int level = 0; level < counts.length; level++) {
            if (Double.isNaN(NumberParser.parse(levelTexts.get(level)))) {
                firstWord = firstWord < 0 ? level : firstWord;
            } else {
                numeric += counts[level];
            }
        }
        return firstWord < 0 || numeric == 0
                ? Optional.empty()
                : Optional.of(new ReadColumn.Stray(
                        levelTexts.get(firstWord), levelLines.get(firstWord), numeric, present - numeric));
    }

    /** Refuses a word among many numbers. */
    static void refuse(String file, String name, ReadColumn.Stray stray) {
        if (stray.numbers() >= MOSTLY * (stray.numbers() + stray.words())) {
            String text = stray.text();
            throw new InputException(
                    file + ", line " + stray.line() + ", column \"" + name + "\"",
                    String.format(
                            Locale.ROOT,
                            "\"%s\" is not a number, as %d others of this column are; %sor read the column as text"
                                    + " (text: [%s] in a plan, --text %s), or \"%s\" as a missing value",
                            text,
                            stray.numbers(),
                            mended(text),
                            name,
                            name,
                            text));
        }
    }

    private static String mended(String text) {
        String withPoint = text.replace(',', '.');
        return !withPoint.equals(text) && !Double.isNaN(NumberParser.parse(withPoint))
                ? "write " + withPoint + ", "
                : "mend it, ";
    }

    private boolean allDates() {
        return !levelTexts.isEmpty() && levelTexts.stream().allMatch(t -> !Double.isNaN(day(t)));
    }

    private double[] days(int[] own) {
        double[] ofLevel = levelTexts.stream().mapToDouble(ColumnBuilder::day).toArray();
        double[] days = new double[own.length];
        Arrays.setAll(days, i -> own[i] < 0 ? Double.NaN : ofLevel[own[i]]);
        return days;
    }

    /** Days since 1970-01-01 of an ISO date, NaN if it is none. */
    private static double day(String text) {
        if (text.length() != 10 || text.charAt(4) != '-') {
            return Double.NaN;
        }
        try {
            return LocalDate.parse(text).toEpochDay();
        } catch (DateTimeParseException e) {
            return Double.NaN;
        }
    }

    private String place(long line) {
        return file + ", line " + line + ", column \"" + name + "\"";
    }
}
