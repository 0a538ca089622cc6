package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.learned.CalibrationCurve;

/** What calibrates probabilities as a model of the standard. */
final class CalibrationForm {
    private CalibrationForm() {}

    /**
     * Adds the model.
     *
     * @param probabilities a field per class
     */
    static void add(List<CalibrationCurve> curves, List<String> probabilities, ModelChain chain) {
        List<String> labels = chain.labels();
        if (labels.size() == 2) {
            Expression second = curve(curves.get(0), probabilities.get(1));
            chain.addPlain(labels, List.of(apply("-", literal(1), second), second), "none");
            return;
        }
        List<Expression> all = new ArrayList<>();
        for (int c = 0; c < labels.size(); c++) {
            Expression made = curve(curves.get(c), probabilities.get(c));
            all.add(ref(chain.fields().number("calibrated " + labels.get(c), made)));
        }
        Expression nothing = apply("equal", Expression.sum(all), literal(0));
        List<Expression> kept = new ArrayList<>();
        for (int c = 0; c < labels.size(); c++) {
            kept.add(apply("if", nothing, ref(probabilities.get(c)), all.get(c)));
        }
        chain.addPlain(labels, kept, "simplemax");
    }

    private static Expression curve(CalibrationCurve curve, String probability) {
        return curve.match(p -> platt(p, probability), i -> isotonic(i, probability));
    }

    private static Expression platt(CalibrationCurve.Platt curve, String probability) {
        Expression p = Expression.within(CalibrationCurve.CLIP, 1 - CalibrationCurve.CLIP, ref(probability));
        Expression odds = apply("ln", apply("/", p, apply("-", literal(1), p)));
        return Expression.logistic(apply("+", apply("*", literal(curve.slope()), odds), literal(curve.offset())));
    }

    private static Expression isotonic(CalibrationCurve.Isotonic curve, String probability) {
        double[] edges = new double[curve.low().size() - 1];
        Arrays.setAll(edges, s -> lastNearer(curve.high().get(s), curve.low().get(s + 1)));
        return StepForm.discrete(
                probability,
                edges,
                curve.values().stream().mapToObj(Double::toString).toList(),
                true);
    }

    /** Between two steps the nearer one holds: the last number that is not nearer to the second, as it is computed. */
    private static double lastNearer(double first, double second) {
        Checks.that(first < second, "isotonic: steps out of order");
        double p = first / 2 + second / 2;
        while (p - first > second - p) {
            p = Math.nextDown(p);
        }
        while (!(Math.nextUp(p) - first > second - Math.nextUp(p))) {
            p = Math.nextUp(p);
        }
        return p;
    }
}
