package keenfold.core.run.candidate;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Tier;
import keenfold.core.data.Checks;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Step;

/**
 * What is fitted in a fold: preparing steps, a classifier and its settings, under a name.
 *
 * @param name unique in its plan; a member of a family is called FAMILY/VALUE
 * @param family the plan entry it comes from; its own name if nothing is varied there
 * @param recipe its steps and classifier
 * @param settings as written, those of steps as {@code STEP.SETTING}
 * @param grid of its family: varied settings to their values, in plan order; empty if nothing is varied
 * @param sample how many of the grid's members were drawn, if not all are there
 * @param tuning settings that are chosen inside each training side
 * @param timeLimit the seconds that one fit may take, by the clock, from its steps to its predictions
 * @param rank its place in the user's own order of simplicity, 1 being the simplest
 * @param seedName the name that its randomness derives from: its family's, unless it was renamed
 */
public record Candidate(
        String name,
        String family,
        Recipe recipe,
        Settings settings,
        Map<String, List<String>> grid,
        Optional<Integer> sample,
        Optional<Tuning> tuning,
        OptionalDouble timeLimit,
        OptionalInt rank,
        String seedName) {
    /** Returns a candidate without a time limit or a rank, whose randomness derives from its family's name. */
    public Candidate(
            String name,
            String family,
            Recipe recipe,
            Settings settings,
            Map<String, List<String>> grid,
            Optional<Integer> sample,
            Optional<Tuning> tuning) {
        this(name, family, recipe, settings, grid, sample, tuning, OptionalDouble.empty(), OptionalInt.empty(), family);
    }

    /** Checks the settings by making steps and classifier once, for each value that may be chosen. */
    public Candidate {
        grid = Collections.unmodifiableMap(new LinkedHashMap<>(grid));
        Checks.that(
                !grid.containsKey(Tier.SETTING.name())
                        && tuning.filter(t -> t.choices().containsKey(Tier.SETTING.name()))
                                .isEmpty(),
                "tier decides no fit, so that it is neither varied nor chosen: give it one value");
        for (Settings each : tuning.map(t -> t.grid(settings)).orElse(List.of(settings))) {
            recipe.check(each);
        }
    }

    /** Returns a candidate that gets the steps that it needs, without tuning, of which some settings are varied. */
    public Candidate(String name, String family, ClassifierKind kind, Settings settings, List<String> varied) {
        this(name, family, Recipe.of(kind), settings, gridOf(settings, varied), Optional.empty(), Optional.empty());
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

    /** Returns the kind of classifier. */
    public ClassifierKind kind() {
        return recipe.kind();
    }

    /** Returns the number of its tier: that of its kind, whatever it is wrapped in, unless it says another itself. */
    public int tier() {
        String own = settings.values().get(Tier.SETTING.name());
        return own == null ? kind().tier().number() : Integer.parseInt(own);
    }

    /** Returns every list of steps that it can get; where tuning chooses their settings, those are not the ones in force. */
    public List<List<Step>> stepLists() {
        return recipe.stepLists(settings);
    }

    /**
     * Returns the steps in a few words each; a setting that tuning chooses is said to be chosen.
     */
    public List<String> stepTexts() {
        return tuning.filter(t -> t.choices().containsKey(StepLists.SETTING))
                .map(t -> List.of(String.join(" or ", t.choices().get(StepLists.SETTING)) + " (chosen)"))
                .orElseGet(() -> recipe.stepTexts(shown()));
    }

    /** Returns what the classifier is wrapped in, in a few words each. */
    public List<String> wrapperTexts() {
        return recipe.wrapperTexts(shown());
    }

    private Settings shown() {
        Settings shown = settings;
        for (String key : tuning.map(t -> t.choices().keySet()).orElse(java.util.Set.of())) {
            shown = key.indexOf('.') < 0 ? shown : shown.with(key, "(chosen)");
        }
        return shown;
    }
}
