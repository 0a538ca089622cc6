package keenfold.core.metric.catalog;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.metric.ClassWeights;
import keenfold.core.metric.Confusion;
import keenfold.core.metric.CountMetric;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.catalog.Measure.Parameter;

/** Metrics of predicted labels, all but top-k computed of a table of counts. */
final class LabelMeasures {
    /** Share of rows predicted as what they are. */
    static final Measure ACCURACY = Measure.of(
            "accuracy",
            "share of rows whose predicted class is theirs",
            "Hand (1997), Construction and Assessment of Classification Rules, chapter 6",
            b -> accuracy(b.name()));

    /** One minus accuracy. */
    static final Measure ERROR = Measure.of(
                    "error",
                    "share of rows whose predicted class is not theirs; lower is better",
                    "Hand (1997), Construction and Assessment of Classification Rules, chapter 6",
                    b -> new CountMetric(
                            b.name(),
                            MetricKind.ROW_MEAN,
                            false,
                            m -> (m.total() - m.correct()) / m.total(),
                            Optional.of(new CountMetric.Part(m -> m.total() - m.correct(), Confusion::total)),
                            0,
                            1))
            .lowerIsBetter();

    /** Mean over classes of recall. */
    static final Measure BALANCED_ACCURACY = Measure.of(
            "balanced-accuracy",
            "mean over classes of recall; undefined if a class has no row",
            "Brodersen et al. (2010), ICPR, doi:10.1109/ICPR.2010.764",
            b -> CountMetric.of(
                    b.name(), m -> ClassWeights.equal(b.classes().count()).mean(m, LabelMeasures::recall)));

    /** Harmonic mean of precision and recall. */
    static final Measure F1 = Measure.of(
                    "f1",
                    "2TP/(2TP + FP + FN); undefined at 0/0",
                    "van Rijsbergen (1979), Information Retrieval, chapter 7; joined over the folds of a"
                            + " repeat as Forman and Scholz (2010), SIGKDD Explorations 12(1), doi:10.1145/1882471.1882479",
                    b -> counts(
                            b.name(),
                            b.weights(),
                            (m, c) -> 2 * m.at(c, c) / (m.actual(c) + m.predicted(c)),
                            Optional.empty()))
            .ofOneClass();

    /** Weighted harmonic mean of precision and recall. */
    static final Measure F_BETA = Measure.of(
                    "f-beta",
                    "(1 + B^2)TP/((1 + B^2)TP + B^2 FN + FP), recall weighing B times as much as precision; undefined at 0/0",
                    "van Rijsbergen (1979), Information Retrieval, chapter 7; joined over the folds of a"
                            + " repeat as Forman and Scholz (2010), SIGKDD Explorations 12(1), doi:10.1145/1882471.1882479",
                    b -> {
                        double square = b.number() * b.number();
                        return counts(
                                b.name(),
                                b.weights(),
                                (m, c) -> (1 + square) * m.at(c, c) / (square * m.actual(c) + m.predicted(c)),
                                Optional.empty());
                    })
            .ofOneClass()
            .with(new Parameter("B", "a number above 0", "f-beta=2", n -> n > 0));

    /** Share of a class's rows that are found. */
    static final Measure RECALL = Measure.of(
                    "recall",
                    "TP/(TP + FN); undefined without rows of the class",
                    "van Rijsbergen (1979), Information Retrieval, chapter 7; joined over the folds of a"
                            + " repeat as Forman and Scholz (2010), SIGKDD Explorations 12(1), doi:10.1145/1882471.1882479",
                    b -> counts(
                            b.name(),
                            b.weights(),
                            LabelMeasures::recall,
                            b.weights().only().map(c -> new CountMetric.Part(m -> m.at(c, c), m -> m.actual(c)))))
            .ofOneClass();

