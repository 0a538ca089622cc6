package keenfold.io.plan;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The first thing in which two plans differ that decides which fits are made: all but how fits are read (evidence, pick) and
 * how long they take.
 *
 * @param one the line that the one plan has
 * @param other the line that the other has
 */
public record PlanDifference(String one, String other) {
    private static final List<String> ALL = List.of(
            "note",
            "data",
            "holdout",
            "splits",
            "seed",
            "metrics",
            "primary",
            "costs",
            "candidates",
            "evidence",
            "pick");

    /** Compares value by value; the lines are those of {@link PlanWriter}, for a reader. */
    public static Optional<PlanDifference> ofFits(Plan one, Plan other) {
        Map<String, Object> mine = values(one);
        Map<String, Object> theirs = values(other);
        for (Map.Entry<String, Object> value : mine.entrySet()) {
            if (!value.getValue().equals(theirs.get(value.getKey()))) {
                return Optional.of(of(lines(one, value.getKey()), lines(other, value.getKey())));
            }
        }
        return Optional.empty();
    }

    /** Returns the keys of a plan whose lines differ, in the order of plans. */
    public static List<String> keys(Plan one, Plan other) {
        List<String> keys = new ArrayList<>();
        for (String key : ALL) {
            if (!lines(one, key).equals(lines(other, key))) {
                keys.add(key);
            }
        }
        return keys;
    }

    /** Returns what a plan says under a key that has a line of its own; nothing if it is not there. */
    public static String line(Plan plan, String key) {
        return String.join(" ", lines(plan, key));
    }

    /** The first line in which two plans differ under one key, if there is one. */
    public static Optional<PlanDifference> of(Plan one, Plan other, String key) {
        List<String> mine = lines(one, key);
        List<String> theirs = lines(other, key);
        return mine.equals(theirs) ? Optional.empty() : Optional.of(of(mine, theirs));
    }

    private static Map<String, Object> values(Plan plan) {
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("note", plan.note());
        values.put("data", plan.data());
        values.put("holdout", plan.division().holdout());
        values.put("splits", plan.division());
        values.put("seed", plan.seed());
        values.put("metrics", plan.metrics());
        values.put("primary", plan.primary());
        values.put("costs", plan.costs());
        values.put("candidates", plan.candidates());
        return values;
    }

    /** The lines of a key, those below it included. */
    private static List<String> lines(Plan plan, String key) {
        List<String> all = PlanWriter.write(plan).lines().toList();
        int from = 0;
        while (from < all.size() && !all.get(from).startsWith(key + ":")) {
            from++;
        }
        int to = Math.min(from + 1, all.size());
        while (to < all.size() && all.get(to).startsWith(" ")) {
            to++;
        }
        return all.subList(from, to);
    }

    private static PlanDifference of(List<String> one, List<String> other) {
        int i = 0;
        while (i < one.size() && i < other.size() && one.get(i).equals(other.get(i))) {
            i++;
        }
        return new PlanDifference(line(one, i), line(other, i));
    }

    private static String line(List<String> lines, int i) {
        return i < lines.size() ? lines.get(i).strip() : "nothing more";
    }
}
