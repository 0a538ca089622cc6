package keenfold.core.metric;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;

/** The metrics that can be asked for, by name. */
public enum Measure {
    /** Share of rows predicted as what they are. */
    ACCURACY("accuracy", "share of rows whose predicted class is theirs", true),
    /** One minus accuracy. */
    ERROR("error", "share of rows whose predicted class is not theirs; lower is better", true),
    /** Mean over classes of recall. */
    BALANCED_ACCURACY("balanced-accuracy", "mean over classes of recall; undefined if a class has no row", true),
    /** Area under the ROC curve. */
    AUC("auc", "share of pairs of one fold in which the row of the class has the higher probability; ties ½", true),
    /** Mean precision over the rows of a class. */
    AVERAGE_PRECISION(
            "average-precision",
            "mean over the rows of the class of precision at the threshold that just finds each, within its fold; a guess"
                    + " has the share of the class; undefined without rows of the class",
            true),
    /** Mean negative logarithm of the probability of what came true. */
    LOG_LOSS("log-loss", "mean of −ln(probability given to the row's class), clipped at 1e-15; lower is better", false),
    /** Mean squared error of the probabilities. */
    BRIER(
            "brier",
            "mean squared error of the probability of the positive class, or, of three or more classes, the sum over"
                    + " classes; lower is better",
            false),
    /** Harmonic mean of precision and recall. */
    F1("f1", "2TP/(2TP + FP + FN); undefined at 0/0", true),
    /** Weighted harmonic mean of precision and recall. */
    F_BETA(
            "f-beta",
            "(1 + B^2)TP/((1 + B^2)TP + B^2 FN + FP), recall weighing B times as much as precision; undefined at 0/0",
            true),
    /** Share of rows whose class is among the most probable. */
    TOP_K("top-k", "share of rows whose class is among the K most probable; among equals the first", true),
    /** Share of a class's rows that are found. */
    RECALL("recall", "TP/(TP + FN); undefined without rows of the class", true),
    /** Share of the rows called a class that are of it. */
    PRECISION("precision", "TP/(TP + FP); undefined without predictions of the class", true),
    /** Share of the other classes' rows that are not called the class. */
    SPECIFICITY("specificity", "TN/(TN + FP); undefined without rows of other classes", true),
    /** Share of the rows not called a class that are not of it. */
    NPV("npv", "TN/(TN + FN); undefined where every row is predicted as the class", true),
    /** Geometric mean of recall. */
    G_MEAN("g-mean", "geometric mean over classes of recall; undefined if a class has no row", true),
    /** Agreement beyond chance. */
    KAPPA(
            "kappa",
            "(a - e)/(1 - e), a the accuracy and e what rows and predictions of these shares would have by chance;"
                    + " undefined where both name one class alone",
            true),
    /** Correlation of classes and predictions. */
    MCC(
            "mcc",
            "correlation of class and predicted class, (TP TN - FP FN)/sqrt((TP + FP)(TP + FN)(TN + FP)(TN + FN)) of two"
                    + " classes; undefined where all rows or all predictions are of one class",
            true),
    /** Area under the ROC curve, pair of classes by pair. */
    AUC_PAIRS(
            "auc-pairs",
            "auc of every pair of classes, by the probability of the one and of the other, averaged; does not depend on how"
                    + " frequent classes are; undefined if a class has no row",
            true),
    /** Mean true positive rate at low false positive rates. */
    PARTIAL_AUC(
            "partial-auc",
            "mean true positive rate over false positive rates from 0 to F, each fold's own curve; a guess has F/2;"
                    + " undefined without rows of the class or of others",
            true),
    /** How much better than the class shares probabilities are. */
    BRIER_SKILL(
            "brier-skill",
            "1 - brier/(the brier of always giving the class shares of the data); 0 for these, 1 at best",
            true),
    /** How far probabilities lie from what comes true. */
    CALIBRATION_ERROR(
            "calibration-error",
            "sum over ten bins of equal width of |sum of p - y|/n, of a repeat's rows joined; lower is better, and says"
                    + " nothing of telling classes apart; its standard errors were not studied",
            true),
    /** Mean cost of predictions. */
    COST("cost", "mean cost of a prediction, by the plan's costs or --cost; lower is better", true),
    /** Rows of a class that are found. */
    TRUE_POSITIVES("true-positives", "rows of the class that are predicted as it, of all rows of a repeat", true),
    /** Rows of other classes taken for a class. */
    FALSE_POSITIVES(
            "false-positives",
            "rows of other classes predicted as the class, of all rows of a repeat; lower is better",
            true),
    /** Rows of other classes that are not taken for a class. */
    TRUE_NEGATIVES("true-negatives", "rows of other classes not predicted as the class, of all rows of a repeat", true),
    /** Rows of a class that are missed. */
    FALSE_NEGATIVES(
            "false-negatives", "rows of the class not predicted as it, of all rows of a repeat; lower is better", true);

