package keenfold.core.run;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Settings;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Steps;

/**
 * What is fitted in a fold: preparing steps, a classifier and its settings, under a name.
 *
 * @param name unique in its plan; a member of a family is called FAMILY/VALUE
 * @param family the plan entry it comes from; its own name if nothing is varied there
 * @param kind the classifier
 * @param settings as written
 * @param grid of its family: varied settings to their values, in plan order; empty if nothing is varied
 * @param sample how many of the grid's members were drawn, if not all are there
 * @param tuning settings that are chosen inside each training side
 */
public record Candidate(
        String name,
        String family,
        ClassifierKind kind,
        Settings settings,
        Map<String, List<String>> grid,
        Optional<Integer> sample,
        Optional<Tuning> tuning) {
    /** Checks the settings by making the classifier once, for each value that may be chosen. */
    public Candidate {
        grid = Collections.unmodifiableMap(new LinkedHashMap<>(grid));
        kind.make(settings);
        for (Settings each : tuning.map(t -> t.grid(settings)).orElse(List.of())) {
            kind.make(each);
        }
    }

    /** Returns a candidate without tuning, of which some settings are varied. */
    public Candidate(String name, String family, ClassifierKind kind, Settings settings, List<String> varied) {
        this(name, family, kind, settings, gridOf(settings, varied), Optional.empty(), Optional.empty());
    }

    private static Map<String, List<String>> gridOf(Settings settings, List<String> varied) {
        Map<String, List<String>> grid = new LinkedHashMap<>();
        varied.forEach(v -> grid.put(v, List.of(settings.values().getOrDefault(v, ""))));
        return grid;
    }

    /** Returns the names of the settings that tell the members of its family apart, in plan order. */
    public List<String> varied() {
        return List.copyOf(grid.keySet());
    }

    /** Returns the steps it gets: those that its classifier needs. */
    public List<Step> steps() {
        return Steps.neededBy(kind.make(settings).needs());
    }
}
