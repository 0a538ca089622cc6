package keenfold.io.plan;

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