    private static final double CLIP = 1e-15;
    private static final Classes OTHERS_AND_ONE = new Classes(List.of("0", "1"), 1);

    private final String label;
    private final String definition;
    private final boolean hasForms;

    Measure(String label, String definition, boolean bounded) {
        this.label = label;
        this.definition = definition;
        this.hasForms = bounded
                && !List.of(
                                "accuracy",
                                "error",
                                "balanced-accuracy",
                                "g-mean",
                                "kappa",
                                "mcc",
                                "top-k",
                                "auc-pairs",
                                "brier-skill",
                                "cost")
                        .contains(label);
    }

    /** Returns the name that plans use. */
    public String label() {
        return label;
    }

    /** Returns the definition in one line. */
    public String definition() {
        return number().map(n -> definition + "; asked for as " + label + "=" + n.symbol() + ", such as " + n.example())
                .orElse(definition);
    }

    /**
     * A number that is part of a metric's name.
     *
     * @param range what it may be, in words
     * @param example the name with a number
     */
    public record Parameter(String symbol, String range, String example) {
        boolean takes(double value) {
            return switch (symbol) {
                case "K" -> value >= 1 && value == Math.rint(value) && value < 1e6;
                case "F" -> value > 0 && value <= 1;
                default -> value > 0;
            };
        }
    }

    /** Returns the number that the name goes on with, if it does. */
    public Optional<Parameter> number() {
        return switch (this) {
            case F_BETA -> Optional.of(new Parameter("B", "a number above 0", "f-beta=2"));
            case TOP_K -> Optional.of(new Parameter("K", "a whole number of at least 1", "top-k=2"));
            case PARTIAL_AUC -> Optional.of(new Parameter("F", "a share above 0, at most 1", "partial-auc=0.1"));
            default -> Optional.empty();
        };
    }

    /** Returns whether higher values are better. */
    public boolean higherIsBetter() {
        return switch (this) {
            case ERROR, LOG_LOSS, BRIER, CALIBRATION_ERROR, COST, FALSE_POSITIVES, FALSE_NEGATIVES -> false;
            default -> true;
        };
    }

    /** Returns the least and the greatest value, in words. */
    public String range() {
        return switch (this) {
            case LOG_LOSS -> "0 to 34.54";
            case BRIER -> "0 to 1; of three or more classes 0 to 2";
            case KAPPA, MCC -> "-1 to 1; 0 for a guess";
            case BRIER_SKILL -> "below 0 for what is worse than the class shares, to 1";
            case COST -> "the least to the greatest cost";
            case TRUE_POSITIVES, FALSE_POSITIVES, TRUE_NEGATIVES, FALSE_NEGATIVES -> "0 to the number of rows";
            default -> "0 to 1";
        };
    }