    /** Share of the rows called a class that are of it. */
    static final Measure PRECISION = Measure.of(
                    "precision",
                    "TP/(TP + FP); undefined without predictions of the class",
                    "van Rijsbergen (1979), Information Retrieval, chapter 7; joined over the folds of a"
                            + " repeat as Forman and Scholz (2010), SIGKDD Explorations 12(1), doi:10.1145/1882471.1882479",
                    b -> counts(
                            b.name(),
                            b.weights(),
                            (m, c) -> m.at(c, c) / m.predicted(c),
                            b.weights().only().map(c -> new CountMetric.Part(m -> m.at(c, c), m -> m.predicted(c)))))
            .ofOneClass();

    /** Share of the other classes' rows that are not called the class. */
    static final Measure SPECIFICITY = Measure.of(
                    "specificity",
                    "TN/(TN + FP); undefined without rows of other classes",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> counts(
                            b.name(),
                            b.weights(),
                            (m, c) -> trueNegatives(m, c) / (m.total() - m.actual(c)),
                            b.weights()
                                    .only()
                                    .map(c -> new CountMetric.Part(
                                            m -> trueNegatives(m, c), m -> m.total() - m.actual(c)))))
            .ofOneClass();

    /** Share of the rows not called a class that are not of it. */
    static final Measure NPV = Measure.of(
                    "npv",
                    "TN/(TN + FN); undefined where every row is predicted as the class",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> counts(
                            b.name(),
                            b.weights(),
                            (m, c) -> trueNegatives(m, c) / (m.total() - m.predicted(c)),
                            b.weights()
                                    .only()
                                    .map(c -> new CountMetric.Part(
                                            m -> trueNegatives(m, c), m -> m.total() - m.predicted(c)))))
            .ofOneClass();

    /** Geometric mean of recall. */
    static final Measure G_MEAN = Measure.of(
            "g-mean",
            "geometric mean over classes of recall; undefined if a class has no row",
            "Kubat and Matwin (1997), Proc. 14th Int. Conf. Machine Learning",
            b -> CountMetric.of(b.name(), LabelMeasures::geometricMean));

    /** Agreement beyond chance. */
    static final Measure KAPPA = Measure.of(
                    "kappa",
                    "(a - e)/(1 - e), a the accuracy and e what rows and predictions of these shares would have by chance;"
                            + " undefined where both name one class alone",
                    "Cohen (1960), Educ. Psychol. Meas. 20(1), doi:10.1177/001316446002000104",
                    b -> CountMetric.of(b.name(), LabelMeasures::kappa).from(-1))
            .within("-1 to 1; 0 for a guess");

    /** Correlation of classes and predictions. */
    static final Measure MCC = Measure.of(
                    "mcc",
                    "correlation of class and predicted class, (TP TN - FP FN)/sqrt((TP + FP)(TP + FN)(TN + FP)(TN + FN)) of two"
                            + " classes; undefined where all rows or all predictions are of one class",
                    "Matthews (1975), Biochim. Biophys. Acta 405(2), doi:10.1016/0005-2795(75)90109-9; of several classes"
                            + " Gorodkin (2004), Comput. Biol. Chem. 28(5), doi:10.1016/j.compbiolchem.2004.09.006",
                    b -> CountMetric.of(b.name(), LabelMeasures::correlation).from(-1))
            .within("-1 to 1; 0 for a guess");

    /** Mean cost of predictions. */
    static final Measure COST = Measure.of(
                    "cost",
                    "mean cost of a prediction, by the plan's costs or --cost; lower is better",
                    "Adams and Hand (1999), Pattern Recognit. 32(7), doi:10.1016/S0031-3203(98)00154-X",
                    b -> {
                        Checks.that(
                                !b.costs().none(),
                                "metric cost needs costs: {ACTUAL: {PREDICTED: cost}} in the plan, or --cost");
                        return cost(b.name(), b.costs().matrix(b.classes()));
                    })
            .within("the least to the greatest cost")
            .lowerIsBetter();

    /** Rows of a class that are found. */
    static final Measure TRUE_POSITIVES = Measure.of(
                    "true-positives",
                    "rows of the class that are predicted as it, of all rows of a repeat",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> tally(b.name(), true, b.weights(), (m, c) -> m.at(c, c)))
            .within("0 to the number of rows")
            .ofOneClass();

