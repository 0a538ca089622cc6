package keenfold.io.plan;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.metric.catalog.Measure;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.metric.catalog.MetricName;

/** A metric as somebody typed it. */
public final class MetricWord {
    private MetricWord() {}

    /**
     * Reads the name of a metric.
     *
     * @throws IllegalArgumentException if there is none, with the one that was probably meant
     */
    public static MetricName parse(String text) {
        String base = text.split("[:=]", 2)[0];
        if (Measures.of(base).isEmpty()) {
            List<String> known = Measures.all().stream().map(Measure::label).toList();
            Optional<String> near = Suggestion.to(base, known);
            throw Checks.wrong("metric \"" + base + "\" is not known"
                    + near.map(n -> "; the nearest is \"" + n + "\"").orElse("")
                    + "; keenfold catalog metrics lists all");
        }
        return MetricName.parse(text);
    }
}