    /** Returns paper or book. */
    public String source() {
        return switch (this) {
            case ACCURACY, ERROR -> "Hand (1997), Construction and Assessment of Classification Rules, chapter 6";
            case BALANCED_ACCURACY -> "Brodersen et al. (2010), ICPR, doi:10.1109/ICPR.2010.764";
            case AUC -> "Hanley and McNeil (1982), Radiology 143(1), doi:10.1148/radiology.143.1.7063747";
            case AVERAGE_PRECISION ->
                "Davis and Goadrich (2006), Proc. 23rd Int. Conf. Machine Learning, doi:10.1145/1143844.1143874";
            case LOG_LOSS -> "Good (1952), J. R. Stat. Soc. B 14(1), doi:10.1111/j.2517-6161.1952.tb00104.x";
            case TOP_K -> "Hand (1997), Construction and Assessment of Classification Rules, chapter 6";
            case BRIER -> "Brier (1950), Monthly Weather Review 78(1)";
            case F1, F_BETA, RECALL, PRECISION ->
                "van Rijsbergen (1979), Information Retrieval, chapter 7; joined over the folds of a"
                        + " repeat as Forman and Scholz (2010), SIGKDD Explorations 12(1), doi:10.1145/1882471.1882479";
            case SPECIFICITY, NPV -> "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294";
            case G_MEAN -> "Kubat and Matwin (1997), Proc. 14th Int. Conf. Machine Learning";
            case AUC_PAIRS -> "Hand and Till (2001), Mach. Learn. 45, doi:10.1023/A:1010920819831";
            case PARTIAL_AUC -> "McClish (1989), Med. Decis. Making 9(3), doi:10.1177/0272989X8900900307, not rescaled";
            case BRIER_SKILL ->
                "Murphy (1973), J. Appl. Meteorol. 12(1), doi:10.1175/1520-0450(1973)012<0595:ANVPOT>2.0.CO;2";
            case CALIBRATION_ERROR -> "Murphy and Winkler (1977), J. R. Stat. Soc. C 26(1), doi:10.2307/2346866";
            case COST -> "Adams and Hand (1999), Pattern Recognit. 32(7), doi:10.1016/S0031-3203(98)00154-X";
            case TRUE_POSITIVES, FALSE_POSITIVES, TRUE_NEGATIVES, FALSE_NEGATIVES ->
                "Yerushalmy (1947), Public Health Reports 62(40), doi:10.2307/4586294";
            case KAPPA -> "Cohen (1960), Educ. Psychol. Meas. 20(1), doi:10.1177/001316446002000104";
            case MCC ->
                "Matthews (1975), Biochim. Biophys. Acta 405(2), doi:10.1016/0005-2795(75)90109-9; of several classes"
                        + " Gorodkin (2004), Comput. Biol. Chem. 28(5), doi:10.1016/j.compbiolchem.2004.09.006";
        };
    }

    /** Returns whether the metric speaks of one class and so can be asked for a class, or by class share. */
    public boolean oneSided() {
        return hasForms;
    }

    /** Returns whether it looks at predicted labels, and not at probabilities. */
    public boolean byLabels() {
        return switch (this) {
            case AUC,
                    AUC_PAIRS,
                    PARTIAL_AUC,
                    AVERAGE_PRECISION,
                    LOG_LOSS,
                    BRIER,
                    BRIER_SKILL,
                    CALIBRATION_ERROR,
                    TOP_K -> false;
            default -> true;
        };
    }

    /** Returns the measure of a name. */
    public static Optional<Measure> of(String label) {
        return Arrays.stream(values()).filter(m -> m.label.equals(label)).findFirst();
    }

