package keenfold.io.table;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.Collectors;
import keenfold.core.data.Suggestion;
import keenfold.io.InputException;
import keenfold.io.table.parse.ColumnBuilder;
import keenfold.io.table.parse.OddText;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;

/** Takes the rows of a table, value by value, and makes columns of them. */
public class TableSink {
    private static final int MOST_COLUMNS = 100_000;
    private static final int MANY_COLUMNS = 2_000;

    private final String file;
    private final String unit;
    private final TableFormat format;
    private final Set<String> asText;
    private final boolean[] missingStart = new boolean[128];
    private final List<ColumnBuilder> columns = new ArrayList<>();
    private final List<String> notices = new ArrayList<>();
    private final Map<Integer, SortedMap<String, Integer>> tokens = new HashMap<>();

    /**
     * @param unit what the numbers of rows count: {@code line} or {@code row}
     * @param asText columns that are known to hold words among numbers
     */
    TableSink(String file, String unit, TableFormat format, Set<String> asText) {
        this.file = file;
        this.unit = unit;
        this.format = format;
        this.asText = asText;
        for (String token : format.missing()) {
            if (!token.isEmpty() && token.charAt(0) < missingStart.length) {
                missingStart[token.charAt(0)] = true;
            }
        }
    }

    /**
     * Takes the columns' names, before any value.
     *
     * @param place in the file, such as {@code line 1}; may be empty
     * @throws InputException if a name is blank or there twice
     */
    public void header(List<String> names, String place) {
        String where = place.isEmpty() ? file : file + ", " + place;
        if (names.size() > MOST_COLUMNS) {
            throw new InputException(where, names.size() + " columns: expected at most " + MOST_COLUMNS);
        }
        if (names.size() > MANY_COLUMNS) {
            notices.add(where + ": " + names.size() + " columns; fits take long, and chance agrees with some of them");
        }
        Set<String> seen = new HashSet<>();
        TableFormat resolved = InputException.at(
                file, () -> format.of(names.stream().map(String::strip).toList()), why -> why);
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i).strip();
            if (name.isEmpty()) {
                throw new InputException(
                        where, String.format(Locale.ROOT, "column %d has no name; give it one", i + 1));
            }
            if (!seen.add(name)) {
                throw new InputException(where, "two columns are called \"" + name + "\"; rename one");
            }
            OddText.in(name, where, "the name of column " + (i + 1), notices);
            columns.add(new ColumnBuilder(file, unit, name, resolved, asText.contains(name)));
        }
        for (Set<String> forced : List.of(resolved.text(), resolved.number())) {
            for (String name : forced) {
                if (!seen.contains(name)) {
                    throw new InputException(
                            file,
                            "there is no column \"" + name + "\"" + Suggestion.hint(name, seen)
                                    + TableReader.hintOfOneColumn(List.copyOf(seen)));
                }
            }
        }
    }

    /** Returns how many columns there are; 0 before the header. */
    public int columns() {
        return columns.size();
    }

    /** Takes a value that is there, in place of the columns' builders. */
    void add(int column, char[] text, int from, int length, long number) {
        columns.get(column).add(text, from, length, number, notices);
    }

    /**
     * Takes the next value of a column.
     *
     * @param text as it stands in the file; one of the missing tokens is a missing value
     * @param number of its line or row, from 1
     */
    public void value(int column, String text, long number) {
        value(column, text.toCharArray(), 0, text.length(), number);
    }

    /** Takes the next value of a column, a part of an array, which is not kept; white space around it is left out. */
    void value(int column, char[] text, int offset, int length, long number) {
        int from = offset;
        int end = offset + length;
        while (from < end && isSpace(text[from])) {
            from++;
        }
        while (end > from && isSpace(text[end - 1])) {
            end--;
        }
        if (isMissing(text, from, end - from)) {
            if (end > from) {
                tokens.computeIfAbsent(column, c -> new TreeMap<>())
                        .merge(new String(text, from, end - from), 1, Integer::sum);
            }
            missing(column);
        } else {
            add(column, text, from, end - from, number);
        }
    }

    /** Takes a missing value of a column. */
    public void missing(int column) {
        columns.get(column).addMissing();
    }

    /** White space, but no other control character: that is odd, and to be noticed. */
    private static boolean isSpace(char c) {
        return c == ' ' || (c >= '\t' && c <= '\r');
    }

    /** Most values begin with a character that no missing token begins with, and need not be looked up. */
    private boolean isMissing(char[] text, int from, int length) {
        boolean perhaps = length == 0 || text[from] >= missingStart.length || missingStart[text[from]];
        return perhaps && format.missing().contains(new String(text, from, length));
    }

    /** Adds something odd that is worth a notice. */
    void notice(String notice) {
        notices.add(notice);
    }

    /** The columns that began with numbers and went on with words. */
    Set<String> mixed() {
        return columns.stream()
                .filter(ColumnBuilder::mixed)
                .map(ColumnBuilder::name)
                .collect(Collectors.toSet());
    }

    ReadTable table() {
        if (columns.isEmpty()) {
            throw new InputException(file, "the file is empty: expected a line of column names, then rows");
        }
        List<ReadColumn> built = columns.stream().map(ColumnBuilder::build).toList();
        columns.forEach(c -> c.noDate().ifPresent(notices::add));
        Map<String, SortedMap<String, Integer>> byName = new HashMap<>();
        tokens.forEach((column, own) -> byName.put(columns.get(column).name(), own));
        return new ReadTable(built, notices, byName);
    }
}
