package keenfold.core.data;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Something odd about a table that a practised eye would stop at.
 *
 * @param kind what it is
 * @param column the column it is about, empty for the table as a whole
 * @param count rows, values or per cent that go with it
 */
public record Suspicion(Kind kind, String column, int count) {
    private static final int LEAST_GROUPS = 15;
    private static final int LEAST_ROWS = 20;
    private static final double NEARLY = 0.98;

    /** Kinds of suspicion. */
    public enum Kind {
        /** The column has one value; count: rows that have it. */
        CONSTANT,
        /** Every row has another value, so that it can only be learned by heart; count: rows. */
        UNIQUE,
        /** The column nearly is the class; count: per cent of rows, or of pairs of rows, told apart by it alone. */
        TELLS_CLASS,
        /** The values recur like names of groups; count: how many. */
        GROUP_LIKE,
        /** The values say which rows came first; count: rows. */
        TIME_LIKE,
        /** Rows that repeat an earlier one in every column; count: how many. */
        DUPLICATES,
        /** The target is a number with many values; count: how many. */
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
                target.flatMap(t -> tellsClass(column, profile, t)).ifPresent(found::add);
            }
        }
        int copies = EqualRows.copies(table);
        if (copies > 0) {
            found.add(new Suspicion(Kind.DUPLICATES, "", copies));
        }
        return found;
    }

    private static Optional<Suspicion> ofTarget(Column column, Categories target) {
        int values = distinct(target);
        boolean number = column.match(n -> true, Suspicion::areNumbers);
        return number && values > LEAST_ROWS && values > target.rows() / 20
                ? Optional.of(new Suspicion(Kind.NUMBER_TARGET, column.name(), values))
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
        } else if (column.match(n -> false, Suspicion::groupLike)) {
            found.add(new Suspicion(Kind.GROUP_LIKE, column.name(), profile.distinct()));
        } else if (!words && profile.distinct() >= LEAST_ROWS && rises(column)) {
            found.add(new Suspicion(Kind.TIME_LIKE, column.name(), present));
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

    /**
     * Whether a column alone tells the classes apart nearly always: a category whose levels each belong to one class
     * (levels of one row left out, which would always), a number that puts one class before all others.
     */
    private static Optional<Suspicion> tellsClass(Column column, ColumnProfile profile, Categories target) {
        double share = column.match(
                n -> profile.numbers().filter(s -> mayTell(n, s, target)).isPresent() ? byRank(n, target) : 0,
                c -> byLevel(c, target));
        return share >= NEARLY
                ? Optional.of(new Suspicion(Kind.TELLS_CLASS, column.name(), (int) Math.floor(100 * share)))
                : Optional.empty();
    }

    private static double byLevel(Categories column, Categories target) {
        int[][] counts = new int[column.levels().size()][target.levels().size()];
        int[] classes = new int[target.levels().size()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i) && !target.missing(i)) {
                counts[column.code(i)][target.code(i)]++;
                classes[target.code(i)]++;
            }
        }
        int told = 0;
        int recurring = 0;
        for (int[] level : counts) {
            int sum = Arrays.stream(level).sum();
            if (sum > 1) {
                told += Arrays.stream(level).max().orElse(0);
                recurring += sum;
            }
        }
        int rows = Arrays.stream(classes).sum();
        double guess = rows == 0 ? 1 : Arrays.stream(classes).max().orElse(0) / (double) rows;
        // A level for nearly each row, or a target that is nearly one class, would tell nothing.
        return recurring < 0.8 * rows || recurring < LEAST_ROWS || guess >= NEARLY ? 0 : told / (double) recurring;
    }

    /** Whether a coarse histogram leaves it open that a class stands before all others: spares most columns a sort. */
    private static boolean mayTell(Numbers column, ColumnProfile.Spread spread, Categories target) {
        double[][] counts = new double[ColumnProfile.BINS][target.levels().size()];
        double[] total = new double[target.levels().size()];
        double all = 0;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i) && !target.missing(i)) {
                counts[ColumnProfile.bin(column.get(i), spread.min(), spread.max())][target.code(i)]++;
                total[target.code(i)]++;
                all++;
            }
        }
        for (int c = 0; c < total.length; c++) {
            double below = 0;
            double least = 0;
            double most = 0;
            for (double[] bin : counts) {
                double others = -bin[c];
                for (double n : bin) {
                    others += n;
                }
                least += bin[c] * below;
                most += bin[c] * (below + others);
                below += others;
            }
            double pairs = total[c] * (all - total[c]);
            if (pairs > 0 && Math.max(most, pairs - least) >= NEARLY * pairs) {
                return true;
            }
        }
        return false;
    }

    /** The best over classes of the share of pairs, one row of the class and one of another, ordered alike. */
    private static double byRank(Numbers column, Categories target) {
        int[] order = WeightedSort.order(column.toArray());
        double best = 0;
        for (int c = 0; c < target.levels().size(); c++) {
            double below = 0;
            double own = 0;
            double twice = 0;
            int from = 0;
            while (from < order.length) {
                int to = from;
                double ownTied = 0;
                double otherTied = 0;
                while (to < order.length && column.get(order[to]) == column.get(order[from])) {
                    int code = target.code(order[to++]);
                    ownTied += code == c ? 1 : 0;
                    otherTied += code >= 0 && code != c ? 1 : 0;
                }
                twice += ownTied * (2 * below + otherTied);
                below += otherTied;
                own += ownTied;
                from = to;
            }
            if (own >= 5 && below >= 5) {
                double share = twice / (2 * own * below);
                best = Math.max(best, Math.max(share, 1 - share));
            }
        }
        return best;
    }
}