    /**
     * Returns the metric on all classes alike; for one-sided measures, weighted over classes.
     *
     * @param counts rows of each class
     * @param number the one of the name; NaN if it has none
     * @param costs of predictions, for the metric that needs them
     * @throws IllegalArgumentException if the number says nothing of so many classes, or costs are missing
     */
    Metric bind(String name, Classes of, int[] counts, ClassWeights weights, double number, Costs costs) {
        int classes = of.count();
        if (classes > 2 && byLabels() && weights.only().isPresent()) {
            int[] two = new int[2];
            for (int c = 0; c < classes; c++) {
                two[c == weights.only().get() ? 1 : 0] += counts[c];
            }
            Metric ofTwo = bind(name, OTHERS_AND_ONE, two, ClassWeights.only(1), number, costs);
            return ofTwo instanceof CountMetric counted
                    ? new OneClassMetric(name, counted, weights.only().get())
                    : ofTwo;
        }
        int positive = of.positive();
        return switch (this) {
            case ACCURACY -> accuracy(name);
            case TOP_K -> {
                Checks.that(
                        number < classes,
                        "metric \"%s\": every row's class is among the %.0f most probable of %d; ask for fewer",
                        name,
                        number,
                        classes);
                yield new TopMetric(accuracy(name), (int) number);
            }
            case F_BETA -> {
                double square = number * number;
                yield counts(
                        name,
                        weights,
                        (m, c) -> (1 + square) * m.at(c, c) / (square * m.actual(c) + m.predicted(c)),
                        Optional.empty());
            }
            case ERROR ->
                new CountMetric(
                        name,
                        MetricKind.ROW_MEAN,
                        false,
                        m -> (m.total() - m.correct()) / m.total(),
                        Optional.of(new CountMetric.Part(m -> m.total() - m.correct(), Confusion::total)),
                        0,
                        1);
            case BALANCED_ACCURACY ->
                CountMetric.of(name, m -> ClassWeights.equal(classes).mean(m, Measure::recall));
            case AUC -> new RankMetric(name, new ConcordantPairs(), weights.fixed(classes));
            case AVERAGE_PRECISION -> new RankMetric(name, new AveragePrecision(), weights.fixed(classes));
            case LOG_LOSS -> new LossMetric(name, -StrictMath.log(CLIP), Measure::logLoss);
            case BRIER -> new LossMetric(name, classes == 2 ? 1 : 2, (o, i) -> brier(o, i, positive));
            case F1 ->
                counts(name, weights, (m, c) -> 2 * m.at(c, c) / (m.actual(c) + m.predicted(c)), Optional.empty());
            case RECALL ->
                counts(
                        name,
                        weights,
                        Measure::recall,
                        weights.only().map(c -> new CountMetric.Part(m -> m.at(c, c), m -> m.actual(c))));
            case PRECISION ->
                counts(
                        name,
                        weights,
                        (m, c) -> m.at(c, c) / m.predicted(c),
                        weights.only().map(c -> new CountMetric.Part(m -> m.at(c, c), m -> m.predicted(c))));
            case SPECIFICITY ->
                counts(
                        name,
                        weights,
                        (m, c) -> trueNegatives(m, c) / (m.total() - m.actual(c)),
                        weights.only()
                                .map(c ->
                                        new CountMetric.Part(m -> trueNegatives(m, c), m -> m.total() - m.actual(c))));
            case NPV ->
                counts(
                        name,
                        weights,
                        (m, c) -> trueNegatives(m, c) / (m.total() - m.predicted(c)),
                        weights.only()
                                .map(c -> new CountMetric.Part(
                                        m -> trueNegatives(m, c), m -> m.total() - m.predicted(c))));
            case AUC_PAIRS -> new PairwiseAuc(name, classes);
            case PARTIAL_AUC -> new RankMetric(name, new PartialArea(number), weights.fixed(classes));
            case BRIER_SKILL -> skill(name, counts, positive);
            case CALIBRATION_ERROR -> CalibrationMetric.of(name, weights.fixed(classes));
            case COST -> {
                Checks.that(
                        !costs.none(), "metric cost needs costs: {ACTUAL: {PREDICTED: cost}} in the plan, or --cost");
                yield cost(name, costs.matrix(of));
            }
            case TRUE_POSITIVES -> number(name, true, weights, (m, c) -> m.at(c, c));
            case FALSE_POSITIVES -> number(name, false, weights, (m, c) -> m.predicted(c) - m.at(c, c));
            case TRUE_NEGATIVES -> number(name, true, weights, Measure::trueNegatives);
            case FALSE_NEGATIVES -> number(name, false, weights, (m, c) -> m.actual(c) - m.at(c, c));
            case G_MEAN -> CountMetric.of(name, Measure::geometricMean);
            case KAPPA -> CountMetric.of(name, Measure::kappa).from(-1);
            case MCC -> CountMetric.of(name, Measure::correlation).from(-1);
        };
    }

    private static CountMetric accuracy(String name) {
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

    private static Metric number(String name, boolean higher, ClassWeights weights, ClassWeights.OfClass ofClass) {
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

    private static Metric skill(String name, int[] counts, int positive) {
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

    private static double logLoss(Outcomes o, int i) {
        return -StrictMath.log(Math.max(CLIP, o.probability(i, o.actual(i))));
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
