package keenfold.cli.read;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.ValueException;
import keenfold.core.metric.Costs;
import picocli.CommandLine.Option;

/** What mistakes cost, on the command line. */
public final class CostOptions {
    @Option(
            names = "--cost",
            paramLabel = "ACTUAL:PREDICTED=COST",
            description = "what a mistake costs, for the metric cost, instead of the plan's costs; one for each pair of"
                    + " classes, or else=COST for the others")
    private List<String> texts = new ArrayList<>();

    boolean given() {
        return !texts.isEmpty();
    }

    /**
     * Reads ACTUAL:PREDICTED=COST; a colon may be part of a label, so that every one is tried.
     *
     * @param all classes of each data set
     * @throws IllegalArgumentException if a text has another form, or a cost is missing
     */
    Costs read(Set<String> labels, List<Classes> all) {
        Map<String, Map<String, Double>> byActual = new LinkedHashMap<>();
        OptionalDouble others = OptionalDouble.empty();
        for (String text : texts) {
            if (text.startsWith(Costs.ELSE + "=")) {
                others = OptionalDouble.of(number(text.substring(Costs.ELSE.length() + 1)));
                continue;
            }
            int equals = text.lastIndexOf('=');
            Optional<Integer> colon = IntStream.range(0, Math.max(0, equals))
                    .filter(i -> text.charAt(i) == ':'
                            && labels.contains(text.substring(0, i))
                            && labels.contains(text.substring(i + 1, equals)))
                    .boxed()
                    .findFirst();
            Checks.that(
                    colon.isPresent(),
                    "--cost %s: expected ACTUAL:PREDICTED=COST, such as %s:%s=5, or else=COST; classes are %s",
                    text,
                    labels.iterator().next(),
                    List.copyOf(labels).get(labels.size() - 1),
                    labels);
            byActual.computeIfAbsent(text.substring(0, colon.orElse(0)), k -> new LinkedHashMap<>())
                    .put(text.substring(colon.orElse(0) + 1, equals), number(text.substring(equals + 1)));
        }
        Costs costs = new Costs(byActual, others);
        all.stream().filter(costs::concern).forEach(c -> require(costs, c));
        return costs;
    }

    private static void require(Costs costs, Classes classes) {
        try {
            costs.require(classes);
        } catch (ValueException e) {
            throw Checks.wrong("--cost: " + e.getMessage() + "=COST", e);
        }
    }

    private static double number(String text) {
        try {
            return Double.parseDouble(text);
        } catch (NumberFormatException e) {
            throw Checks.wrong("--cost: \"" + text + "\" is not a number", e);
        }
    }
}
