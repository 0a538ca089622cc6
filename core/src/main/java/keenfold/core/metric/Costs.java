package keenfold.core.metric;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;

/**
 * What predictions cost: by actual class, then by predicted class. What is not named costs 0.
 *
 * @param byActual costs, finite; a negative one is a gain
 */
public record Costs(Map<String, Map<String, Double>> byActual) {
    /** No cost is named. */
    public static final Costs NONE = new Costs(Map.of());

    /** Copies and checks. */
    public Costs {
        Map<String, Map<String, Double>> copy = new LinkedHashMap<>();
        byActual.forEach((actual, row) -> {
            row.forEach((predicted, cost) -> Checks.that(
                    Double.isFinite(cost),
                    "cost of %s predicted as %s: %s: expected a number",
                    actual,
                    predicted,
                    cost));
            copy.put(actual, Collections.unmodifiableMap(new LinkedHashMap<>(row)));
        });
        byActual = Collections.unmodifiableMap(copy);
    }

    /** Returns whether no cost is named. */
    public boolean none() {
        return byActual.values().stream().allMatch(Map::isEmpty);
    }

    /**
     * Returns the costs by class index: element [a·K + p] is what a row of class a predicted as p costs.
     *
     * @throws IllegalArgumentException if a class is named that is not there
     */
    double[] matrix(Classes classes) {
        int k = classes.count();
        double[] matrix = new double[k * k];
        byActual.forEach((actual, row) -> row.forEach(
                (predicted, cost) -> matrix[index(classes, actual) * k + index(classes, predicted)] = cost));
        return matrix;
    }

    private static int index(Classes classes, String label) {
        int index = classes.indexOf(label);
        Checks.that(index >= 0, "costs name the class \"%s\"; there are %s", label, classes.labels());
        return index;
    }
}
