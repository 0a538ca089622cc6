package keenfold.core.survey;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;

/**
 * Something odd about a table that a practised eye would stop at.
 *
 * @param kind what it is
 * @param column the column it is about, empty for the table as a whole
 * @param count rows, values or per cent that go with it
 * @param beside what it is to be held against, of some kinds; 0 otherwise
 * @param detail the other column, or the value, it is about; empty of most kinds
 */
public record Suspicion(Kind kind, String column, int count, int beside, String detail) {
    private static final int LEAST_GROUPS = 15;
    private static final int LEAST_ROWS = 20;
    private static final double NEARLY = 0.98;

    /** From so many classes on, numbers as labels may be counts; fewer are codes, such as digits. */
    private static final int MOST_CODES = 10;

    /** What stands out does at least twice as well, beyond the guess, as half of the other columns. */
    private static final double STANDS_OUT = 0.5;

    /** Rows among which a column is looked at for what tells the class. */
    private static final int ENOUGH_ROWS = 20_000;

    private static final int MOST_CLASSES = 100;
    private static final int MOST_BINS = 256;
    private static final int MOST_INTERVALS = 50;

    /** Nothing is to be held against it. */
    public Suspicion(Kind kind, String column, int count) {
        this(kind, column, count, 0);
    }

    /** It is about no other column and no value. */
    public Suspicion(Kind kind, String column, int count, int beside) {
        this(kind, column, count, beside, "");
    }

    /** Kinds of suspicion. */
    public enum Kind {
        /** The column has one value; count: rows that have it. */
        CONSTANT,
        /** Every row has another value, so that it can only be memorised; count: rows. */
        UNIQUE,
        /**
         * The column alone nearly gives the class, and most others do not; count: per cent of rows whose class the best simple
         * rule on it gives; beside: per cent of rows of the largest class.
         */
        TELLS_CLASS,
        /** The values recur like names of groups; count: how many. */
        GROUP_LIKE,
        /** The values say which rows came first; count: rows. */
        TIME_LIKE,
        /**
         * Rows that repeat an earlier one in every column but those with another value in each; count: how many; detail: the
         * columns left aside.
         */
        DUPLICATES,
        /**
         * Rows that are equal in every such column, and differ in the class; count: how many; beside: the fewest of them that
         * any classifier gets wrong that does not see the columns left aside; detail: those columns.
         */
        CONTRADICTIONS,
        /** The column has the same information as an earlier one; detail: that one; count: rows with a value. */
        REPEATS_COLUMN,
        /** A value that may stand for "not known"; detail: the value; count: rows that have it. */
        MISSING_CODE,
        /** The target is a number with many values, or a count; count: how many values. */
        NUMBER_TARGET
    }

    /**
     * Looks through a table.
     *
     * @param profiles those of its columns
     * @param dates names of the columns that hold dates
     * @param target the column of the classes, if one was named
     */
    public static List<Suspicion> in(
            Table table, List<ColumnProfile> profiles, List<String> dates, Optional<Categories> target) {
        List<Suspicion> found = new ArrayList<>();
        for (int j = 0; j < profiles.size(); j++) {
            Column column = table.columns().get(j);
            ColumnProfile profile = profiles.get(j);
            boolean isTarget = target.map(t -> t.name().equals(column.name())).orElse(false);
            if (isTarget) {
                ofTarget(column, target.orElseThrow()).ifPresent(found::add);
            } else {
                found.addAll(of(column, profile, dates.contains(column.name())));
            }
        }
        target.ifPresent(t -> found.addAll(tellClass(table, t)));
        Set<String> unique = found.stream()
                .filter(s -> s.kind() == Kind.UNIQUE)
                .map(Suspicion::column)
                .collect(Collectors.toCollection(LinkedHashSet::new));
        Table recurring = without(table, unique);
        Table features = target.map(t -> without(recurring, Set.of(t.name()))).orElse(recurring);
        // Where no features are equal, neither are whole rows, and nothing can contradict: most tables are done here.
        if (features.columns().isEmpty() || EqualRows.copies(features) > 0) {
            int copies = EqualRows.copies(recurring);
            if (copies > 0) {
                found.add(new Suspicion(Kind.DUPLICATES, "", copies, 0, String.join(", ", unique)));
            }
            target.flatMap(t -> contradictions(features, t, String.join(", ", unique)))
                    .ifPresent(found::add);
        }
        found.addAll(RepeatedColumns.in(
                target.map(t -> without(table, Set.of(t.name()))).orElse(table).columns()));
        return found;
    }

    private static Table without(Table table, Set<String> names) {
        return new Table(
                table.rows(),
                table.columns().stream().filter(c -> !names.contains(c.name())).toList());
    }

