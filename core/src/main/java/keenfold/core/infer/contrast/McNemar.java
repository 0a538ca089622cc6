package keenfold.core.infer.contrast;

import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.infer.distribution.Special;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Variance;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * The exact test of two candidates' labels on the same rows, each tested once.
 *
 * <p>Definition: of the n rows of the first repeat, b are got right by the first candidate alone and c by the second alone;
 * p = min(1, 2·P(X ≤ min(b, c))), X binomial(b + c, ½). The difference is (b − c)/n, of accuracies; its variance
 * (b + c − (b − c)²/n)/n²; no interval is given.
 *
 * <p>Assumes rows independent and the fitted models fixed; it does not see what other training rows would have changed.
 *
 * <p>Reference: McNemar (1947), Psychometrika 12(2), doi:10.1007/BF02295996.
 */
public final class McNemar implements Tester {
    private final AlignedPredictions panel;
    private final double sign;

    /** @throws IllegalArgumentException if the metric is not a share of right or wrong labels, or rows are in groups */
    public McNemar(AlignedPredictions panel, Metric metric) {
        this.panel = panel;
        String name = metric.name();
        Checks.that(
                name.equals("accuracy") || name.equals("error"),
                "method mcnemar compares right and wrong labels: ask for --metric accuracy or error, not %s",
                name);
        Checks.that(
                panel.task().data().groups().isEmpty(),
                "method mcnemar takes rows for independent, but those of data set \"%s\" are in groups; use pivot",
                panel.task().data().name());
        this.sign = metric.higherIsBetter() ? 1 : -1;
    }

    /** Rows of one repeat that one of two candidates alone got right. */
    private record Discordant(int rows, int onlyFirst, int onlySecond) {
        static Discordant of(AlignedPredictions panel, int a, int b, int repeat) {
            Outcomes x = panel.parts(a).get(repeat);
            Outcomes y = panel.parts(b).get(repeat);
            int onlyFirst = 0;
            int onlySecond = 0;
            for (int i = 0; i < x.size(); i++) {
                boolean first = x.predicted(i) == x.actual(i);
                boolean second = y.predicted(i) == y.actual(i);
                onlyFirst += first && !second ? 1 : 0;
                onlySecond += second && !first ? 1 : 0;
            }
            return new Discordant(x.size(), onlyFirst, onlySecond);
        }
    }

    /** Returns the exact p-value of two candidates' labels in one repeat, 0-based; 1 where they are right on the same rows. */
    public static double p(AlignedPredictions panel, int a, int b, int repeat) {
        Discordant rows = Discordant.of(panel, a, b, repeat);
        return rows.onlyFirst + rows.onlySecond == 0 ? 1 : p(rows.onlyFirst, rows.onlySecond);
    }

    @Override
    public PairResult find(int a, int b, Pairing pairing) {
        Discordant rows = Discordant.of(panel, a, b, 0);
        int onlyFirst = rows.onlyFirst;
        int onlySecond = rows.onlySecond;
        double n = rows.rows;
        double difference = sign * (onlyFirst - onlySecond) / n;
        double both = onlyFirst + (double) onlySecond;
        double total = (both - n * difference * difference) / (n * n);
        Variance variance = new Variance(total, Double.NaN, total, Double.NaN, Double.NaN, Double.NaN);
        boolean spread = both > 0;
        return new PairResult(
                a,
                b,
                difference,
                variance,
                spread ? p(onlyFirst, onlySecond) : Double.NaN,
                PairResult.Bounds.none(),
                Optional.empty(),
                spread ? "" : "right and wrong on the same rows");
    }

    /** Two-sided exact p-value of b against c discordant rows. */
    static double p(int b, int c) {
        int n = b + c;
        int least = Math.min(b, c);
        // P(X <= k) of binomial(n, 1/2) is I_{1/2}(n - k, k + 1).
        double tail = least == n ? 1 : Special.beta(n - least, least + 1.0, 0.5);
        return Math.min(1, 2 * tail);
    }
}
