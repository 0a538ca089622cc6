package keenfold.core.classify.svm;

import java.util.Arrays;
import keenfold.core.classify.Products;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.SupportVectors;

/**
 * The kernel values of all pairs of rows, made row by row as they are asked for; of many rows those asked for longest ago are
 * forgotten, and made anew.
 */
final class KernelRows {
    private static final int BLOCK = 1024;
    private static final int MOST_VALUES = 1 << 24;

    private final Svm.Kernel kernel;
    private final double[][] x;
    private final double[][] columns;
    private final double[] squares;
    private final double[][] made;
    private final int[] kept;
    private final int[] placeOf;
    private final long[] asked;
    private long clock;
    private int free;

    /** @param x one array per row, columns scaled by the kernel's width */
    KernelRows(Svm.Kernel kernel, double[][] x) {
        this(kernel, x, MOST_VALUES);
    }

    /** @param most how many values are kept, about */
    KernelRows(Svm.Kernel kernel, double[][] x, int most) {
        this.kernel = kernel;
        this.x = x;
        this.columns = new double[x[0].length][x.length];
        for (int i = 0; i < x.length; i++) {
            for (int j = 0; j < columns.length; j++) {
                columns[j][i] = x[i][j];
            }
        }
        this.squares = squares(x);
        this.placeOf = new int[x.length];
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
            fill(i, values);
            made[i] = values;
            kept[place] = i;
            placeOf[i] = place;
        }
        asked[placeOf[i]] = ++clock;
        return made[i];
    }

    private int oldest() {
        if (free < kept.length) {
            return free++;
        }
        int oldest = 0;
        for (int k = 1; k < asked.length; k++) {
            oldest = asked[k] < asked[oldest] ? k : oldest;
        }
        return oldest;
    }

    /** In blocks, which stay in the cache from the products to the kernel. */
    private void fill(int i, double[] values) {
        double[] own = x[i];
        for (int from = 0; from < values.length; from += BLOCK) {
            int to = Math.min(values.length, from + BLOCK);
            Arrays.fill(values, from, to, 0);
            Products.combine(columns, own, values, from, to);
            kernel.ofAll(values, squares[i], squares, from, to);
        }
    }
}
