package keenfold.core.classify.neighbours;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * Which training rows can be among the nearest to a row by Euclidean distance: measured roughly in single precision, with a
 * bound of the error, so that none of them is missed.
 *
 * <p>With u = 2⁻²⁴, S the sum of the norms of the two rows (of the longest training row) and d the squared distance of p
 * columns, a squared distance in single precision is off by no more than E(d) = (p + 8)·u·d + 2.1·u·S·√d + 1.1·u²·S² + p·2⁻¹²⁰:
 * each difference is off by u·(|x| + |y|) for the rounding of the values and by u of its own, each square, product and sum by
 * u, and what falls below the least number by less than 2⁻¹²⁰. If A is the k-th smallest rough distance, the true k-th is
 * at most D = A + 2·E(A) + 4·E(0) + 4·(2.1·u·S)², and every row at or below it is roughly at most D + E(D).
 */
final class CloseRows {
    private static final double REACH = 2.1;
    private static final double UNIT = 0x1p-24;
    private static final double TINY = 0x1p-120;
    private static final double LARGEST = 1e15;

    /** A block of training rows is to stay in the cache while some rows are measured against it. */
    private static final int BLOCK_VALUES = 65_536;

    /** What one array can hold. */
    private static final long MOST_VALUES = Integer.MAX_VALUE - 8L;

    private static final int LEAST_WIDTH = 256;
    private static final int MOST_WIDTH = 2_048;
    private static final int ROOM = 256;
    private static final int MOST_STALE = 16;

    private final int rows;
    private final int columns;
    private final int width;
    private final double longest;
    /** Block by block, in it column by column: plain indexes are what the compiler turns into vectors. */
    private final float[][][] blocks;
    /** Row by row, for exact distances of few rows. */
    private final double[] exact;

    private CloseRows(double[][] x, int rows, double longest) {
        this.rows = rows;
        this.columns = x.length;
        this.width = Math.max(LEAST_WIDTH, Math.min(MOST_WIDTH, BLOCK_VALUES / x.length));
        this.longest = longest;
        this.exact = new double[rows * columns];
        for (int i = 0; i < rows; i++) {
            for (int c = 0; c < columns; c++) {
                exact[i * columns + c] = x[c][i];
            }
        }
        this.blocks = new float[(rows + width - 1) / width][columns][];
        for (int b = 0; b < blocks.length; b++) {
            int from = b * width;
            int size = Math.min(width, rows - from);
            for (int c = 0; c < columns; c++) {
                float[] values = new float[size];
                for (int j = 0; j < size; j++) {
                    values[j] = (float) x[c][from + j];
                }
                blocks[b][c] = values;
            }
        }
    }

    /** Returns the rows of some columns, unless there are too many, or a value is too large for single precision. */
    static Optional<CloseRows> of(double[][] x, int rows) {
        if ((long) rows * x.length > MOST_VALUES) {
            return Optional.empty();
        }
        double longest = 0;
        double[] squares = new double[rows];
        for (double[] column : x) {
            for (int i = 0; i < rows; i++) {
                if (!(Math.abs(column[i]) < LARGEST)) {
                    return Optional.empty();
                }
                squares[i] += column[i] * column[i];
            }
        }
        for (double s : squares) {
            longest = Math.max(longest, s);
        }
        return Optional.of(new CloseRows(x, rows, Math.sqrt(longest)));
    }

    /**
     * Returns, for each of some rows, the training rows, rising, among which all of its nearest are, those tied with the last
     * of them included; nothing for a row that is too far off for single precision.
     *
     * <p>Each block of training rows is measured against all of the rows while it is in the cache.
     *
     * @param some rows of one value per column
     * @param most how many are nearest, from 1 to the number of training rows
     */
    List<Optional<int[]>> near(double[][] some, int most) {
        Seeker[] seekers = Arrays.stream(some).map(row -> new Seeker(row, most)).toArray(Seeker[]::new);
        float[] far = new float[width];
        for (int b = 0; b < blocks.length; b++) {
            for (Seeker seeker : seekers) {
                if (seeker.measurable()) {
                    measure(blocks[b], seeker.row, far);
                    seeker.look(far, b * width, Math.min(width, rows - b * width));
                }
            }
        }
        return Arrays.stream(seekers).map(Seeker::found).toList();
    }

