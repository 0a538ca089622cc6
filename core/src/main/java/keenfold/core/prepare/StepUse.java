package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * A step as a candidate uses it. Its settings stand among the candidate's own, each named {@code KEY.SETTING}.
 *
 * @param kind the kind of step
 * @param key the kind's name; of the second and further steps of one kind, with a number behind it
 */
public record StepUse(StepKind kind, String key) {
    /** Returns the uses of some kinds, one after another. */
    public static List<StepUse> of(List<StepKind> kinds) {
        Map<String, Integer> times = new LinkedHashMap<>();
        List<StepUse> uses = new ArrayList<>();
        for (StepKind kind : kinds) {
            int time = times.merge(kind.name(), 1, Integer::sum);
            uses.add(new StepUse(kind, time == 1 ? kind.name() : kind.name() + "-" + time));
        }
        return List.copyOf(uses);
    }

    /**
     * Makes the step.
     *
     * @param all the candidate's settings
     */
    public Step make(Settings all) {
        return kind.make(all.of(key));
    }

    /** Returns the step in a few words: its name, with the settings that are named. */
    public String text(Settings all) {
        Map<String, String> own = all.of(key).values();
        if (own.isEmpty()) {
            return kind.name();
        }
        String first = kind.settings().get(0).name();
        return kind.name() + " "
                + own.entrySet().stream()
                        .map(e -> e.getKey().equals(first) ? e.getValue() : e.getKey() + "=" + e.getValue())
                        .collect(Collectors.joining(" "));
    }
}
