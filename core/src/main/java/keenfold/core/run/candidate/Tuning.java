package keenfold.core.run.candidate;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.data.Seed;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;

/**
 * How settings are chosen inside each training side.
 *
 * @param choices setting to the values to choose from, in the order written; several make a grid
 * @param folds of the inner division, at least 2
 * @param repeats of the inner division, at least 1
 * @param by how one is chosen
 * @param metric by which
 * @param sample how many combinations of values are tried, drawn from all of them; all if absent
 */
public record Tuning(
        Map<String, List<String>> choices, int folds, int repeats, By by, MetricName metric, Optional<Integer> sample) {
    /** Folds where a plan does not say. */
    public static final int FOLDS = 5;

    /** How one is chosen from inner scores. */
    public enum By {
        /** The best mean; among equals the simplest. */
        BEST_MEAN("best-mean"),
        /** The simplest whose mean is within one standard error of the best: sd of the inner fold scores/√folds. */
        ONE_SE("one-se");

        private final String label;

        By(String label) {
            this.label = label;
        }

        /** Returns the name in plans. */
        public String label() {
            return label;
        }
    }

    /** Checks the ranges and keeps the order. */
    public Tuning {
        choices = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(choices));
        Checks.that(!choices.isEmpty(), "nothing to choose");
        Checks.atLeast("tuning folds", folds, 2);
        Checks.atLeast("tuning repeats", repeats, 1);
        int combinations = choices.values().stream().mapToInt(List::size).reduce(1, Math::multiplyExact);
        Checks.that(
                sample.orElse(1) >= 1 && sample.orElse(1) <= combinations,
                "tuning sample = %d: there are %d combinations of chosen settings",
                sample.orElse(1),
                combinations);
    }

    /** Returns tuning that tries all combinations. */
    public Tuning(Map<String, List<String>> choices, int folds, int repeats, By by, MetricName metric) {
        this(choices, folds, repeats, by, metric, Optional.empty());
    }

    /**
     * Returns the grid of values, the last setting changing fastest, each added to the settings that are fixed.
     */
    public List<Settings> grid(Settings fixed) {
        List<Settings> grid = List.of(fixed);
        for (Map.Entry<String, List<String>> choice : choices.entrySet()) {
            List<Settings> longer = new ArrayList<>();
            for (Settings so : grid) {
                choice.getValue().forEach(v -> longer.add(so.with(choice.getKey(), v)));
            }
            grid = longer;
        }
        return grid;
    }

    /** Returns the points of the grid that are tried: all of them, or a sample that is drawn by the seed, in their order. */
    public List<Settings> tried(Settings fixed, Seed seed) {
        List<Settings> grid = grid(fixed);
        if (sample.isEmpty()) {
            return grid;
        }
        int[] all = new int[grid.size()];
        Arrays.setAll(all, i -> i);
        seed.with("sample").chance().shuffle(all);
        return Arrays.stream(all, 0, sample.get()).sorted().mapToObj(grid::get).toList();
    }
}
