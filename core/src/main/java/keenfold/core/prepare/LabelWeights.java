package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Numbers by label in one text: label, number, label, number, joined as {@link Names} are. */
public final class LabelWeights {
    /** Of smaller numbers, the sum of all weights could vanish. */
    private static final double LEAST = 1e-6;

    private LabelWeights() {}

    /** Returns numbers, as they were written, as one text. */
    public static String join(Map<String, String> byLabel) {
        List<String> parts = new ArrayList<>();
        byLabel.forEach((label, number) -> {
            parts.add(label);
            parts.add(number);
        });
        return Names.join(parts);
    }

    /** Returns the numbers of a text, as they were written; none for an empty one. */
    public static Map<String, String> split(String text) {
        List<String> parts = Names.split(text);
        Map<String, String> byLabel = new LinkedHashMap<>();
        for (int i = 0; i + 1 < parts.size(); i += 2) {
            byLabel.put(parts.get(i), parts.get(i + 1));
        }
        return Collections.unmodifiableMap(byLabel);
    }

    /** Returns whether a text says a number within bounds for each label that it names, and names one. */
    static boolean areIn(String text) {
        Map<String, String> byLabel = split(text);
        return !byLabel.isEmpty()
                && byLabel.values().stream()
                        .allMatch(n -> Setting.isNumber(n)
                                && Double.parseDouble(n) >= LEAST
                                && Double.parseDouble(n) <= Setting.MOST);
    }
}
