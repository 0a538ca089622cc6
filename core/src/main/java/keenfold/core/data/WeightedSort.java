package keenfold.core.data;

import java.util.Arrays;

/** Order and order statistics of numbers, without boxing. */
public final class WeightedSort {
    private static final int RUN = 24;

    private WeightedSort() {}

    /**
     * Returns the positions of the values that are not NaN, in rising order of value, equal ones by position (0 and −0
     * are equal).
     *
     * <p>Sorts whole numbers whose upper bits are those of a value, and whose lower bits are its position: the library has
     * fast code for these, in vector instructions where Java and processor have them. Values that differ in the bits that
     * gave way alone are merged afterwards. The lowest value, which often is that of most rows, need not be sorted.
     * O(n log n) time, 16·n bytes.
     */
    public static int[] order(double[] values) {
        double lowest = Double.POSITIVE_INFINITY;
        for (double v : values) {
            lowest = v < lowest ? v : lowest;
        }
        long positions = (Long.highestOneBit(Math.max(1, values.length - 1L)) << 1) - 1;
        long[] keys = new long[values.length];
        int[] order = new int[values.length];
        int low = 0;
        int others = 0;
        for (int i = 0; i < values.length; i++) {
            if (values[i] == lowest) {
                order[low++] = i;
            } else if (!Double.isNaN(values[i])) {
                keys[others++] = (rising(values[i]) & ~positions) | i;
            }
        }
        Arrays.sort(keys, 0, others);
        int n = low + others;
        boolean sorted = true;
        for (int i = low; i < n; i++) {
            order[i] = (int) (keys[i - low] & positions);
            sorted &= i == 0 || values[order[i - 1]] <= values[order[i]];
        }
        int[] all = n == values.length ? order : Arrays.copyOf(order, n);
        return sorted ? all : merged(values, all);
    }

    /** A whole number that rises with a value that is not NaN; −0 counts as 0. */
    private static long rising(double value) {
        long bits = Double.doubleToRawLongBits(value + 0.0);
        return bits ^ ((bits >> (Long.SIZE - 1)) & Long.MAX_VALUE);
    }

    /** Bottom-up merge sort over insertion-sorted runs; keeps the order of equal values. */
    private static int[] merged(double[] values, int[] order) {
        int n = order.length;
        for (int from = 0; from < n; from += RUN) {
            insertionSort(values, order, from, Math.min(n, from + RUN));
        }
        int[] from = order;
        int[] to = new int[n];
        for (int width = RUN; width < n; width *= 2) {
            for (int at = 0; at < n; at += 2 * width) {
                merge(values, from, to, at, Math.min(n, at + width), Math.min(n, at + 2 * width));
            }
            int[] swap = from;
            from = to;
            to = swap;
        }
        return from;
    }

    private static void insertionSort(double[] values, int[] order, int from, int to) {
        for (int i = from + 1; i < to; i++) {
            int moved = order[i];
            double key = values[moved];
            int j = i;
            while (j > from && values[order[j - 1]] > key) {
                order[j] = order[j - 1];
                j--;
            }
            order[j] = moved;
        }
    }

    private static void merge(double[] values, int[] in, int[] out, int from, int middle, int to) {
        int a = from;
        int b = middle;
        for (int i = from; i < to; i++) {
            boolean left = b >= to || (a < middle && values[in[a]] <= values[in[b]]);
            out[i] = left ? in[a++] : in[b++];
        }
    }

    /**
     * Returns the weighted median: the value at half of the total weight, the mean of two neighbours where the half falls
     * exactly between them; NaN values are left out, NaN if nothing is left.
     */
    public static double median(double[] values, double[] weights) {
        int[] order = order(values);
        if (order.length == 0) {
            return Double.NaN;
        }
        double total = 0;
        for (int i : order) {
            total += weights[i];
        }
        double half = total / 2;
        double sum = 0;
        for (int i = 0; i < order.length; i++) {
            sum += weights[order[i]];
            if (sum > half) {
                return values[order[i]];
            }
            if (sum == half && i + 1 < order.length) {
                return values[order[i]] + (values[order[i + 1]] - values[order[i]]) / 2;
            }
        }
        return values[order[order.length - 1]];
    }
}
