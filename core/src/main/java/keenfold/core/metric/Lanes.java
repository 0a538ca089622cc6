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

    /** to[l] += Σ weights[rows[i]][l] over i from {@code from} up to {@code end}, without it. */
    static void addRows(int[] to, int[][] weights, int[] rows, int from, int end) {
        int i = from;
        for (; i + ROWS <= end; i += ROWS) {
            addFour(to, weights[rows[i]], weights[rows[i + 1]], weights[rows[i + 2]], weights[rows[i + 3]]);
        }
        int left = end - i;
        if (left == 1) {
            add(to, weights[rows[i]]);
        } else if (left > 1) {
            addFew(to, weights[rows[i]], weights[rows[i + 1]], weights[rows[end - 1]], left);
        }
    }

    private static void addFew(int[] to, int[] a, int[] b, int[] c, int count) {
        if (count == 2) {
            for (int lane = 0; lane < to.length; lane++) {
                to[lane] = to[lane] + a[lane] + b[lane];
            }
        } else {
            for (int lane = 0; lane < to.length; lane++) {
                to[lane] = to[lane] + a[lane] + b[lane] + c[lane];
            }
        }
    }

    /** to[l] = Σ weights[rows[i]][l] over i from {@code from} up to {@code end}, without it, of two rows or more. */
    static void sumRows(int[] to, int[][] weights, int[] rows, int from, int end) {
        int[] a = weights[rows[from]];
        int[] b = weights[rows[from + 1]];
        if (end - from == 2) {
            sum(to, a, b);
        } else if (end - from == 3) {
            sum(to, a, b, weights[rows[from + 2]]);
        } else {
            sum(to, a, b, weights[rows[from + 2]], weights[rows[from + 3]]);
            addRows(to, weights, rows, from + ROWS, end);
        }
    }

    /** to[l] += Σ weights[rows[i]][l] over i from {@code from} up to {@code end}, without it. */
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

    private static void sum(int[] to, int[] a, int[] b) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] = a[lane] + b[lane];
        }
    }

    private static void sum(int[] to, int[] a, int[] b, int[] c) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] = a[lane] + b[lane] + c[lane];
        }
    }

    private static void sum(int[] to, int[] a, int[] b, int[] c, int[] d) {
        for (int lane = 0; lane < to.length; lane++) {
            to[lane] = a[lane] + b[lane] + c[lane] + d[lane];
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
