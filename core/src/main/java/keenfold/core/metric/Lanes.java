package keenfold.core.metric;

/**
 * Sums of several draws at once. Plain loops over whole arrays, four rows to a pass: the compiler turns these into vector
 * instructions. Each lane is added up in the order of the rows, whatever the number of rows to a pass.
 */
final class Lanes {
    private static final int ROWS = 4;

    private Lanes() {}

    /** to[l] += w[l]. */
    static void add(double[] to, double[] w) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] += w[lane];
        }
    }

    /** to[l] += factor·w[l]. */
    static void add(double[] to, double[] w, double factor) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] += w[lane] * factor;
        }
    }

    /** to[l] += a[l]·b[l]. */
    static void addProduct(double[] to, double[] a, double[] b) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] += a[lane] * b[lane];
        }
    }

    /** to[l] += w[l]. */
    static void add(int[] to, int[] w) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] += w[lane];
        }
    }

    /** to[l] += Σ weights[rows[i]][l] over from ≤ i < end. */
    static void addRows(int[] to, int[][] weights, int[] rows, int from, int end) {
        int i = from;
        for (; i + ROWS <= end; i += ROWS) {
            addFour(to, weights[rows[i]], weights[rows[i + 1]], weights[rows[i + 2]], weights[rows[i + 3]]);
        }
        for (; i < end; i++) {
            add(to, weights[rows[i]]);
        }
    }

    /** to[l] += Σ weights[rows[i]][l] over from ≤ i < end. */
    static void addRows(double[] to, double[][] weights, int[] rows, int from, int end) {
        for (int i = from; i < end; i++) {
            add(to, weights[rows[i]]);
        }
    }

    /** to[l] += Σ factors[i]·weights[rows[i]][l] over all i. */
    static void addRows(double[] to, double[][] weights, int[] rows, double[] factors) {
        int i = 0;
        for (; i + ROWS <= rows.length; i += ROWS) {
            addFour(
                    to,
                    weights[rows[i]],
                    weights[rows[i + 1]],
                    weights[rows[i + 2]],
                    weights[rows[i + 3]],
                    factors[i],
                    factors[i + 1],
                    factors[i + 2],
                    factors[i + 3]);
        }
        for (; i < rows.length; i++) {
            add(to, weights[rows[i]], factors[i]);
        }
    }

    private static void addFour(int[] to, int[] a, int[] b, int[] c, int[] d) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] = to[lane] + a[lane] + b[lane] + c[lane] + d[lane];
        }
    }

    private static void addFour(
            double[] to, double[] a, double[] b, double[] c, double[] d, double fa, double fb, double fc, double fd) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] = to[lane] + a[lane] * fa + b[lane] * fb + c[lane] * fc + d[lane] * fd;
        }
    }
}
