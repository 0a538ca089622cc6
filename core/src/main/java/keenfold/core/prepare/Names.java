package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/** Names in one text: joined by commas, a comma or backslash within a name behind a backslash. */
public final class Names {
    private Names() {}

    /** Returns the names as one text. */
    public static String join(Collection<String> names) {
        return names.stream()
                .map(n -> n.replace("\\", "\\\\").replace(",", "\\,"))
                .collect(Collectors.joining(","));
    }

    /** Returns the names of a text; none for an empty one. */
    public static List<String> split(String text) {
        List<String> names = new ArrayList<>();
        StringBuilder name = new StringBuilder();
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '\\' && i + 1 < text.length()) {
                name.append(text.charAt(++i));
            } else if (c == ',') {
                names.add(name.toString());
                name.setLength(0);
            } else {
                name.append(c);
            }
        }
        if (!text.isEmpty()) {
            names.add(name.toString());
        }
        return names;
    }
}
