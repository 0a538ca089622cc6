package keenfold.core.metric.catalog;

import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.metric.AveragePrecision;
import keenfold.core.metric.CalibrationMetric;
import keenfold.core.metric.ConcordantPairs;
import keenfold.core.metric.LossMetric;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.PairwiseAuc;
import keenfold.core.metric.PartialArea;
import keenfold.core.metric.RankMetric;
import keenfold.core.metric.TopMetric;
import keenfold.core.metric.catalog.Measure.Parameter;

/** Metrics of class probabilities. */
final class ProbabilityMeasures {
    private static final double CLIP = 1e-15;

    /** Area under the ROC curve. */
    static final Measure AUC = Measure.of(
                    "auc",
                    "share of pairs of one fold in which the row of the class has the higher probability; ties ½",
                    "Hanley and McNeil (1982), Radiology 143(1), doi:10.1148/radiology.143.1.7063747",
                    b -> new RankMetric(
                            b.name(),
                            new ConcordantPairs(),
                            b.weights().fixed(b.classes().count())))
            .ofProbabilities()
            .ofOneClass();

    /** Mean precision over the rows of a class. */
    static final Measure AVERAGE_PRECISION = Measure.of(
                    "average-precision",
                    "mean over the rows of the class of precision at the threshold that just finds each, within its fold; a guess"
                            + " has the share of the class; undefined without rows of the class",
                    "Davis and Goadrich (2006), Proc. 23rd Int. Conf. Machine Learning, doi:10.1145/1143844.1143874",
                    b -> new RankMetric(
                            b.name(),
                            new AveragePrecision(),
                            b.weights().fixed(b.classes().count())))
            .ofProbabilities()
            .ofOneClass();

    /** Mean negative logarithm of the probability of what came true. */
    static final Measure LOG_LOSS = Measure.of(
                    "log-loss",
                    "mean of −ln(probability given to the row's class), clipped at 1e-15; lower is better",
                    "Good (1952), J. R. Stat. Soc. B 14(1), doi:10.1111/j.2517-6161.1952.tb00104.x",
                    b -> new LossMetric(b.name(), -StrictMath.log(CLIP), ProbabilityMeasures::logLoss))
            .within("0 to 34.54")
            .lowerIsBetter()
            .ofProbabilities();

    /** Mean squared error of the probabilities. */
    static final Measure BRIER = Measure.of(
                    "brier",
                    "mean squared error of the probability of the positive class, or, of three or more classes, the sum over"
                            + " classes; lower is better",
                    "Brier (1950), Monthly Weather Review 78(1)",
                    b -> new LossMetric(
                            b.name(),
                            b.classes().count() == 2 ? 1 : 2,
                            (o, i) -> brier(o, i, b.classes().positive())))
            .within("0 to 1; of three or more classes 0 to 2")
            .lowerIsBetter()
            .ofProbabilities();

    /** Share of rows whose class is among the most probable. */
    static final Measure TOP_K = Measure.of(
                    "top-k",
                    "share of rows whose class is among the K most probable; among equals the first",
                    "Hand (1997), Construction and Assessment of Classification Rules, chapter 6",
                    b -> {
                        Checks.that(
                                b.number() < b.classes().count(),
                                "metric \"%s\": every row's class is among the %.0f most probable of %d; ask for fewer",
                                b.name(),
                                b.number(),
                                b.classes().count());
                        return new TopMetric(LabelMeasures.accuracy(b.name()), (int) b.number());
                    })
            .ofProbabilities()
            .with(new Parameter(
                    "K", "a whole number of at least 1", "top-k=2", n -> n >= 1 && n == Math.rint(n) && n < 1e6));

    /** Area under the ROC curve, pair of classes by pair. */
    static final Measure AUC_PAIRS = Measure.of(
                    "auc-pairs",
                    "auc of every pair of classes, by the probability of the one and of the other, averaged; does not depend on how"
                            + " frequent classes are; undefined if a class has no row",
                    "Hand and Till (2001), Mach. Learn. 45, doi:10.1023/A:1010920819831",
                    b -> new PairwiseAuc(b.name(), b.classes().count()))
            .ofProbabilities();

    /** Mean true positive rate at low false positive rates. */
    static final Measure PARTIAL_AUC = Measure.of(
                    "partial-auc",
                    "mean true positive rate over false positive rates from 0 to F, each fold's own curve; a guess has F/2;"
                            + " undefined without rows of the class or of others",
                    "McClish (1989), Med. Decis. Making 9(3), doi:10.1177/0272989X8900900307, not rescaled",
                    b -> new RankMetric(
                            b.name(),
                            new PartialArea(b.number()),
                            b.weights().fixed(b.classes().count())))
            .ofProbabilities()
            .ofOneClass()
            .with(new Parameter("F", "a share above 0, at most 1", "partial-auc=0.1", n -> n > 0 && n <= 1));

    /** How much better than the class shares probabilities are. */
    static final Measure BRIER_SKILL = Measure.of(
                    "brier-skill",
                    "1 - brier/(the brier of always giving the class shares of the data); 0 for these, 1 at best",
                    "Murphy (1973), J. Appl. Meteorol. 12(1), doi:10.1175/1520-0450(1973)012<0595:ANVPOT>2.0.CO;2",
                    b -> skill(b.name(), b.counts(), b.classes().positive()))
            .within("below 0 for what is worse than the class shares, to 1")
            .ofProbabilities();

    /** How far probabilities lie from what comes true. */
    static final Measure CALIBRATION_ERROR = Measure.of(
                    "calibration-error",
                    "sum over ten bins of equal width of |sum of p - y|/n, of a repeat's rows joined; lower is better, and says"
                            + " nothing of telling classes apart; its standard errors were not studied",
                    "Murphy and Winkler (1977), J. R. Stat. Soc. C 26(1), doi:10.2307/2346866",
                    b -> CalibrationMetric.of(
                            b.name(), b.weights().fixed(b.classes().count())))
            .lowerIsBetter()
            .ofProbabilities()
            .ofOneClass();

    private ProbabilityMeasures() {}

    private static Metric skill(String name, List<Integer> rows, int positive) {
        int[] counts = rows.stream().mapToInt(Integer::intValue).toArray();
        double total = Arrays.stream(counts).sum();
        double reference;
        if (counts.length == 2) {
            double share = counts[positive] / total;
            reference = share * (1 - share);
        } else {
            reference = 1
                    - Arrays.stream(counts)
                            .mapToDouble(n -> n / total * (n / total))
                            .sum();
        }
        Checks.that(
                reference > 0,
                "metric %s: all rows are of one class, so that there is nothing to be better than",
                name);
        double most = counts.length == 2 ? 1 : 2;
        return new LossMetric(name, true, 1 - most / reference, 1, (o, i) -> 1 - brier(o, i, positive) / reference);
    }

    private static double logLoss(Outcomes o, int i) {
        // Rounding may have carried a probability above 1; no loss is negative.
        return -StrictMath.log(Math.min(1, Math.max(CLIP, o.probability(i, o.actual(i)))));
    }

    private static double brier(Outcomes o, int i, int positive) {
        if (o.classes() == 2) {
            double off = o.probability(i, positive) - (o.actual(i) == positive ? 1 : 0);
            return off * off;
        }
        double sum = 0;
        for (int c = 0; c < o.classes(); c++) {
            double off = o.probability(i, c) - (o.actual(i) == c ? 1 : 0);
            sum += off * off;
        }
        return sum;
    }
}
