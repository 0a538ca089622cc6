package keenfold.core.classify.tree;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Training;

/**
 * Number columns of training rows in at most 256 bins each, one byte a value.
 *
 * <p>A column of at most {@code most} distinct values has one bin for each, so that nothing is lost; any other is cut at the
 * weighted quantiles j/most of the training rows (a bin holds what lies above one edge and up to the next, equal edges
 * count once).
 */
public final class Binned {
    /** The most bins of a column. */
    public static final int MOST = 256;

    private final int rows;
    private final byte[][] codes;
    private final double[][] low;
    private final double[][] high;

    private Binned(int rows, int columns) {
        this.rows = rows;
        this.codes = new byte[columns][rows];
        this.low = new double[columns][];
        this.high = new double[columns][];
    }

    /** Refuses a number of bins that a byte cannot tell apart. */
    public static void check(int bins) {
        Checks.that(bins >= 2 && bins <= MOST, "bins = %d: expected 2 to %d", bins, MOST);
    }

    /** Bins the number columns of training rows. */
    public static Binned of(Training training, int most) {
        double[][] x = Training.columns(training.table());
        double[] weights = training.weights();
        Binned binned = new Binned(training.rows(), x.length);
        for (int j = 0; j < x.length; j++) {
            binned.bin(j, x[j], weights, most);
        }
        return binned;
    }

    private void bin(int j, double[] x, double[] weights, int most) {
        double[] distinct = distinct(x, most);
        double[] edges = distinct.length > 0 ? Arrays.copyOf(distinct, distinct.length - 1) : edges(x, weights, most);
        low[j] = new double[edges.length + 1];
        high[j] = new double[edges.length + 1];
        Arrays.fill(low[j], Double.POSITIVE_INFINITY);
        Arrays.fill(high[j], Double.NEGATIVE_INFINITY);
        Places places = new Places(x, edges);
        for (int i = 0; i < x.length; i++) {
            int bin = places.of(x[i]);
            codes[j][i] = (byte) bin;
            low[j][bin] = Math.min(low[j][bin], x[i]);
            high[j][bin] = Math.max(high[j][bin], x[i]);
        }
    }

    /** The distinct values, rising; none if there are more than {@code most}. */
    private static double[] distinct(double[] x, int most) {
        long[] table = new long[4 * MOST];
        boolean[] taken = new boolean[table.length];
        double[] found = new double[most];
        int count = 0;
        for (double value : x) {
            // 0.0 turns −0 into 0, which is the same number.
            long bits = Double.doubleToRawLongBits(value + 0.0);
            int at = (int) ((bits * 0x9E3779B97F4A7C15L) >>> (Long.SIZE - 10));
            while (taken[at] && table[at] != bits) {
                at = (at + 1) & (table.length - 1);
            }
            if (!taken[at]) {
                if (count == most) {
                    return new double[0];
                }
                taken[at] = true;
                table[at] = bits;
                found[count++] = value + 0.0;
            }
        }
        double[] sorted = Arrays.copyOf(found, count);
        Arrays.sort(sorted);
        return sorted;
    }

