package keenfold.core.survey;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.WeightedSort;
import keenfold.core.survey.Suspicion.Kind;

/**
 * Columns that say the same as an earlier one: levels that correspond one to one, numbers in the same or the reverse
 * order, and numbers whose correlation with the other ones is above 0.999 in size; of many rows, in some of them, evenly
 * spaced.
 */
final class RepeatedColumns {
    private static final double NEARLY_LINEAR = 0.999;
    private static final int MOST_ROWS = 20_000;
    private static final int ENOUGH_ROWS = 1_000;
    private static final int MOST_COLUMNS = 1_000;
    private static final int LEAST_ROWS = 20;

    private RepeatedColumns() {}

    /** Returns each column that repeats an earlier one, beside that one; columns of one value repeat none. */
    static List<Suspicion> in(List<Column> columns) {
        Map<Key, Integer> seen = new HashMap<>();
        int[] first = new int[columns.size()];
        for (int j = 0; j < first.length; j++) {
            int own = j;
            int[] codes = some(columns.get(j)).match(RepeatedColumns::ranks, RepeatedColumns::firstComeCodes);
            first[j] = codes.length == 0 ? j : seen.computeIfAbsent(Key.of(codes), k -> own);
        }
        nearlyLinear(columns, first);
        List<Suspicion> found = new ArrayList<>();
        for (int j = 0; j < first.length; j++) {
            if (first[j] != j) {
                found.add(new Suspicion(
                        Kind.REPEATS_COLUMN,
                        columns.get(j).name(),
                        columns.get(j).rows() - columns.get(j).countMissing(),
                        0,
                        columns.get(first[j]).name()));
            }
        }
        return found;
    }

    /** Two hashes of 64 bits of a sequence, in place of the sequence. */
    private record Key(long one, long other) {
        static Key of(int[] codes) {
            long one = codes.length;
            long other = ~one;
            for (int code : codes) {
                one = (one ^ code) * 0x9E3779B97F4A7C15L;
                one ^= one >>> 29;
                other = (other ^ code) * 0xBF58476D1CE4E5B9L;
                other ^= other >>> 31;
            }
            return new Key(one, other);
        }
    }

    /** A column, or of a long one some rows, evenly spaced. */
    private static Column some(Column column) {
        int step = (column.rows() + MOST_ROWS - 1) / MOST_ROWS;
        return step <= 1
                ? column
                : column.select(IntStream.range(0, column.rows())
                        .filter(i -> i % step == 0)
                        .toArray());
    }

    /** Levels numbered as they first come; of numbers that recur, so that codes and labels correspond. None of one value. */
    private static int[] firstComeCodes(Categories column) {
        int[] number = new int[column.levels().size()];
        Arrays.fill(number, -1);
        int[] codes = new int[column.rows()];
        int next = 0;
        int present = 0;
        for (int i = 0; i < codes.length; i++) {
            codes[i] = -1;
            if (!column.missing(i)) {
                int level = column.code(i);
                number[level] = number[level] < 0 ? next++ : number[level];
                codes[i] = number[level];
                present++;
            }
        }
        return telling(codes, next, present) && next <= present / 2 ? codes : new int[0];
    }

    private static boolean telling(int[] codes, int distinct, int present) {
        return distinct > 1 && present >= LEAST_ROWS && codes.length > 0;
    }

    /** Ranks of numbers, from the end that comes first; as they first come where they recur. */
    private static int[] ranks(Numbers column) {
        double[] values = new double[column.rows()];
        Arrays.setAll(values, column::get);
        int[] order = WeightedSort.order(values);
        int[] ranks = new int[values.length];
        Arrays.fill(ranks, -1);
        int rank = -1;
        double before = Double.NaN;
        for (int row : order) {
            rank += values[row] == before ? 0 : 1;
            before = values[row];
            ranks[row] = rank;
        }
        int distinct = rank + 1;
        if (!telling(ranks, distinct, order.length)) {
            return new int[0];
        }
        if (distinct <= order.length / 2) {
            int[] number = new int[distinct];
            Arrays.fill(number, -1);
            int next = 0;
            for (int i = 0; i < ranks.length; i++) {
                if (ranks[i] >= 0) {
                    number[ranks[i]] = number[ranks[i]] < 0 ? next++ : number[ranks[i]];
                    ranks[i] = number[ranks[i]];
                }
            }
            return ranks;
        }
        int start = Arrays.stream(ranks).filter(r -> r >= 0).findFirst().orElse(0);
        if (2 * start > rank) {
            for (int i = 0; i < ranks.length; i++) {
                ranks[i] = ranks[i] < 0 ? -1 : rank - ranks[i];
            }
        }
        return ranks;
    }

    private static void nearlyLinear(List<Column> columns, int[] first) {
        int[] numbers = IntStream.range(0, columns.size())
                .filter(j -> first[j] == j && columns.get(j).match(n -> true, c -> false))
                .limit(MOST_COLUMNS)
                .toArray();
        double[][] centred = new double[columns.size()][];
        for (int j : numbers) {
            centred[j] = columns.get(j).match(RepeatedColumns::standardised, c -> new double[0]);
        }
        for (int b = 0; b < numbers.length; b++) {
            for (int a = 0; a < b && first[numbers[b]] == numbers[b]; a++) {
                double[] x = centred[numbers[a]];
                double[] y = centred[numbers[b]];
                if (x.length > 0 && y.length > 0 && Math.abs(product(x, y)) > NEARLY_LINEAR) {
                    first[numbers[b]] = first[numbers[a]];
                }
            }
        }
    }

    /** Some of the numbers, evenly spaced, with mean 0 and length 1, missing ones at 0; none of one value or few rows. */
    private static double[] standardised(Numbers column) {
        int step = Math.max(1, column.rows() / ENOUGH_ROWS);
        double[] some = IntStream.range(0, column.rows())
                .filter(i -> i % step == 0)
                .mapToDouble(column::get)
                .toArray();
        double[] present = Arrays.stream(some).filter(v -> !Double.isNaN(v)).toArray();
        double mean = Arrays.stream(present).average().orElse(0);
        double length = Math.sqrt(
                Arrays.stream(present).map(v -> (v - mean) * (v - mean)).sum());
        if (present.length < LEAST_ROWS || !(length > 0) || Double.isInfinite(length)) {
            return new double[0];
        }
        for (int i = 0; i < some.length; i++) {
            some[i] = Double.isNaN(some[i]) ? 0 : (some[i] - mean) / length;
        }
        return some;
    }

    private static double product(double[] x, double[] y) {
        double sum = 0;
        for (int i = 0; i < x.length; i++) {
            sum += x[i] * y[i];
        }
        return sum;
    }
}
