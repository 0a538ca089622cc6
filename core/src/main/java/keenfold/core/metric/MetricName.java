package keenfold.core.metric;

import java.util.Arrays;
import java.util.stream.Collectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;

/**
 * A metric as it is asked for: {@code NAME}, {@code NAME:shares} or {@code NAME:class=LABEL}.
 *
 * <p>The plain name of a one-sided metric speaks of the positive class when there are two classes, and is the plain mean
 * over classes when there are more; {@code :shares} weights the classes by their share, {@code :class=LABEL} is one
 * class.
 *
 * @param text the name as written
 * @param measure the metric without its form
 * @param form what stands behind the colon, empty if nothing does
 */
public record MetricName(String text, Measure measure, String form) {
    private static final String SHARES = "shares";
    private static final String CLASS = "class=";

    /**
     * Reads a name.
     *
     * @throws IllegalArgumentException if there is no such metric or form
     */
    public static MetricName parse(String text) {
        int colon = text.indexOf(':');
        String base = colon < 0 ? text : text.substring(0, colon);
        String form = colon < 0 ? "" : text.substring(colon + 1);
        Measure measure = Measure.of(base)
                .orElseThrow(() -> new IllegalArgumentException(String.format(
                        "metric \"%s\" is not known; there are %s",
                        base,
                        Arrays.stream(Measure.values()).map(Measure::label).collect(Collectors.joining(", ")))));
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
        return new MetricName(text, measure, form);
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
            return measure.bind(text, k, classes.positive(), ClassWeights.only(c));
        }
        ClassWeights weights = form.equals(SHARES)
                ? ClassWeights.byShare(classCounts)
                : classes.binary() ? ClassWeights.only(classes.positive()) : ClassWeights.equal(k);
        return measure.bind(text, k, classes.positive(), weights);
    }
}