    private void measure(float[][] block, double[] row, float[] sum) {
        int size = block[0].length;
        Arrays.fill(sum, 0);
        int c = 0;
        for (; c + 3 < columns; c += 4) {
            four(sum, block, c, row, size);
        }
        for (; c < columns; c++) {
            float v = (float) row[c];
            float[] column = block[c];
            for (int j = 0; j < size; j++) {
                float off = column[j] - v;
                sum[j] += off * off;
            }
        }
    }

    /** Four columns at a time, so that each sum is fetched and put back a fourth as often. */
    private static void four(float[] sum, float[][] block, int c, double[] row, int size) {
        float[] c0 = block[c];
        float[] c1 = block[c + 1];
        float[] c2 = block[c + 2];
        float[] c3 = block[c + 3];
        float v0 = (float) row[c];
        float v1 = (float) row[c + 1];
        float v2 = (float) row[c + 2];
        float v3 = (float) row[c + 3];
        for (int j = 0; j < size; j++) {
            float a = c0[j] - v0;
            float b = c1[j] - v1;
            float d = c2[j] - v2;
            float e = c3[j] - v3;
            // From left to right: with the same terms in brackets the compiler makes no vectors of them.
            sum[j] = sum[j] + a * a + b * b + d * d + e * e;
        }
    }

    /** What one row has found so far. */
    private final class Seeker {
        private final double[] row;
        private final double reach;
        /** The k smallest, the largest of them on top; it only falls, and the limit with it. */
        private final float[] heap;

        private float limit = Float.POSITIVE_INFINITY;
        private int[] found = new int[ROOM];
        private float[] rough = new float[ROOM];
        private int count;
        private int stale;

        Seeker(double[] row, int most) {
            this.row = row;
            double norm = 0;
            for (double v : row) {
                norm += v * v;
            }
            // Not so for what is not a number either.
            boolean measurable = norm < LARGEST * LARGEST;
            this.reach = measurable ? REACH * UNIT * (Math.sqrt(norm) + longest) : Double.NaN;
            this.heap = new float[most];
            Arrays.fill(heap, Float.POSITIVE_INFINITY);
        }

        boolean measurable() {
            return !Double.isNaN(reach);
        }

        void look(float[] far, int from, int size) {
            for (int j = next(far, 0, size, limit); j < size; j = next(far, j + 1, size, limit)) {
                if (count == found.length) {
                    found = Arrays.copyOf(found, 2 * count);
                    rough = Arrays.copyOf(rough, 2 * count);
                }
                found[count] = from + j;
                rough[count++] = far[j];
                if (far[j] < heap[0]) {
                    heap[0] = far[j];
                    sink(heap, 0);
                    // An older limit only lets more through, to be looked at again in the end.
                    if (++stale >= MOST_STALE) {
                        limit = limit();
                        stale = 0;
                    }
                }
            }
            limit = limit();
        }

        Optional<int[]> found() {
            if (!measurable()) {
                return Optional.empty();
            }
            int kept = 0;
            for (int i = 0; i < count; i++) {
                if (rough[i] <= limit) {
                    found[kept++] = found[i];
                }
            }
            return Optional.of(Arrays.copyOf(found, kept));
        }

        private float limit() {
            double kth = heap[0];
            if (kth == Double.POSITIVE_INFINITY) {
                return Float.POSITIVE_INFINITY;
            }
            double further = kth + 2 * error(kth) + 4 * error(0) + 4 * reach * reach;
            return Math.nextUp((float) (further + error(further)));
        }

        private double error(double squared) {
            return (columns + 8) * UNIT * squared + reach * Math.sqrt(squared) + reach * reach / 4 + columns * TINY;
        }
    }

    /** Returns the squared distance of a row, summed column by column. */
    double squared(int j, double[] row) {
        double sum = 0;
        int from = j * columns;
        for (int c = 0; c < columns; c++) {
            double off = exact[from + c] - row[c];
            sum += off * off;
        }
        return sum;
    }

    /** The next of some values that is not above a limit: most are, and nothing else is done in this loop. */
    private static int next(float[] values, int from, int to, float limit) {
        int j = from;
        while (j < to && values[j] > limit) {
            j++;
        }
        return j;
    }

    private static void sink(float[] heap, int from) {
        int at = from;
        float moving = heap[at];
        int below = 2 * at + 1;
        while (below < heap.length) {
            if (below + 1 < heap.length && heap[below + 1] > heap[below]) {
                below++;
            }
            if (heap[below] <= moving) {
                break;
            }
            heap[at] = heap[below];
            at = below;
            below = 2 * at + 1;
        }
        heap[at] = moving;
    }
}
