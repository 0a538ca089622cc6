package keenfold.core.classify;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Values of a classifier's settings as they were written, in the order of its kind; those not named have their preset.
 *
 * @param values setting name to text
 */
public record Settings(Map<String, String> values) {
    /** Keeps the order. */
    public Settings {
        values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
    }

    /** Returns settings of which none is named. */
    public static Settings none() {
        return new Settings(Map.of());
    }

    /** Returns these settings and one more. */
    public Settings with(String name, String text) {
        Map<String, String> more = new LinkedHashMap<>(values);
        more.put(name, text);
        return new Settings(more);
    }

    String text(Setting setting) {
        return Optional.ofNullable(values.get(setting.name())).orElse(setting.preset());
    }

    int whole(Setting setting) {
        return Integer.parseInt(text(setting));
    }

    double number(Setting setting) {
        return Double.parseDouble(text(setting));
    }
}
