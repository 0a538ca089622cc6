package keenfold.core.metric.catalog;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;

/**
 * A bound that a metric of labels is to keep, such as {@code specificity>=0.9}.
 *
 * @param metric of labels
 * @param atLeast whether the bound is the least that will do, and not the most
 * @param bound a finite number
 */
public record MetricLimit(MetricName metric, boolean atLeast, double bound) {
    private static final Pattern FORM = Pattern.compile("\\s*(.+?)\\s*(>=|<=)\\s*([^<>=\\s]+)\\s*");

    /** Checks the parts. */
    public MetricLimit {
        Checks.that(
                metric.measure().byLabels(),
                "%s does not depend on a threshold: expected a metric of labels, such as specificity>=0.9",
                metric.text());
        Checks.that(Double.isFinite(bound), "%s: expected a finite bound", bound);
    }

    /**
     * Reads one.
     *
     * @throws IllegalArgumentException if it has another form, or there is no such metric of labels
     */
    public static MetricLimit parse(String text) {
        Matcher matcher = FORM.matcher(text);
        Checks.that(
                matcher.matches(), "\"%s\": expected a metric, >= or <=, and a number, such as specificity>=0.9", text);
        double bound;
        try {
            bound = Double.parseDouble(matcher.group(3));
        } catch (NumberFormatException e) {
            throw Checks.wrong(
                    "\"" + text + "\": " + matcher.group(3) + " is not a number; write for example specificity>=0.9",
                    e);
        }
        return new MetricLimit(
                MetricName.parse(matcher.group(1)), matcher.group(2).equals(">="), bound);
    }

    /** Returns it as it is written. */
    public String text() {
        String number = bound == Math.rint(bound) && Math.abs(bound) < 1e9
                ? Long.toString((long) bound)
                : Double.toString(bound);
        return metric.text() + (atLeast ? ">=" : "<=") + number;
    }
}