    /** Rows that are equal in every feature and differ in the class. */
    private static Optional<Suspicion> contradictions(Table features, Categories target, String aside) {
        if (features.columns().isEmpty()) {
            return Optional.empty();
        }
        int[] first = EqualRows.firsts(features);
        Map<Integer, Map<Integer, Integer>> classes = new HashMap<>();
        for (int i = 0; i < first.length; i++) {
            if (!target.missing(i)) {
                classes.computeIfAbsent(first[i], k -> new HashMap<>()).merge(target.code(i), 1, Integer::sum);
            }
        }
        int rows = 0;
        int wrong = 0;
        for (Map<Integer, Integer> counts : classes.values()) {
            if (counts.size() > 1) {
                int all = counts.values().stream().mapToInt(n -> n).sum();
                rows += all;
                wrong += all - counts.values().stream().mapToInt(n -> n).max().orElse(0);
            }
        }
        return rows == 0 ? Optional.empty() : Optional.of(new Suspicion(Kind.CONTRADICTIONS, "", rows, wrong, aside));
    }

    /**
     * Looks through the columns of a table alone, not for copies of rows. Of many rows some of the numbers, evenly spaced, are
     * looked at first, and all of them where something shows, so that what is said and counted holds for every row.
     *
     * @param target the classes, of which the table has no column
     */
    public static List<Suspicion> ofColumns(Table table, Set<String> dates, Categories target) {
        int step = (table.rows() + ENOUGH_ROWS - 1) / ENOUGH_ROWS;
        int[] some = IntStream.range(0, table.rows()).filter(i -> i % step == 0).toArray();
        List<Suspicion> found = new ArrayList<>();
        for (Column column : table.columns()) {
            // Names of groups may recur a few times only; what is to be seen of numbers shows among some of them.
            Column looked = column.match(n -> some.length < n.rows() ? n.select(some) : n, c -> c);
            boolean date = dates.contains(column.name());
            List<Suspicion> shown = of(looked, ColumnProfile.of(looked), date);
            found.addAll(
                    shown.isEmpty() || looked.rows() == column.rows()
                            ? shown
                            : of(column, ColumnProfile.of(column), date));
        }
        found.addAll(tellClass(table, target));
        return found;
    }

    private static Optional<Suspicion> ofTarget(Column column, Categories target) {
        return column.match(n -> true, Suspicion::areNumbers) ? ofNumbers(target) : Optional.empty();
    }

    /** Looks at a target alone: numbers with many values, or with rare ones beside frequent ones, as counts have. */
    public static Optional<Suspicion> ofTarget(Categories target) {
        return areNumbers(target) ? ofNumbers(target) : Optional.empty();
    }

    private static Optional<Suspicion> ofNumbers(Categories target) {
        int values = distinct(target);
        int[] counts = Arrays.stream(target.counts()).filter(n -> n > 0).toArray();
        int most = Arrays.stream(counts).max().orElse(0);
        int least = Arrays.stream(counts).min().orElse(0);
        boolean many = values > LEAST_ROWS && values > target.rows() / 20;
        boolean uneven = values > MOST_CODES && most > 10 * least;
        return many || uneven
                ? Optional.of(new Suspicion(Kind.NUMBER_TARGET, target.name(), values))
                : Optional.empty();
    }

    /** Whether the labels of a target are numbers, plainly written. */
    private static boolean areNumbers(Categories target) {
        return target.levels().stream().allMatch(l -> l.matches("[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]+)?"));
    }

    private static List<Suspicion> of(Column column, ColumnProfile profile, boolean date) {
        int present = profile.rows() - profile.missing();
        List<Suspicion> found = new ArrayList<>();
        boolean words = column.match(n -> false, c -> true);
        if (profile.distinct() <= 1) {
            found.add(new Suspicion(Kind.CONSTANT, column.name(), present));
        } else if (date) {
            found.add(new Suspicion(Kind.TIME_LIKE, column.name(), present));
        } else if (column.match(
                n -> profile.distinct() == present && present >= LEAST_ROWS && countsRows(n),
                Suspicion::namesEachRow)) {
            found.add(new Suspicion(Kind.UNIQUE, column.name(), present));
        } else if (column.match(n -> groupLike(n, profile.distinct()), Suspicion::groupLike)) {
            found.add(new Suspicion(Kind.GROUP_LIKE, column.name(), profile.distinct()));
        } else if (!words && profile.distinct() >= LEAST_ROWS && rises(column)) {
            found.add(new Suspicion(Kind.TIME_LIKE, column.name(), present));
        }
        if (!date) {
            MissingCodes.in(column, profile).ifPresent(found::add);
        }
        return found;
    }

