package keenfold.core.prepare;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * Values of the settings of a step or a classifier as they were written, in the order of its kind; those not named have their preset.
 *
 * @param values setting name to text
 */
public record Settings(Map<String, String> values) {
    /** The setting that says which of several lists of steps is in force; no part of a candidate has it. */
    public static final String STEPS = "prepare";

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

    /** Returns the value of a setting, its preset if it is not named. */
    public String text(Setting setting) {
        return Optional.ofNullable(values.get(setting.name())).orElse(setting.preset());
    }

    /** Returns the constant of an enumeration that the value names, in small letters and with hyphens. */
    public <E extends Enum<E>> E constant(Setting setting, Class<E> type) {
        return Enum.valueOf(type, text(setting).toUpperCase(Locale.ROOT).replace('-', '_'));
    }

    /** Returns the value of a whole number. */
    public int whole(Setting setting) {
        return Integer.parseInt(text(setting));
    }

    /** Returns the value of a number. */
    public double number(Setting setting) {
        return Double.parseDouble(text(setting));
    }

    /** Returns whether a choice is yes. */
    public boolean yes(Setting setting) {
        return text(setting).equals("yes");
    }

    /** Returns the value of a list of names. */
    public List<String> names(Setting setting) {
        return Names.split(text(setting));
    }

    /** Returns the settings named {@code part.NAME}, by NAME alone. */
    public Settings of(String part) {
        Map<String, String> own = new LinkedHashMap<>();
        values.forEach((key, value) -> {
            if (key.startsWith(part + ".")) {
                own.put(key.substring(part.length() + 1), value);
            }
        });
        return new Settings(own);
    }

    /** Returns the classifier's own settings: those whose names have no part before them. */
    public Settings plain() {
        Map<String, String> own = new LinkedHashMap<>();
        values.forEach((key, value) -> {
            if (key.indexOf('.') < 0 && !key.equals(STEPS)) {
                own.put(key, value);
            }
        });
        return new Settings(own);
    }
}
