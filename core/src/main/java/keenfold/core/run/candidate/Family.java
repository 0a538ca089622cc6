package keenfold.core.run.candidate;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The candidates that one plan entry stands for.
 *
 * @param name the entry's name
 * @param members at least one, in plan order
 */
public record Family(String name, List<Candidate> members) {
    /** Copies the members. */
    public Family {
        members = List.copyOf(members);
    }

    /** Returns the families of candidates, in order of their first members. */
    public static List<Family> of(List<Candidate> candidates) {
        Map<String, List<Candidate>> byName = new LinkedHashMap<>();
        for (Candidate c : candidates) {
            byName.computeIfAbsent(c.family(), k -> new java.util.ArrayList<>()).add(c);
        }
        return byName.entrySet().stream()
                .map(e -> new Family(e.getKey(), e.getValue()))
                .toList();
    }
}
