package keenfold.core.classify.svm;

import java.util.Arrays;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.SupportVectors;

/**
 * The kernel values of all pairs of rows, made row by row as they are asked for; of many rows those asked for longest ago are
 * forgotten, and made anew.
 */
final class KernelRows {
    private static final int MOST_VALUES = 1 << 23;

    private final Svm.Kernel kernel;
    private final double[][] x;
    private final double[] squares;
    private final double[][] made;
    private final int[] kept;
    private final long[] asked;
    private long clock;

    /** @param x one array per row, columns scaled by the kernel's width */
    KernelRows(Svm.Kernel kernel, double[][] x) {
        this(kernel, x, MOST_VALUES);
    }

    /** @param most how many values are kept, about */
    KernelRows(Svm.Kernel kernel, double[][] x, int most) {
        this.kernel = kernel;
        this.x = x;
        this.squares = squares(x);
        this.made = new double[x.length][];
        this.kept = new int[Math.min(x.length, Math.max(2, most / x.length))];
        this.asked = new long[kept.length];
        Arrays.fill(kept, -1);
    }

    static double[] squares(double[][] x) {
        return Arrays.stream(x).mapToDouble(row -> Vectors.dot(row, row)).toArray();
    }

    boolean isLinear() {
        return kernel.shape() == SupportVectors.Shape.LINEAR;
    }

    int rows() {
        return x.length;
    }

    double[] x(int i) {
        return x[i];
    }

    /** The kernel of a row with itself. */
    double own(int i) {
        return kernel.of(squares[i], squares[i], squares[i]);
    }

    /** The kernel of a row with each row. The array is this object's own, and holds until the next call but one. */
    double[] row(int i) {
        if (made[i] == null) {
            int place = oldest();
            double[] values = kept[place] < 0 ? new double[x.length] : made[kept[place]];
            if (kept[place] >= 0) {
                made[kept[place]] = null;
            }
            fill(x[i], squares[i], values);
            made[i] = values;
            kept[place] = i;
            asked[place] = ++clock;
        } else if (kept.length < x.length) {
            asked[placeOf(i)] = ++clock;
        }
        return made[i];
    }

    private int oldest() {
        int oldest = 0;
        for (int k = 1; k < asked.length && kept[oldest] >= 0; k++) {
            oldest = kept[k] < 0 || asked[k] < asked[oldest] ? k : oldest;
        }
        return oldest;
    }

    private int placeOf(int i) {
        int place = 0;
        while (kept[place] != i) {
            place++;
        }
        return place;
    }

    private void fill(double[] of, double square, double[] values) {
        for (int j = 0; j < values.length; j++) {
            values[j] = kernel.of(Vectors.dot(of, x[j]), square, squares[j]);
        }
    }
}
