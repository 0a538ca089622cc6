package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * The influences of rows, or of groups, on a score.
 *
 * <p>Definition: I_i = (n − 1)/n·(θ − θ without row i), which is (d_i − mean d)/n where the score θ is the mean of d over n
 * rows; of a group, the sum of its rows'. Where a score does not exist without a row, the influence of the row is not known,
 * and taken to be 0. The class of a group is that of most of its rows, the first among equals.
 */
public final class UnitInfluences {
    private final Metric metric;
    private final int[] unitOf;
    private final int[] classOf;
    private final int classes;

    /** Prepares for the rows of a data set. */
    public UnitInfluences(Metric metric, DataSet data) {
        this.metric = metric;
        this.classes = data.classes().count();
        Optional<Categories> groups = data.groups();
        this.unitOf = IntStream.range(0, data.rows())
                .map(i -> groups.isPresent() ? groups.get().code(i) : i)
                .toArray();
        int[][] counts = new int[groups.map(g -> g.levels().size()).orElse(data.rows())][classes];
        for (int i = 0; i < data.rows(); i++) {
            counts[unitOf[i]][data.target(i)]++;
        }
        this.classOf = Arrays.stream(counts)
                .mapToInt(own -> IntStream.range(0, classes).reduce(0, (best, c) -> own[c] > own[best] ? c : best))
                .toArray();
    }

    /** Returns the number of rows, or groups. */
    public int units() {
        return classOf.length;
    }

    /** Returns the influence of each row or group on the score of some outcomes; 0 of those that were not tested. */
    public double[] of(Outcomes outcomes) {
        double score = metric.score(outcomes);
        double[] without = metric.scorer(outcomes).withoutEach();
        double n = without.length;
        double[] influences = new double[units()];
        for (int i = 0; i < without.length; i++) {
            double own = (n - 1) / n * (score - without[i]);
            influences[unitOf[outcomes.row(i)]] += Double.isNaN(own) ? 0 : own;
        }
        return influences;
    }

    /** Returns which rows or groups were tested, class by class. */
    public ByClass tested(Outcomes outcomes) {
        int[] own = new int[units()];
        Arrays.fill(own, -1);
        for (int i = 0; i < outcomes.size(); i++) {
            int unit = unitOf[outcomes.row(i)];
            own[unit] = classOf[unit];
        }
        return new ByClass(own, classes);
    }

    /** Rows or groups by class; those that were not tested have none. */
    public static final class ByClass {
        private final int[] classOf;
        private final int[] sizes;

        private ByClass(int[] classOf, int classes) {
            this.classOf = classOf;
            this.sizes = new int[classes];
            for (int c : classOf) {
                if (c >= 0) {
                    sizes[c]++;
                }
            }
        }

        /** Returns how many there are of a class. */
        public int size(int c) {
            return sizes[c];
        }

        /** Returns the mean of each class, 0 where there is none of it. */
        public double[] means(double[] values) {
            double[] means = new double[sizes.length];
            for (int u = 0; u < values.length; u++) {
                if (classOf[u] >= 0) {
                    means[classOf[u]] += values[u];
                }
            }
            for (int c = 0; c < means.length; c++) {
                means[c] /= Math.max(1, sizes[c]);
            }
            return means;
        }

        /**
         * Returns deviations from the class means, times √(n_c/(n_c − 1)): the sum of products of two of them is
         * Σ_c n_c/(n_c − 1)·Σ of the products of deviations.
         */
        public double[] deviations(double[] values) {
            double[] means = means(values);
            double[] deviations = new double[values.length];
            for (int u = 0; u < values.length; u++) {
                int c = classOf[u];
                if (c >= 0 && sizes[c] > 1) {
                    deviations[u] = (values[u] - means[c]) * Math.sqrt(sizes[c] / (sizes[c] - 1.0));
                }
            }
            return deviations;
        }
    }
}
