package keenfold.core.metric;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.Plural;

/**
 * What predictions cost: by actual class, then by predicted class. A right prediction that is not named costs 0; every mistake
 * is named, or costs what all others do.
 *
 * @param byActual costs, finite; a negative one is a gain
 * @param others what mistakes cost that are not named
 */
public record Costs(Map<String, Map<String, Double>> byActual, OptionalDouble others) {
    /** No cost is named. */
    public static final Costs NONE = new Costs(Map.of());

    /** The word for mistakes that are not named. */
    public static final String ELSE = "else";

    private static final int MOST_NAMED = 6;

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
        Checks.that(Double.isFinite(others.orElse(0)), "cost of %s: %s: expected a number", ELSE, others.orElse(0));
    }

    /** Every mistake is named. */
    public Costs(Map<String, Map<String, Double>> byActual) {
        this(byActual, OptionalDouble.empty());
    }

    /** Returns whether no cost is named. */
    public boolean none() {
        return others.isEmpty() && byActual.values().stream().allMatch(Map::isEmpty);
    }

    /** Returns whether they speak of classes of a data set: of several data sets, some may have other classes. */
    public boolean concern(Classes classes) {
        boolean named = byActual.values().stream().anyMatch(row -> !row.isEmpty());
        return (others.isPresent() && !named)
                || byActual.entrySet().stream()
                        .anyMatch(e -> classes.indexOf(e.getKey()) >= 0
                                || e.getValue().keySet().stream().anyMatch(p -> classes.indexOf(p) >= 0));
    }

    /**
     * Refuses costs that are not costs of these classes.
     *
     * @throws IllegalArgumentException if a class is named that is not there, or a mistake is not named
     */
    public void require(Classes classes) {
        matrix(classes);
    }

    /**
     * Returns the costs by class index: element [a·K + p] is what a row of class a predicted as p costs.
     *
     * @throws IllegalArgumentException if a class is named that is not there, or a mistake is not named
     */
    public double[] matrix(Classes classes) {
        int k = classes.count();
        double[] matrix = new double[k * k];
        Arrays.fill(matrix, Double.NaN);
        for (int c = 0; c < k; c++) {
            matrix[c * k + c] = 0;
        }
        byActual.forEach((actual, row) -> row.forEach(
                (predicted, cost) -> matrix[index(classes, actual) * k + index(classes, predicted)] = cost));
        List<String> missing = new ArrayList<>();
        for (int i = 0; i < matrix.length; i++) {
            if (Double.isNaN(matrix[i])) {
                matrix[i] = others.orElse(Double.NaN);
                missing.add(classes.labels().get(i / k) + ":" + classes.labels().get(i % k));
            }
        }
        Checks.that(
                others.isPresent() || missing.isEmpty(),
                "costs do not say what %s (actual:predicted) costs: %s%s; name %s, or give one cost for all others with"
                        + " %s",
                missing.size() == 1 ? "a mistake" : Plural.of(missing.size(), "mistake"),
                String.join(", ", missing.subList(0, Math.min(MOST_NAMED, missing.size()))),
                missing.size() > MOST_NAMED ? ", ..." : "",
                missing.size() == 1 ? "it" : "them",
                ELSE);
        return matrix;
    }

    private static int index(Classes classes, String label) {
        int index = classes.indexOf(label);
        Checks.that(index >= 0, "costs name the class \"%s\"; there are %s", label, classes.labels());
        return index;
    }
}
