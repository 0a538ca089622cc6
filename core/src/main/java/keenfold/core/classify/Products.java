package keenfold.core.classify;

import java.util.Arrays;
import keenfold.core.learned.FitFailure;

/** Products of columns: X'WX, X·b and X'r, where linear classifiers spend their time. */
public final class Products {
    /** Rows at a time: their part of some dozens of columns stays in the cache. */
    private static final int CHUNK = 1024;

    private static final int BLOCK = 3;

    /** From so many columns on, sums go along the rows, several columns at once. */
    private static final int WIDE = 32;

    private static final int FEW_ROWS = 256;

    /** More values are not kept a second time. */
    private static final long MOST_COPIED = 1 << 22;

    private Products() {}

    /**
     * Adds Σᵢ wᵢ·x[a][i]·x[b][i] for all a and b up to a.
     *
     * <p>Of few columns, nine sums at a time share what they read; of many, the processor adds to several sums at once.
     * Each sum goes through the rows in a fixed order, so that it depends on its two columns, the weights and whether the
     * columns are many.
     *
     * @param x columns of n values
     * @param w n weights
     * @param to p·p sums, row after row, of which the lower triangle is added to
     */
    public static void add(double[][] x, double[] w, double[] to) {
        int p = x.length;
        int n = w.length;
        if (p >= WIDE) {
            addWide(x, w, to);
            return;
        }
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

    private static void addWide(double[][] x, double[] w, double[] to) {
        int p = x.length;
        double[][] lower = new double[p][];
        for (int a = 0; a < p; a++) {
            lower[a] = new double[a + 1];
        }
        for (int from = 0; from < w.length; from += FEW_ROWS) {
            FitFailure.ifInterrupted();
            int size = Math.min(FEW_ROWS, w.length - from);
            double[][] rows = rows(x, from, size);
            double[] none = new double[p];
            for (int i = 0; i < size; i += 4) {
                double[] r0 = rows[i];
                double[] r1 = i + 1 < size ? rows[i + 1] : none;
                double[] r2 = i + 2 < size ? rows[i + 2] : none;
                double[] r3 = i + 3 < size ? rows[i + 3] : none;
                double w0 = w[from + i];
                double w1 = i + 1 < size ? w[from + i + 1] : 0;
                double w2 = i + 2 < size ? w[from + i + 2] : 0;
                double w3 = i + 3 < size ? w[from + i + 3] : 0;
                for (int a = 0; a < p; a++) {
                    four(r0, r1, r2, r3, w0 * r0[a], w1 * r1[a], w2 * r2[a], w3 * r3[a], lower[a], 0, a + 1);
                }
            }
        }
        for (int a = 0; a < p; a++) {
            for (int b = 0; b <= a; b++) {
                to[a * p + b] += lower[a][b];
            }
        }
    }

    private static double[][] rows(double[][] x, int from, int size) {
        double[][] rows = new double[size][x.length];
        for (int j = 0; j < x.length; j++) {
            double[] column = x[j];
            for (int i = 0; i < size; i++) {
                rows[i][j] = column[from + i];
            }
        }
        return rows;
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

    /**
     * Returns Σ_j b_j·x_j for each row. Four columns at a time, each row by itself, so that the processor can do several
     * rows at once.
     *
     * @param x columns of n values
     * @param b numbers, of which those from {@code first} on belong to the columns
     */
    public static double[] combination(double[][] x, double[] b, int first, int n) {
        double[] sum = new double[n];
        combine(x, b, first, sum, 0, n);
        return sum;
    }

    /**
     * Adds Σ_j b_j·x_j for some rows.
     *
     * @param to n sums, of which those from {@code from} to {@code end} are added to
     */
    public static void combine(double[][] x, double[] b, double[] to, int from, int end) {
        combine(x, b, 0, to, from, end);
    }

    /**
     * Adds Σ_j b_j·x_j for some rows.
     *
     * @param first where the numbers of the columns begin
     * @param to n sums, of which those from {@code from} to {@code end} are added to
     */
    public static void combine(double[][] x, double[] b, int first, double[] to, int from, int end) {
        int p = x.length;
        int j = 0;
        for (; j + 3 < p; j += 4) {
            int at = first + j;
            four(x[j], x[j + 1], x[j + 2], x[j + 3], b[at], b[at + 1], b[at + 2], b[at + 3], to, from, end);
        }
        for (; j < p; j++) {
            double by = b[first + j];
            double[] column = x[j];
            for (int i = from; i < end; i++) {
                to[i] += by * column[i];
            }
        }
    }

    private static void four(
            double[] x0,
            double[] x1,
            double[] x2,
            double[] x3,
            double b0,
            double b1,
            double b2,
            double b3,
            double[] sum,
            int from,
            int end) {
        for (int i = from; i < end; i++) {
            sum[i] += (b0 * x0[i] + b1 * x1[i]) + (b2 * x2[i] + b3 * x3[i]);
        }
    }

    /**
     * Adds Σᵢ a[u][i]·b[j][i] for all u and j. The sums go along whichever of both has more columns, so that the processor
     * adds to several at once.
     *
     * @param a m columns of at least {@code rows} values
     * @param b p columns of at least {@code rows} values
     * @param to the sums of u and j stand at {@code first + u·width + j}
     */
    public static void addRowSums(double[][] a, double[][] b, int rows, double[] to, int first, int width) {
        boolean alongB = b.length >= a.length;
        double[][] one = alongB ? a : b;
        double[][] lines = rows(alongB ? b : a, 0, rows);
        int length = alongB ? b.length : a.length;
        double[] sums = new double[length];
        for (int u = 0; u < one.length; u++) {
            Arrays.fill(sums, 0);
            addWeighted(lines, one[u], rows, sums);
            for (int j = 0; j < length; j++) {
                to[alongB ? first + u * width + j : first + j * width + u] += sums[j];
            }
        }
    }

    /** Adds rows, each times its number, four at a time. */
    private static void addWeighted(double[][] rows, double[] by, int count, double[] sums) {
        double[] none = new double[sums.length];
        for (int i = 0; i < count; i += 4) {
            four(
                    rows[i],
                    i + 1 < count ? rows[i + 1] : none,
                    i + 2 < count ? rows[i + 2] : none,
                    i + 3 < count ? rows[i + 3] : none,
                    by[i],
                    i + 1 < count ? by[i + 1] : 0,
                    i + 2 < count ? by[i + 2] : 0,
                    i + 3 < count ? by[i + 3] : 0,
                    sums,
                    0,
                    sums.length);
        }
    }

    /** Columns as they are summed with weights of their rows, again and again: many columns are kept row by row too. */
    public static final class Columns {
        private final double[][] x;
        private final double[][] rows;

        /** @param x p columns of n values */
        public Columns(double[][] x) {
            this.x = x;
            boolean copied = x.length >= WIDE && (long) x.length * x[0].length <= MOST_COPIED;
            this.rows = copied ? Products.rows(x, 0, x[0].length) : new double[0][];
        }

        /**
         * Returns Σᵢ r[c][i]·x[j][i] for all c and j, row after row of c.
         *
         * @param r m times n values
         * @return m·p sums
         */
        public double[] sums(double[][] r) {
            double[] out = new double[r.length * x.length];
            if (rows.length > 0) {
                wide(r, out);
            } else {
                narrow(r, out);
            }
            return out;
        }

        private void narrow(double[][] r, double[] out) {
            int m = r.length;
            int p = x.length;
            int n = r[0].length;
            double[] sums = new double[BLOCK * BLOCK];
            double[][] some = new double[BLOCK][];
            for (int from = 0; from < n; from += CHUNK) {
                int size = Math.min(CHUNK, n - from);
                for (int c = 0; c < m; c += BLOCK) {
                    for (int k = 0; k < BLOCK; k++) {
                        double[] own = r[Math.min(c + k, m - 1)];
                        some[k] = from == 0 && size == n ? own : Arrays.copyOfRange(own, from, from + size);
                    }
                    for (int j = 0; j < p; j += BLOCK) {
                        nine(some, x[j], x[Math.min(j + 1, p - 1)], x[Math.min(j + 2, p - 1)], from, size, sums);
                        for (int k = 0; k < BLOCK && c + k < m; k++) {
                            for (int l = 0; l < BLOCK && j + l < p; l++) {
                                out[(c + k) * p + j + l] += sums[k * BLOCK + l];
                            }
                        }
                    }
                }
            }
        }

        private void wide(double[][] r, double[] out) {
            int p = x.length;
            for (int c = 0; c < r.length; c++) {
                double[] sums = new double[p];
                addWeighted(rows, r[c], rows.length, sums);
                System.arraycopy(sums, 0, out, c * p, p);
            }
        }
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