    /** Rows of other classes taken for a class. */
    static final Measure FALSE_POSITIVES = Measure.of(
                    "false-positives",
                    "rows of other classes predicted as the class, of all rows of a repeat; lower is better",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> tally(b.name(), false, b.weights(), (m, c) -> m.predicted(c) - m.at(c, c)))
            .within("0 to the number of rows")
            .lowerIsBetter()
            .ofOneClass();

    /** Rows of other classes that are not taken for a class. */
    static final Measure TRUE_NEGATIVES = Measure.of(
                    "true-negatives",
                    "rows of other classes not predicted as the class, of all rows of a repeat",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> tally(b.name(), true, b.weights(), LabelMeasures::trueNegatives))
            .within("0 to the number of rows")
            .ofOneClass();

    /** Rows of a class that are missed. */
    static final Measure FALSE_NEGATIVES = Measure.of(
                    "false-negatives",
                    "rows of the class not predicted as it, of all rows of a repeat; lower is better",
                    "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294",
                    b -> tally(b.name(), false, b.weights(), (m, c) -> m.actual(c) - m.at(c, c)))
            .within("0 to the number of rows")
            .lowerIsBetter()
            .ofOneClass();

    private LabelMeasures() {}

    static CountMetric accuracy(String name) {
        return new CountMetric(
                name,
                MetricKind.ROW_MEAN,
                true,
                m -> m.correct() / m.total(),
                Optional.of(new CountMetric.Part(Confusion::correct, Confusion::total)),
                0,
                1);
    }

    private static Metric counts(
            String name, ClassWeights weights, ClassWeights.OfClass ofClass, Optional<CountMetric.Part> part) {
        return new CountMetric(name, MetricKind.COUNTS, true, m -> weights.mean(m, ofClass), part, 0, 1);
    }

    private static Metric tally(String name, boolean higher, ClassWeights weights, ClassWeights.OfClass ofClass) {
        return new CountMetric(
                name,
                MetricKind.COUNTS,
                higher,
                m -> weights.mean(m, ofClass),
                Optional.empty(),
                0,
                Double.POSITIVE_INFINITY);
    }

    private static Metric cost(String name, double[] matrix) {
        return new CountMetric(
                name,
                MetricKind.ROW_MEAN,
                false,
                m -> {
                    double sum = 0;
                    for (int a = 0; a < m.classes(); a++) {
                        for (int p = 0; p < m.classes(); p++) {
                            sum += matrix[a * m.classes() + p] * m.at(a, p);
                        }
                    }
                    return sum / m.total();
                },
                Optional.empty(),
                Arrays.stream(matrix).min().orElse(0),
                Arrays.stream(matrix).max().orElse(0));
    }

    private static double geometricMean(Confusion m) {
        double product = 1;
        for (int c = 0; c < m.classes(); c++) {
            product *= recall(m, c);
        }
        return m.classes() == 2 ? Math.sqrt(product) : StrictMath.pow(product, 1.0 / m.classes());
    }

    private static double kappa(Confusion m) {
        double total = m.total();
        double byChance = 0;
        for (int c = 0; c < m.classes(); c++) {
            byChance += m.actual(c) * m.predicted(c);
        }
        // Whole numbers as long as possible: n·correct − Σ over n² − Σ.
        return (total * m.correct() - byChance) / (total * total - byChance);
    }

    private static double correlation(Confusion m) {
        double total = m.total();
        double both = 0;
        double actual = 0;
        double predicted = 0;
        for (int c = 0; c < m.classes(); c++) {
            both += m.actual(c) * m.predicted(c);
            actual += m.actual(c) * m.actual(c);
            predicted += m.predicted(c) * m.predicted(c);
        }
        double square = total * total;
        // Rounding of the two roots must not carry a perfect correlation beyond 1.
        double value = (total * m.correct() - both) / (Math.sqrt(square - actual) * Math.sqrt(square - predicted));
        return Double.isNaN(value) ? value : Math.max(-1, Math.min(1, value));
    }

    private static double recall(Confusion m, int c) {
        return m.at(c, c) / m.actual(c);
    }

    private static double trueNegatives(Confusion m, int c) {
        return m.total() - m.actual(c) - m.predicted(c) + m.at(c, c);
    }
}
