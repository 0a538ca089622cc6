package keenfold.core.classify.discriminant;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/**
 * The sums of {@link Discriminant} over all rows, from which those of some rows are taken away.
 *
 * <p>Definition: with S the sum of x − m and P the sums of squares and products of x − m about a class's mean m over all n
 * rows, and s, q those of the rows held out, h of them: the mean of the rest is m + t, t = (S − s)/(n − h), and its sums about
 * that mean are P − q − (n − h)·tt'.
 */
final class DiscriminantSums implements FullDataFit {
    /** Above so many sums the memory is worth more than the time. */
    private static final long MOST_SUMS = 2_000_000;

    /** Nearly dependent columns enlarge what the difference has lost; the fit from the rows is for them. */
    private static final double LEAST_PIVOT = 1e-4;

    private final Discriminant classifier;
    private final Training all;
    private final int p;
    /** Each row less its class's center. */
    private final double[][] off;

    private final int[] present;
    private final double[] weights;
    private final double[][] center;
    private final double[][] sum;
    private final double[][][] products;

    private DiscriminantSums(Discriminant classifier, Training all, int[] present) {
        this.classifier = classifier;
        this.all = all;
        double[][] x = Training.columns(all.table());
        this.p = x.length;
        this.present = present;
        this.weights = all.classWeights();
        this.center = Discriminant.means(all, x, weights);
        this.sum = new double[weights.length][p];
        this.products = new double[weights.length][p][p];
        this.off = new double[all.rows()][p];
        for (int i = 0; i < all.rows(); i++) {
            for (int j = 0; j < p; j++) {
                off[i][j] = x[j][i] - center[all.target(i)][j];
            }
        }
        add(IntStream.range(0, all.rows()).toArray(), sum, products);
    }

    /** Returns the sums, unless they are too many. */
    static Optional<FullDataFit> of(Discriminant classifier, Training all) {
        long columns = all.table().columns().size();
        double[] weights = all.classWeights();
        int[] present =
                IntStream.range(0, weights.length).filter(c -> weights[c] > 0).toArray();
        return present.length < 2 || columns * columns * all.classes() > MOST_SUMS
                ? Optional.empty()
                : Optional.of(new DiscriminantSums(classifier, all, present));
    }

    /** Adds rows to sums about the classes' centers; of products, the lower triangle. */
    private void add(int[] rows, double[][] toSum, double[][][] toProducts) {
        for (int c : present) {
            int[] own = new int[rows.length + 1];
            int count = 0;
            for (int row : rows) {
                own[count] = row;
                count += all.target(row) == c ? 1 : 0;
            }
            double[] sums = toSum[c];
            double[][] to = toProducts[c];
            int i = 0;
            for (; i + 3 < count; i += 4) {
                double[] r0 = off[own[i]];
                double[] r1 = off[own[i + 1]];
                double[] r2 = off[own[i + 2]];
                double[] r3 = off[own[i + 3]];
                four(sums, p, r0, 1, r1, 1, r2, 1, r3, 1);
                for (int a = 0; a < p; a++) {
                    four(to[a], a + 1, r0, r0[a], r1, r1[a], r2, r2[a], r3, r3[a]);
                }
            }
            for (; i < count; i++) {
                double[] row = off[own[i]];
                for (int a = 0; a < p; a++) {
                    sums[a] += row[a];
                    for (int b = 0; b <= a; b++) {
                        to[a][b] += row[a] * row[b];
                    }
                }
            }
        }
    }

    /** Adds multiples of four rows: the sums are fetched and put back a fourth as often, and the loop makes vectors. */
    private static void four(
            double[] sums,
            int size,
            double[] r0,
            double by0,
            double[] r1,
            double by1,
            double[] r2,
            double by2,
            double[] r3,
            double by3) {
        for (int j = 0; j < size; j++) {
            sums[j] = sums[j] + by0 * r0[j] + by1 * r1[j] + by2 * r2[j] + by3 * r3[j];
        }
    }

    @Override
    public Optional<Model> without(int[] rows) {
        double[][] outSum = new double[weights.length][p];
        double[][][] outProducts = new double[weights.length][p][p];
        add(rows, outSum, outProducts);
        double[] left = weights.clone();
        for (int row : rows) {
            left[all.target(row)]--;
        }
        double[][] means = new double[weights.length][p];
        double[][][] about = new double[present.length][p][p];
        for (int k = 0; k < present.length; k++) {
            int c = present[k];
            double[] shift = new double[p];
            for (int j = 0; j < p; j++) {
                shift[j] = (sum[c][j] - outSum[c][j]) / left[c];
                means[c][j] = center[c][j] + shift[j];
            }
            for (int a = 0; a < p; a++) {
                for (int b = 0; b <= a; b++) {
                    double rest = products[c][a][b] - outProducts[c][a][b] - left[c] * shift[a] * shift[b];
                    about[k][a][b] = rest;
                    about[k][b][a] = rest;
                }
                double whole = products[c][a][a];
                if (!(about[k][a][a] >= LEAST_LEFT * whole) || Double.isInfinite(whole)) {
                    return Optional.empty();
                }
            }
        }
        if (Arrays.stream(present).anyMatch(c -> left[c] <= 0)
                || !(Arrays.stream(left).sum() > present.length)) {
            return Optional.empty();
        }
        try {
            Discriminant.Made made = classifier.model(weights.length, present, left, means, about);
            return made.left() >= LEAST_PIVOT ? Optional.of(made.model()) : Optional.empty();
        } catch (FitFailure e) {
            // The fit from the rows will say why, if it fails too.
            return Optional.empty();
        }
    }
}
