package keenfold.core.data;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;

/**
 * Something that a reader of results should know: what was seen, and what to do about it.
 *
 * @param code of the kind of notice: small letters and hyphens, for programs
 * @param text one sentence without its full stop, and without what it is about
 * @param dataset the data set that it is about; empty for none
 * @param metric the metric that it is about; empty for none
 * @param values what was seen: texts, numbers, truths and lists of texts by name
 */
public record Notice(String code, String text, String dataset, String metric, Map<String, Object> values) {
    /** Copies the values. */
    public Notice {
        values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
    }

    /** Returns a notice about nothing in particular; {@code text} is formatted as by {@link String#format}. */
    public static Notice of(String code, String text, Object... arguments) {
        return new Notice(code, String.format(Locale.ROOT, text, arguments), "", "", Map.of());
    }

    /** Returns a notice of a text that is taken as it is. */
    public static Notice plain(String code, String text) {
        return new Notice(code, text, "", "", Map.of());
    }

    /** Returns the same about a data set. */
    public Notice about(String name) {
        return new Notice(code, text, name, metric, values);
    }

    /** Returns the same about a metric of a data set. */
    public Notice about(String name, String ofMetric) {
        return new Notice(code, text, name, ofMetric, values);
    }

    /** Returns the same with one more value. */
    public Notice with(String key, Object value) {
        Map<String, Object> more = new LinkedHashMap<>(values);
        more.put(key, value);
        return new Notice(code, text, dataset, metric, more);
    }

    /** Returns what it is about, a colon, and the text. */
    public String sentence() {
        return dataset.isEmpty() ? text : dataset + (metric.isEmpty() ? "" : " (" + metric + ")") + ": " + text;
    }
}
