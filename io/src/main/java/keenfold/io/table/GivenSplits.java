package keenfold.io.table;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.split.Splits;
import keenfold.io.InputException;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;

/**
 * Splits made elsewhere: a column of the data, or a CSV file with the columns of an export of folds ({@code row},
 * {@code repeat}, {@code fold}; perhaps {@code dataset}; perhaps {@code part} and {@code count}).
 */
public final class GivenSplits {
    private static final String TRAIN = "train";
    private static final String TEST = "test";

    private final DataSet data;
    private final String place;
    private final Map<Integer, Integer> rowOfSource = new HashMap<>();
    private final Map<Integer, Integer> casesOfSource = new HashMap<>();

    private GivenSplits(DataSet data, String place) {
        this.data = data;
        this.place = place;
        for (int i = 0; i < data.rows(); i++) {
            rowOfSource.putIfAbsent(data.sourceRow(i), i);
            casesOfSource.merge(data.sourceRow(i), 1, Integer::sum);
        }
    }

    /**
     * Returns the splits of a column: rows with one value are tested together, rows without a value are only trained on.
     * A column of the two words train and test is one split.
     */
    public static Splits of(DataSet data, Column column) {
        String place = "data set \"" + data.name() + "\", column \"" + column.name() + "\"";
        int[] foldOf = column.match(GivenSplits::rank, GivenSplits::level);
        return InputException.at(
                place, () -> Splits.partitions(new int[][] {foldOf}), why -> "cannot be used as splits: " + why);
    }

    /** Folds are ranked by their numbers, not by their texts: 10 comes after 9. */
    private static int[] rank(Numbers column) {
        double[] values = column.toArray();
        double[] distinct = Arrays.stream(values)
                .filter(v -> !Double.isNaN(v))
                .distinct()
                .sorted()
                .toArray();
        return Arrays.stream(values)
                .mapToInt(v -> Double.isNaN(v) ? -1 : Arrays.binarySearch(distinct, v))
                .toArray();
    }

    private static int[] level(Categories column) {
        Categories used = column.withoutUnused();
        int[] codes = new int[used.rows()];
        Arrays.setAll(codes, used::code);
        if (Set.copyOf(used.levels()).equals(Set.of(TRAIN, TEST))) {
            int tested = used.levels().indexOf(TEST);
            Arrays.setAll(codes, i -> codes[i] == tested ? 0 : -1);
        }
        return codes;
    }

    /**
     * Reads a file of folds.
     *
     * @throws InputException if a row is not in the data, stands in two folds of a repeat, or a side is empty
     */
    public static Splits read(DataSet data, String file, List<Path> folders) {
        TableLocation where = TableLocation.of(file, folders);
        // A data set may be called 2024: its name is a text all the same.
        Set<String> texts =
                new HashSet<>(TableReader.readAsItIs(where, TableFormat.PLAIN).names());
        texts.retainAll(Set.of("dataset", "part"));
        ReadTable table = TableReader.read(where, TableFormat.PLAIN.withText(texts));
        return new GivenSplits(data, where.shown()).splits(table);
    }

    private record Entry(int row, int repeat, int fold, boolean test, int count) {}

    /** Where a row is mentioned: in a repeat, or in one fold of it where the file says both sides. */
    private record Mention(int row, int repeat, int fold) {}

    /** Rows of the data set that are cases of one row of the file. */
    private record Cases(int first, int end) {}

    private Splits splits(ReadTable table) {
        Optional<Categories> sets = column(table, "dataset").map(c -> c.match(n -> Categories.of(n.name()), w -> w));
        Numbers row = numbers(table, "row");
        Numbers repeat = numbers(table, "repeat");
        Numbers fold = numbers(table, "fold");
        Optional<Categories> part = column(table, "part").map(c -> c.match(n -> Categories.of(n.name()), w -> w));
        Optional<Numbers> count = column(table, "count").map(c -> numbers(table, "count"));
        SortedMap<Integer, SortedMap<Integer, int[]>> sides = new TreeMap<>();
        int[] lines = IntStream.range(0, table.rows())
                .filter(i -> sets.isEmpty() || text(sets.get(), i).equals(data.name()))
                .toArray();
        Map<Mention, Integer> mentions = new HashMap<>();
        if (data.fileRows() < data.rows()) {
            for (int i : lines) {
                mentions.merge(mention(entry(i, row, repeat, fold, part, count), part.isPresent()), 1, Integer::sum);
            }
        }
        Map<Mention, Integer> before = new HashMap<>();
        for (int i : lines) {
            Entry entry = entry(i, row, repeat, fold, part, count);
            Cases cases = cases(i, entry, mention(entry, part.isPresent()), mentions, before);
            for (int own = cases.first; own < cases.end; own++) {
                int[] counts = sides.computeIfAbsent(entry.repeat, k -> new TreeMap<>())
                        .computeIfAbsent(entry.fold, k -> {
                            int[] fresh = new int[data.rows()];
                            Arrays.fill(fresh, -1);
                            return fresh;
                        });
                if (counts[own] >= 0) {
                    throw wrong(
                            i,
                            "row " + data.sourceRow(entry.row) + " stands twice in repeat " + entry.repeat + ", fold "
                                    + entry.fold);
                }
                counts[own] = entry.test ? 0 : entry.count;
            }
        }
        if (sides.isEmpty()) {
            throw new InputException(place, "no line is about data set \"" + data.name() + "\"");
        }
        return InputException.at(
                place,
                () -> part.isPresent() ? named(sides) : partitions(sides),
                why -> "cannot be used as splits: " + why);
    }