    /** Whether a column of words has another one in every row that has any, and so names rows. */
    public static boolean namesEachRow(Categories column) {
        int present = column.rows() - column.countMissing();
        return present >= LEAST_ROWS && distinct(column) == present;
    }

    /** Whether the words of a column recur like names of groups. */
    public static boolean groupLike(Categories column) {
        int present = column.rows() - column.countMissing();
        return distinct(column) >= LEAST_GROUPS && distinct(column) <= present / 2;
    }

    /**
     * Whether numbers recur like names of groups: whole ones that recur about equally often, or that stand in one block each.
     * Ages and counts do neither.
     */
    private static boolean groupLike(Numbers column, int distinct) {
        int present = column.rows() - column.countMissing();
        if (distinct < LEAST_GROUPS || distinct > present / 5) {
            return false;
        }
        Map<Double, Integer> counts = new HashMap<>();
        int blocks = 0;
        double before = Double.NaN;
        for (int i = 0; i < column.rows(); i++) {
            double value = column.get(i);
            if (Double.isNaN(value)) {
                continue;
            }
            if (value != Math.rint(value)) {
                return false;
            }
            counts.merge(value, 1, Integer::sum);
            blocks += value == before ? 0 : 1;
            before = value;
        }
        int least = counts.values().stream().mapToInt(n -> n).min().orElse(0);
        int most = counts.values().stream().mapToInt(n -> n).max().orElse(0);
        return 2 * least >= most || 2 * blocks <= 3 * distinct;
    }

    private static int distinct(Categories column) {
        return (int) Arrays.stream(column.counts()).filter(n -> n > 0).count();
    }

    /** Whether numbers go up by the same step from row to row. */
    private static boolean countsRows(Column column) {
        return column.match(
                n -> {
                    for (int i = 1; i < n.rows(); i++) {
                        if (!(n.get(i) - n.get(i - 1) == n.get(1) - n.get(0))) {
                            return false;
                        }
                    }
                    return n.countMissing() == 0;
                },
                c -> false);
    }

    /** Whether numbers never fall from row to row. */
    private static boolean rises(Column column) {
        return column.match(
                n -> {
                    for (int i = 1; i < n.rows(); i++) {
                        if (!(n.get(i) >= n.get(i - 1))) {
                            return false;
                        }
                    }
                    return true;
                },
                c -> false);
    }

    /** The share of rows whose class the best simple rule on a column gives. */
    private static double told(Column column, Categories target, int[] rows) {
        return column.match(n -> byInterval(n, target, rows), k -> byLevel(k, target, rows));
    }

    /** The share of the largest class. */
    private static double largest(Categories target, int[] rows) {
        int[] classes = new int[target.levels().size()];
        Arrays.stream(rows).forEach(row -> classes[target.code(row)]++);
        return Arrays.stream(classes).max().orElse(0) / (double) Math.max(1, rows.length);
    }

    /**
     * The columns that alone give the class nearly always, by the best simple rule on them, where most others do not: of an
     * easy table, whose every column does, none stands out.
     */
    private static List<Suspicion> tellClass(Table table, Categories all) {
        Categories target = all.withoutUnused();
        int step = (target.rows() + ENOUGH_ROWS - 1) / ENOUGH_ROWS;
        int[] every = IntStream.range(0, target.rows())
                .filter(i -> !target.missing(i))
                .toArray();
        int[] rows =
                Arrays.stream(every).filter(i -> i % Math.max(1, step) == 0).toArray();
        int[] classes = new int[target.levels().size()];
        for (int row : rows) {
            classes[target.code(row)]++;
        }
        double guess = largest(target, rows);
        // Of more classes than this no column could give any away that a reader would miss, and counts would fill the
        // memory.
        boolean many = Arrays.stream(classes).filter(n -> n > 0).count() > MOST_CLASSES;
        if (rows.length < LEAST_ROWS || guess >= NEARLY || many) {
            return List.of();
        }
        List<Column> columns = table.columns().stream()
                .filter(c -> !c.name().equals(target.name()))
                .toList();
        double[] gains =
                columns.stream().mapToDouble(c -> told(c, target, rows) - guess).toArray();
        List<Suspicion> found = new ArrayList<>();
        for (int j = 0; j < gains.length; j++) {
            int own = j;
            double[] others = IntStream.range(0, gains.length)
                    .filter(i -> i != own)
                    .mapToDouble(i -> gains[i])
                    .sorted()
                    .toArray();
            boolean standsOut = others.length == 0 || others[others.length / 2] <= STANDS_OUT * gains[j];
            if (gains[j] + guess >= NEARLY && standsOut) {
                // What is said counts every row.
                double told = told(columns.get(j), target, every);
                if (told >= NEARLY) {
                    found.add(new Suspicion(
                            Kind.TELLS_CLASS,
                            columns.get(j).name(),
                            (int) Math.floor(100 * told),
                            (int) Math.round(100 * largest(target, every)),
                            ""));
                }
            }
        }
        return found;
    }

