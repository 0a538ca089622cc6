package keenfold.core.metric.catalog;

import java.util.Optional;
import java.util.stream.Collectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.Lists;
import keenfold.core.metric.ClassWeights;
import keenfold.core.metric.Costs;
import keenfold.core.metric.Metric;

/**
 * A metric as it is asked for: {@code NAME}, {@code NAME:shares} or {@code NAME:class=LABEL}; {@code NAME=NUMBER} for
 * those that need a number.
 *
 * <p>The plain name of a one-sided metric speaks of the positive class when there are two classes, and is the plain mean
 * over classes when there are more; {@code :shares} weights the classes by their share, {@code :class=LABEL} is one
 * class.
 *
 * @param text the name as written
 * @param measure the metric without its form
 * @param number what stands behind the equals sign; NaN if the measure needs none
 * @param form what stands behind the colon, empty if nothing does
 * @param costs of predictions, for the metric that needs them
 */
public record MetricName(String text, Measure measure, double number, String form, Costs costs) {
    private static final String SHARES = "shares";
    private static final String CLASS = "class=";

    /**
     * Reads a name.
     *
     * @throws IllegalArgumentException if there is no such metric or form
     */
    public static MetricName parse(String text) {
        int colon = text.indexOf(':');
        String named = colon < 0 ? text : text.substring(0, colon);
        int equals = named.indexOf('=');
        String base = equals < 0 ? named : named.substring(0, equals);
        String form = colon < 0 ? "" : text.substring(colon + 1);
        Measure measure = Measures.of(base)
                .orElseThrow(() -> Checks.wrong(String.format(
                        "metric \"%s\" is not known; there are %s",
                        base, Measures.all().stream().map(Measure::label).collect(Collectors.joining(", ")))));
        if (colon >= 0) {
            Checks.that(
                    measure.oneSided() && (form.equals(SHARES) || form.startsWith(CLASS)),
                    measure.oneSided()
                            ? "metric \"%s\": expected %s:shares or %s:class=LABEL"
                            : "metric \"%s\": %s has no such form; write %2$s alone",
                    text,
                    base,
                    base);
        }
        Optional<String> number = equals < 0 ? Optional.empty() : Optional.of(named.substring(equals + 1));
        return new MetricName(text, measure, number(text, measure, number), form, Costs.NONE);
    }

    /** Returns the name with costs, if its metric needs them; otherwise the name. */
    public MetricName withCosts(Costs others) {
        return Measures.needsCosts(measure) ? new MetricName(text, measure, number, form, others) : this;
    }

    private static double number(String text, Measure measure, Optional<String> written) {
        if (measure.number().isEmpty()) {
            Checks.that(written.isEmpty(), "metric \"%s\": %s takes no number", text, measure.label());
            return Double.NaN;
        }
        Measure.Parameter number = measure.number().get();
        double value = Double.NaN;
        try {
            value = Double.parseDouble(written.orElse(""));
        } catch (NumberFormatException e) {
            // What is not a number is refused below, with what would be right.
            value = Double.NaN;
        }
        Checks.that(
                Double.isFinite(value) && number.takes().test(value),
                "metric \"%s\": expected %s=%s, %s, such as %s",
                text,
                measure.label(),
                number.symbol(),
                number.range(),
                number.example());
        return value;
    }

    /**
     * Binds the name to a data set.
     *
     * @param classCounts rows of each class
     * @throws IllegalArgumentException if it names a class that is not there
     */
    public Metric bind(Classes classes, int[] classCounts) {
        int k = classes.count();
        if (form.startsWith(CLASS)) {
            String label = form.substring(CLASS.length());
            int c = classes.indexOf(label);
            Checks.that(
                    c >= 0, "metric \"%s\": no class is called \"%s\"; there are %s", text, label, classes.labels());
            return bind(classes, classCounts, ClassWeights.only(c));
        }
        ClassWeights weights = form.equals(SHARES)
                ? ClassWeights.byShare(classCounts)
                : classes.binary() ? ClassWeights.only(classes.positive()) : ClassWeights.equal(k);
        return bind(classes, classCounts, weights);
    }

    private Metric bind(Classes classes, int[] classCounts, ClassWeights weights) {
        return measure.bind(new Measure.Binding(text, classes, Lists.of(classCounts), weights, number, costs));
    }
}
