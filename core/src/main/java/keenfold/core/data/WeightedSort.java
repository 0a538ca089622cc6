package keenfold.core.data;

/** Order and order statistics of numbers, without boxing. */
public final class WeightedSort {
    private static final int RUN = 24;

    private WeightedSort() {}

    /**
     * Returns the positions of the values that are not NaN, in rising order of value, equal ones by position (0 and −0
     * are equal).
     *
     * <p>Bottom-up merge sort over insertion-sorted runs; O(n log n) time, 8·n bytes.
     */
    public static int[] order(double[] values) {
        int n = 0;
        int[] order = new int[values.length];
        for (int i = 0; i < values.length; i++) {
            if (!Double.isNaN(values[i])) {
                order[n++] = i;
            }
        }
        order = java.util.Arrays.copyOf(order, n);
        for (int from = 0; from < n; from += RUN) {
            insertionSort(values, order, from, Math.min(n, from + RUN));
        }
        int[] spare = new int[n];
        for (int width = RUN; width < n; width *= 2) {
            for (int from = 0; from < n; from += 2 * width) {
                merge(values, order, spare, from, Math.min(n, from + width), Math.min(n, from + 2 * width));
            }
            int[] swap = order;
            order = spare;
            spare = swap;
        }
        return order;
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