    /**
     * The share of rows in the most frequent class of their level, missing values being a level; of levels that recur, since
     * others are right always. 0 if too few recur to tell.
     */
    private static double byLevel(Categories column, Categories target, int[] rows) {
        Map<Integer, int[]> counts = new HashMap<>();
        for (int i : rows) {
            counts.computeIfAbsent(
                            column.missing(i) ? -1 : column.code(i),
                            k -> new int[target.levels().size()])[target.code(i)]++;
        }
        int told = 0;
        int recurring = 0;
        for (int[] level : counts.values()) {
            int sum = Arrays.stream(level).sum();
            if (sum > 1) {
                told += Arrays.stream(level).max().orElse(0);
                recurring += sum;
            }
        }
        return recurring < 0.8 * rows.length || recurring < LEAST_ROWS ? 0 : told / (double) recurring;
    }

    /**
     * The share of rows whose class is the most frequent one of their interval, of as many intervals as there are classes, cut
     * where that share is greatest, and one for missing values. Found by dynamic programming over runs of one class, or, of
     * many runs, over some hundred bins of about as many rows.
     */
    private static double byInterval(Numbers column, Categories target, int[] rows) {
        int k = target.levels().size();
        int[] missing = new int[k];
        int[] present = Arrays.stream(rows)
                .filter(i -> {
                    if (column.missing(i)) {
                        missing[target.code(i)]++;
                    }
                    return !column.missing(i);
                })
                .toArray();
        int right = Arrays.stream(missing).max().orElse(0);
        if (present.length > 0) {
            right += cut(bins(column, target, present), k);
        }
        return right / (double) rows.length;
    }

    /** Class counts of neighbouring values: equal ones together, then runs of one class, then some hundred bins. */
    private static List<int[]> bins(Numbers column, Categories target, int[] present) {
        int k = target.levels().size();
        int[] order = WeightedSort.order(
                Arrays.stream(present).mapToDouble(column::get).toArray());
        List<int[]> runs = new ArrayList<>();
        int from = 0;
        while (from < order.length) {
            int to = from;
            int[] counts = new int[k];
            double value = column.get(present[order[from]]);
            while (to < order.length && column.get(present[order[to]]) == value) {
                counts[target.code(present[order[to++]])]++;
            }
            int[] last = runs.isEmpty() ? new int[0] : runs.get(runs.size() - 1);
            if (pure(counts) >= 0 && last.length > 0 && pure(last) == pure(counts)) {
                last[pure(counts)] += to - from;
            } else {
                runs.add(counts);
            }
            from = to;
        }
        int most = present.length / MOST_BINS + 1;
        if (runs.size() <= MOST_BINS) {
            return runs;
        }
        List<int[]> bins = new ArrayList<>();
        int size = most;
        for (int[] run : runs) {
            if (size >= most) {
                bins.add(new int[k]);
                size = 0;
            }
            int[] bin = bins.get(bins.size() - 1);
            for (int c = 0; c < k; c++) {
                bin[c] += run[c];
                size += run[c];
            }
        }
        return bins;
    }

    /** The one class that is there, or −1. */
    private static int pure(int[] counts) {
        int only = -1;
        for (int c = 0; c < counts.length; c++) {
            if (counts[c] > 0) {
                if (only >= 0) {
                    return -1;
                }
                only = c;
            }
        }
        return only;
    }

    /** The most rows that are right with as many intervals as classes. */
    private static int cut(List<int[]> bins, int k) {
        int n = bins.size();
        int[][] within = new int[n][n + 1];
        for (int a = 0; a < n; a++) {
            int[] sum = new int[k];
            int most = 0;
            for (int b = a; b < n; b++) {
                for (int c = 0; c < k; c++) {
                    sum[c] += bins.get(b)[c];
                    most = Math.max(most, sum[c]);
                }
                within[a][b + 1] = most;
            }
        }
        int[] best = within[0].clone();
        for (int m = 1; m < Math.min(k, MOST_INTERVALS); m++) {
            int[] next = best.clone();
            for (int b = 1; b <= n; b++) {
                for (int a = 1; a < b; a++) {
                    next[b] = Math.max(next[b], best[a] + within[a][b]);
                }
            }
            best = next;
        }
        return best[n];
    }
}
