package keenfold.core.classify;

import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Training;

/**
 * Number columns of training rows in at most 256 bins each, one byte a value.
 *
 * <p>A column of at most {@code most} distinct values has one bin for each, so that nothing is lost; any other is cut at the
 * weighted quantiles j/most of the training rows (a bin holds what lies above one edge and up to the next, equal edges
 * count once).
 */
final class Binned {
    /** The most bins of a column. */
    static final int MOST = 256;

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

    /** Bins the number columns of training rows. */
    static Binned of(Training training, int most) {
        double[][] x = Training.columns(training.table());
        double[] weights = training.weights();
        Binned binned = new Binned(training.rows(), x.length);
        for (int j = 0; j < x.length; j++) {
            binned.bin(j, x[j], weights, most);
        }
        return binned;
    }

    private void bin(int j, double[] x, double[] weights, int most) {
        int[] order = WeightedSort.order(x);
        double[] lows = new double[Math.min(most, x.length)];
        double[] highs = new double[lows.length];
        boolean exact = distinct(x, order) <= most;
        double total = 0;
        for (double w : weights) {
            total += w;
        }
        int bin = -1;
        double sum = 0;
        boolean full = true;
        int next = 1;
        for (int i = 0; i < order.length; i++) {
            double value = x[order[i]];
            boolean fresh = i == 0 || value > x[order[i - 1]];
            if (fresh && (exact || full)) {
                bin++;
                lows[bin] = value;
            }
            codes[j][order[i]] = (byte) bin;
            highs[bin] = value;
            full = fresh ? false : full;
            sum += weights[order[i]];
            // An edge lies where the weight so far reaches a quantile; one value may reach several.
            while (next < most && sum >= total * next / most) {
                full = true;
                next++;
            }
        }
        low[j] = java.util.Arrays.copyOf(lows, bin + 1);
        high[j] = java.util.Arrays.copyOf(highs, bin + 1);
    }

    private static int distinct(double[] x, int[] order) {
        int distinct = 1;
        for (int i = 1; i < order.length; i++) {
            distinct += x[order[i]] > x[order[i - 1]] ? 1 : 0;
        }
        return distinct;
    }

    int rows() {
        return rows;
    }

    int columns() {
        return codes.length;
    }

    /** The number of bins of a column. */
    int bins(int column) {
        return low[column].length;
    }

    /** The bin of each row, as an unsigned byte; not to be changed. */
    byte[] codes(int column) {
        return codes[column];
    }

    double low(int column, int bin) {
        return low[column][bin];
    }

    double high(int column, int bin) {
        return high[column][bin];
    }

    /** A threshold midway between two bins, which keeps their values apart even if nothing lies between them. */
    double threshold(int column, int left, int right) {
        double below = high[column][left];
        double above = low[column][right];
        double middle = below + (above - below) / 2;
        return middle < above ? middle : below;
    }
}