    /**
     * The inner edges: the values at which the weight so far first reaches j/most of the whole, the greatest value left out.
     * Only the values around an edge are sorted.
     */
    private static double[] edges(double[] x, double[] weights, int most) {
        Places even = new Places(x, new double[0]);
        double[] sums = new double[even.cells()];
        int[] counts = new int[even.cells()];
        double total = 0;
        for (int i = 0; i < x.length; i++) {
            int cell = even.cell(x[i]);
            sums[cell] += weights[i];
            counts[cell]++;
            total += weights[i];
        }
        int[] wanted = new int[even.cells()];
        Arrays.fill(wanted, -1);
        List<int[]> cells = new ArrayList<>();
        double before = 0;
        int next = 1;
        for (int c = 0; c < sums.length; c++) {
            if (counts[c] > 0 && next < most && before + sums[c] >= total * next / most) {
                wanted[c] = cells.size();
                cells.add(new int[counts[c]]);
                while (next < most && before + sums[c] >= total * next / most) {
                    next++;
                }
            }
            before += sums[c];
        }
        int[] filled = new int[cells.size()];
        for (int i = 0; i < x.length; i++) {
            int own = wanted[even.cell(x[i])];
            if (own >= 0) {
                cells.get(own)[filled[own]++] = i;
            }
        }
        double greatest = Double.NEGATIVE_INFINITY;
        for (double value : x) {
            greatest = Math.max(greatest, value);
        }
        double[] edges = new double[most];
        int count = 0;
        double sum = 0;
        next = 1;
        for (int c = 0; c < sums.length; c++) {
            if (wanted[c] < 0) {
                sum += sums[c];
                continue;
            }
            int[] rows = cells.get(wanted[c]);
            double[] values = Arrays.stream(rows).mapToDouble(i -> x[i]).toArray();
            int[] order = WeightedSort.order(values);
            for (int k = 0; k < order.length; k++) {
                double value = values[order[k]];
                sum += weights[rows[order[k]]];
                boolean last = k + 1 == order.length || values[order[k + 1]] > value;
                if (last && next < most && sum >= total * next / most) {
                    while (next < most && sum >= total * next / most) {
                        next++;
                    }
                    if (value < greatest) {
                        edges[count++] = value;
                    }
                }
            }
        }
        return Arrays.copyOf(edges, count);
    }

    /** Finds the bin of a value by the even cell that it falls into, and the few edges within that cell. */
    private static final class Places {
        private static final int MOST_CELLS = 1 << 14;

        private final int cells;
        private final double least;
        private final double scale;
        private final double[] edges;
        private final int[] below;

        Places(double[] x, double[] edges) {
            double low = Double.POSITIVE_INFINITY;
            double high = Double.NEGATIVE_INFINITY;
            for (double value : x) {
                low = Math.min(low, value);
                high = Math.max(high, value);
            }
            this.cells = Math.max(64, Math.min(MOST_CELLS, Integer.highestOneBit(x.length)));
            this.below = new int[cells + 1];
            double by = cells / (high - low);
            this.least = low;
            // A span that leaves the numbers has one cell, in which all edges are.
            this.scale = by > 0 && by < Double.POSITIVE_INFINITY ? by : 0;
            this.edges = edges;
            for (double edge : edges) {
                below[cell(edge) + 1]++;
            }
            for (int c = 0; c < cells; c++) {
                below[c + 1] += below[c];
            }
        }

        int cells() {
            return cells;
        }

        int cell(double value) {
            return Math.min(cells - 1, (int) ((value - least) * scale));
        }

        /** How many edges lie below the value. */
        int of(double value) {
            int cell = cell(value);
            int from = below[cell];
            int to = below[cell + 1];
            while (from < to) {
                int middle = (from + to) >>> 1;
                if (edges[middle] < value) {
                    from = middle + 1;
                } else {
                    to = middle;
                }
            }
            return from;
        }
    }

    /** Returns the number of rows. */
    public int rows() {
        return rows;
    }

    /** Returns the number of columns. */
    public int columns() {
        return codes.length;
    }

    /** The number of bins of a column. */
    public int bins(int column) {
        return low[column].length;
    }

    /** The bin of each row, as an unsigned byte; not to be changed. */
    public byte[] codes(int column) {
        return codes[column];
    }

    double low(int column, int bin) {
        return low[column][bin];
    }

    double high(int column, int bin) {
        return high[column][bin];
    }

    /** A threshold midway between two bins, which keeps their values apart even if nothing lies between them. */
    public double threshold(int column, int left, int right) {
        double below = high[column][left];
        double above = low[column][right];
        double middle = below + (above - below) / 2;
        return middle < above ? middle : below;
    }
}
