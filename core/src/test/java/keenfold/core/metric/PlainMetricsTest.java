package keenfold.core.metric;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.metric.catalog.MetricName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Metrics of several classes and folds, counted the plain way. */
class PlainMetricsTest {
    private static final Classes THREE = new Classes(List.of("a", "b", "c"), 2);

    private static Metric metric(String name) {
        return MetricName.parse(name).bind(THREE, new int[] {20, 15, 10});
    }

    private static Outcomes random(long seed) {
        RandomSource chance = new Seed(seed).chance();
        List<Outcomes> folds = new ArrayList<>();
        for (int f = 0; f < 3; f++) {
            int n = 12 + f;
            int[] actual = new int[n];
            double[] p = new double[3 * n];
            for (int i = 0; i < n; i++) {
                actual[i] = i < 3 ? i : chance.below(3);
                p[3 * i] = chance.below(5) / 8.0;
                p[3 * i + 1] = chance.below(4) / 8.0;
                p[3 * i + 2] = 1 - p[3 * i] - p[3 * i + 1];
            }
            folds.add(Outcomes.of(3, f, IntStream.range(0, n).toArray(), actual, p));
        }
        return Outcomes.join(folds);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4})
    void aucOfPairsCountsPairsOfEachFold(long seed) {
        Outcomes o = random(seed);
        double sum = 0;
        for (int a = 0; a < 3; a++) {
            for (int b = 0; b < 3; b++) {
                if (a != b) {
                    sum += pairs(o, a, b) / 6;
                }
            }
        }
        assertThat(metric("auc-pairs").score(o)).isCloseTo(sum, within(1e-14));
    }

    /** Share of pairs of a fold in which the row of class a has the higher probability of class a. */
    private static double pairs(Outcomes o, int a, int b) {
        double concordant = 0;
        double all = 0;
        for (int i = 0; i < o.size(); i++) {
            for (int j = 0; j < o.size(); j++) {
                if (o.fold(i) == o.fold(j) && o.actual(i) == a && o.actual(j) == b) {
                    double more = o.probability(i, a) - o.probability(j, a);
                    concordant += more > 0 ? 1 : more == 0 ? 0.5 : 0;
                    all++;
                }
            }
        }
        return concordant / all;
    }

    @ParameterizedTest
    @ValueSource(longs = {5, 6})
    void calibrationErrorSumsBins(long seed) {
        Outcomes o = random(seed);
        double[] byClass = new double[3];
        for (int c = 0; c < 3; c++) {
            double[] bins = new double[10];
            for (int i = 0; i < o.size(); i++) {
                int bin = (int) Math.min(9, Math.floor(10 * o.probability(i, c)));
                bins[bin] += o.probability(i, c) - (o.actual(i) == c ? 1 : 0);
            }
            for (double bin : bins) {
                byClass[c] += Math.abs(bin) / o.size();
            }
        }
        assertThat(metric("calibration-error").score(o))
                .isCloseTo((byClass[0] + byClass[1] + byClass[2]) / 3, within(1e-14));
        assertThat(metric("calibration-error:class=b").score(o)).isCloseTo(byClass[1], within(1e-14));
        assertThat(metric("calibration-error:shares").score(o))
                .isCloseTo((20 * byClass[0] + 15 * byClass[1] + 10 * byClass[2]) / 45, within(1e-14));
    }

    /** One class of several, from the matrix of all of them. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "recall",
                "precision",
                "specificity",
                "npv",
                "f1",
                "f-beta=2",
                "true-positives",
                "false-negatives"
            })
    void oneClassIsAgainstAllOthers(String name) {
        for (long seed = 7; seed < 12; seed++) {
            Outcomes o = random(seed);
            Confusion m = Confusion.of(o);
            double tp = m.at(1, 1);
            double fn = m.actual(1) - tp;
            double fp = m.predicted(1) - tp;
            double tn = m.total() - tp - fn - fp;
            double expected =
                    switch (name) {
                        case "recall" -> tp / (tp + fn);
                        case "precision" -> tp / (tp + fp);
                        case "specificity" -> tn / (tn + fp);
                        case "npv" -> tn / (tn + fn);
                        case "f1" -> 2 * tp / (2 * tp + fp + fn);
                        case "f-beta=2" -> 5 * tp / (5 * tp + 4 * fn + fp);
                        case "true-positives" -> tp;
                        default -> fn;
                    };
            Metric metric = metric(name + ":class=b");
            assertThat(metric.score(o)).isCloseTo(expected, within(1e-14));
            assertThat(metric.name()).isEqualTo(name + ":class=b");
            assertThat(metric.byLabels()).isTrue();
        }
    }

    @Test
    void rowsThatShareAWeightMayShareItsArray() {
        Outcomes o = random(13);
        int[][] apart = new int[14][];
        int[][] shared = new int[14][];
        int[] two = {2, 0, 1};
        for (int i = 0; i < apart.length; i++) {
            apart[i] = two.clone();
            shared[i] = two;
        }
        for (String name : List.of("auc-pairs", "partial-auc=0.2", "brier-skill", "f1", "kappa", "average-precision")) {
            double[] a = new double[3];
            double[] b = new double[3];
            metric(name).scorer(o).score(CaseWeights.of(apart, 3), a);
            metric(name).scorer(o).score(CaseWeights.of(shared, 3), b);
            assertThat(a).as(name).isEqualTo(b);
            assertThat(a[1]).as("no row at all").isNaN();
            assertThat(a[0]).as("twice everything").isCloseTo(a[2], within(1e-12));
        }
    }
}
