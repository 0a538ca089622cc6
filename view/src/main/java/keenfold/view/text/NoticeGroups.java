package keenfold.view.text;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Notices, of which those that say the same of several data sets or metrics become one.
 *
 * <p>A notice about a data set begins with its name and a colon, one about a metric of it with the name, the metric in
 * parentheses, and a colon.
 */
public final class NoticeGroups {
    private static final int MOST_NAMED = 4;
    private static final Pattern SUBJECT = Pattern.compile("([^\\s\":()]+)(?: \\(([^()]+)\\))?: (.*)", Pattern.DOTALL);

    private NoticeGroups() {}

    /** Returns the same notices, in the order of their first ones. */
    public static List<String> grouped(Collection<String> notices) {
        Map<String, Map<String, Set<String>>> byText = new LinkedHashMap<>();
        for (String notice : notices) {
            Matcher parts = SUBJECT.matcher(notice);
            boolean about = parts.matches();
            Set<String> metrics = byText.computeIfAbsent(about ? parts.group(3) : notice, k -> new LinkedHashMap<>())
                    .computeIfAbsent(about ? parts.group(1) : "", k -> new LinkedHashSet<>());
            if (about && parts.group(2) != null) {
                metrics.add(parts.group(2));
            }
        }
        List<String> grouped = new ArrayList<>();
        byText.forEach((text, subjects) -> {
            if (subjects.containsKey("")) {
                grouped.add(text);
                subjects.remove("");
            }
            if (!subjects.isEmpty()) {
                grouped.add(subjects(subjects) + ": " + text);
            }
        });
        return grouped;
    }

    private static String subjects(Map<String, Set<String>> subjects) {
        boolean alike = subjects.values().stream().distinct().count() == 1;
        if (alike) {
            Set<String> metrics = subjects.values().iterator().next();
            return some(List.copyOf(subjects.keySet()), "data sets") + metrics(metrics);
        }
        return some(
                subjects.entrySet().stream()
                        .map(e -> e.getKey() + metrics(e.getValue()))
                        .toList(),
                "data sets");
    }

    private static String metrics(Set<String> metrics) {
        return metrics.isEmpty() ? "" : " (" + some(List.copyOf(metrics), "metrics") + ")";
    }

    private static String some(List<String> names, String kind) {
        return names.size() <= MOST_NAMED
                ? String.join(", ", names)
                : names.stream().limit(MOST_NAMED - 1).collect(Collectors.joining(", ")) + " and "
                        + (names.size() - MOST_NAMED + 1) + " more " + kind;
    }
}