    /** A row that counts for several cases is mentioned once for all of them, or once for each. */
    private Cases cases(
            int line, Entry entry, Mention mention, Map<Mention, Integer> mentions, Map<Mention, Integer> before) {
        int cases = casesOfSource.getOrDefault(data.sourceRow(entry.row), 1);
        int times = mentions.getOrDefault(mention, 1);
        if (cases == 1 || times == 1) {
            return new Cases(entry.row, entry.row + cases);
        }
        if (times != cases) {
            throw wrong(
                    line,
                    "row " + data.sourceRow(entry.row) + " counts for " + cases + " cases and stands here " + times
                            + " times: expected once, or once for each case");
        }
        int own = entry.row + before.merge(mention, 1, Integer::sum) - 1;
        return new Cases(own, own + 1);
    }

    private static Mention mention(Entry entry, boolean sides) {
        return new Mention(entry.row, entry.repeat, sides ? entry.fold : -1);
    }

    private Entry entry(
            int i, Numbers row, Numbers repeat, Numbers fold, Optional<Categories> part, Optional<Numbers> count) {
        int source = whole(row, i);
        Integer own = rowOfSource.get(source);
        if (own == null) {
            throw wrong(
                    i,
                    "row " + source + " is not among the " + data.rows() + " rows of data set \"" + data.name()
                            + "\" (rows are numbered from 1 in its file; rows held back or without a class are none)");
        }
        String side = part.map(p -> text(p, i)).orElse(TEST);
        if (!side.equals(TEST) && !side.equals(TRAIN)) {
            throw wrong(i, "part \"" + side + "\": expected train or test");
        }
        boolean counted = count.isPresent() && side.equals(TRAIN);
        return new Entry(own, whole(repeat, i), whole(fold, i), side.equals(TEST), counted ? whole(count.get(), i) : 1);
    }

    private Splits partitions(SortedMap<Integer, SortedMap<Integer, int[]>> sides) {
        int[][] foldOf = new int[sides.size()][data.rows()];
        int r = 0;
        for (SortedMap<Integer, int[]> repeat : sides.values()) {
            Arrays.fill(foldOf[r], -1);
            int f = 0;
            for (int[] counts : repeat.values()) {
                for (int i = 0; i < counts.length; i++) {
                    if (counts[i] == 0 && foldOf[r][i] >= 0) {
                        throw Checks.wrong("row " + data.sourceRow(i) + " is tested in two folds of repeat "
                                + new TreeSet<>(sides.keySet()).toArray()[r]);
                    }
                    foldOf[r][i] = counts[i] == 0 ? f : foldOf[r][i];
                }
                f++;
            }
            r++;
        }
        return Splits.partitions(foldOf);
    }

    private Splits named(SortedMap<Integer, SortedMap<Integer, int[]>> sides) {
        int[] folds = sides.values().stream().mapToInt(Map::size).toArray();
        int[][] counts =
                sides.values().stream().flatMap(m -> m.values().stream()).toArray(int[][]::new);
        Splits.Form form =
                data.order().filter(o -> inOrder(counts, o)).isPresent() ? Splits.Form.IN_ORDER : Splits.Form.RANDOM;
        return Splits.sides(form, folds, counts);
    }

    /** Whether each split trains only on what came before. */
    private static boolean inOrder(int[][] counts, Numbers when) {
        for (int[] split : counts) {
            double last = Double.NEGATIVE_INFINITY;
            double first = Double.POSITIVE_INFINITY;
            for (int i = 0; i < split.length; i++) {
                last = split[i] > 0 ? Math.max(last, when.get(i)) : last;
                first = split[i] == 0 ? Math.min(first, when.get(i)) : first;
            }
            if (last >= first) {
                return false;
            }
        }
        return true;
    }

    private static Optional<Column> column(ReadTable table, String name) {
        return table.table().column(name);
    }

    private Numbers numbers(ReadTable table, String name) {
        Column column = column(table, name)
                .orElseThrow(() -> new InputException(
                        place, "there is no column \"" + name + "\"; a file of folds has row, repeat and fold"));
        return column.match(n -> n, c -> {
            throw new InputException(
                    place + ", column \"" + name + "\"",
                    "expected whole numbers from 1, found \"" + c.levels().get(0) + "\"");
        });
    }

    private int whole(Numbers column, int i) {
        double value = column.get(i);
        if (!(value >= 1 && value == Math.rint(value) && value <= Integer.MAX_VALUE)) {
            throw wrong(i, column.name() + " must be a whole number from 1");
        }
        return (int) value;
    }

    private String text(Categories column, int i) {
        if (column.missing(i)) {
            throw wrong(i, column.name() + " is missing");
        }
        return column.levels().get(column.code(i));
    }

    private InputException wrong(int i, String cause) {
        return new InputException(place + ", data row " + (i + 1), cause);
    }
}
