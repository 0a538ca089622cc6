package keenfold.results.notice;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;

/** Notices as sentences: those that say the same of several data sets or metrics become one. */
public final class NoticeGroups {
    private static final int MOST_NAMED = 4;

    private NoticeGroups() {}

    /** Returns the sentences, in the order of their first notices. */
    public static List<String> grouped(Collection<Notice> notices) {
        Map<String, Map<String, Set<String>>> byText = new LinkedHashMap<>();
        for (Notice notice : notices) {
            Set<String> metrics = byText.computeIfAbsent(notice.text(), k -> new LinkedHashMap<>())
                    .computeIfAbsent(notice.dataset(), k -> new LinkedHashSet<>());
            if (!notice.metric().isEmpty()) {
                metrics.add(notice.metric());
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
