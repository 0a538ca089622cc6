package keenfold.core.classify;

import keenfold.core.learned.FitFailure;

/** Weighted sums of products of columns, X'WX: where linear classifiers spend their time. */
public final class Products {
    /** Rows at a time: their part of some dozens of columns stays in the cache. */
    private static final int CHUNK = 1024;

    private static final int BLOCK = 3;

    private Products() {}

    /**
     * Adds Σᵢ wᵢ·x[a][i]·x[b][i] for all a and b up to a.
     *
     * <p>Nine sums at a time share what they read; each of them goes through the rows in order within chunks of
     * fixed size, so that it depends on its two columns and the weights alone.
     *
     * @param x columns of n values
     * @param w n weights
     * @param to p·p sums, row after row, of which the lower triangle is added to
     */
    public static void add(double[][] x, double[] w, double[] to) {
        int p = x.length;
        int n = w.length;
        double[][] scaled = new double[BLOCK][CHUNK];
        double[] sums = new double[BLOCK * BLOCK];
        for (int from = 0; from < n; from += CHUNK) {
            FitFailure.ifInterrupted();
            int size = Math.min(CHUNK, n - from);
            for (int a = 0; a < p; a += BLOCK) {
                for (int k = 0; k < BLOCK; k++) {
                    double[] column = x[Math.min(a + k, p - 1)];
                    for (int i = 0; i < size; i++) {
                        scaled[k][i] = w[from + i] * column[from + i];
                    }
                }
                for (int b = 0; b <= a; b += BLOCK) {
                    // Beyond the last column the last one is taken again, and the sum dropped.
                    nine(scaled, x[b], x[Math.min(b + 1, p - 1)], x[Math.min(b + 2, p - 1)], from, size, sums);
                    for (int k = 0; k < BLOCK && a + k < p; k++) {
                        for (int l = 0; l < BLOCK && b + l <= a + k; l++) {
                            to[(a + k) * p + b + l] += sums[k * BLOCK + l];
                        }
                    }
                }
            }
        }
    }

    private static void nine(
            double[][] scaled, double[] x0, double[] x1, double[] x2, int from, int size, double[] sums) {
        double[] s0 = scaled[0];
        double[] s1 = scaled[1];
        double[] s2 = scaled[2];
        double t0 = 0;
        double t1 = 0;
        double t2 = 0;
        double t3 = 0;
        double t4 = 0;
        double t5 = 0;
        double t6 = 0;
        double t7 = 0;
        double t8 = 0;
        for (int i = 0; i < size; i++) {
            double a = s0[i];
            double b = s1[i];
            double c = s2[i];
            double u = x0[from + i];
            double v = x1[from + i];
            double z = x2[from + i];
            t0 += a * u;
            t1 += a * v;
            t2 += a * z;
            t3 += b * u;
            t4 += b * v;
            t5 += b * z;
            t6 += c * u;
            t7 += c * v;
            t8 += c * z;
        }
        sums[0] = t0;
        sums[1] = t1;
        sums[2] = t2;
        sums[3] = t3;
        sums[4] = t4;
        sums[5] = t5;
        sums[6] = t6;
        sums[7] = t7;
        sums[8] = t8;
    }

    /** Copies the lower triangle to the upper one. */
    public static void mirror(double[] square, int p) {
        for (int a = 0; a < p; a++) {
            for (int b = 0; b < a; b++) {
                square[b * p + a] = square[a * p + b];
            }
        }
    }
}
