package keenfold.core.pick;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntToDoubleFunction;
import keenfold.core.infer.MeanScore;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Variance;

/**
 * Lets the rules choose among the compared candidates.
 *
 * <p>Definition: means are turned so that higher is better. The best is the highest mean, among equals (1e-12) the
 * simplest; it is always eligible. Frequency: the share of the draws, every mean's draws spread about it by
 * √(V/V_raw), in which the rule picks a candidate, with the best of that draw; sizes and standard errors are those of the
 * full data.
 */
public final class Picker {
    private static final double EQUAL = 1e-12;

    private final MetricInference inference;
    private final Simplicity simplicity;
    private final List<MeanScore> means;

    private Picker(MetricInference inference, Simplicity simplicity) {
        this.inference = inference;
        this.simplicity = simplicity;
        this.means = inference.means();
    }

    /** Returns the choices under one metric; empty if no candidate can be compared. */
    public static Optional<Picks> pick(MetricInference inference, Simplicity simplicity, Rule rule) {
        return inference.compared().isEmpty()
                ? Optional.empty()
                : Optional.of(new Picker(inference, simplicity).picks(rule));
    }

    private Picks picks(Rule rule) {
        IntToDoubleFunction turned = c -> inference.metric().turned(means.get(c).mean());
        int best = best(turned);
        double se = se(best);
        double threshold = rule.threshold(turned.applyAsDouble(best), se);
        List<Integer> eligible = eligible(rule, turned, best);
        List<Picks.Choice> choices = new ArrayList<>();
        for (Rule each : Rule.values()) {
            int pick = eligible(each, turned, best).get(0);
            choices.add(new Picks.Choice(each, pick, pick == best ? Optional.empty() : inference.contrast(pick, best)));
        }
        return new Picks(
                rule,
                eligible.get(0),
                best,
                means.get(best).mean(),
                se,
                inference.metric().turned(threshold),
                eligible,
                choices,
                frequency(rule));
    }

    private double se(int candidate) {
        double se = means.get(candidate).standardError();
        return Double.isNaN(se) ? 0 : se;
    }

    private int best(IntToDoubleFunction turned) {
        double most = Double.NEGATIVE_INFINITY;
        for (int c : inference.compared()) {
            most = Math.max(most, turned.applyAsDouble(c));
        }
        double limit = most - EQUAL;
        return inference.compared().stream()
                .filter(c -> turned.applyAsDouble(c) >= limit)
                .min(bySimplicity(turned))
                .orElseThrow();
    }

    private Comparator<Integer> bySimplicity(IntToDoubleFunction turned) {
        return (a, b) -> simplicity.compare(a, b, turned);
    }

    /** The eligible candidates, the simplest first; never empty. */
    private List<Integer> eligible(Rule rule, IntToDoubleFunction turned, int best) {
        double threshold = rule.threshold(turned.applyAsDouble(best), se(best));
        if (Double.isNaN(threshold)) {
            return List.of(best);
        }
        return inference.compared().stream()
                .filter(c -> c == best || turned.applyAsDouble(c) >= threshold)
                .sorted(bySimplicity(turned))
                .toList();
    }

    private Map<Integer, Double> frequency(Rule rule) {
        Map<Integer, double[]> spread = new LinkedHashMap<>();
        for (int c : inference.compared()) {
            spread.put(c, scaledDraws(c));
        }
        Map<Integer, Integer> counts = new LinkedHashMap<>();
        inference.compared().forEach(c -> counts.put(c, 0));
        for (int draw = 0; draw < inference.draws(); draw++) {
            int b = draw;
            IntToDoubleFunction turned = c -> inference.metric().turned(spread.getOrDefault(c, new double[0])[b]);
            counts.merge(eligible(rule, turned, best(turned)).get(0), 1, Integer::sum);
        }
        Map<Integer, Double> shares = new LinkedHashMap<>();
        counts.forEach((c, n) -> shares.put(c, (double) n / inference.draws()));
        return shares;
    }

    private double[] scaledDraws(int candidate) {
        double theta = means.get(candidate).mean();
        double scale = means.get(candidate)
                .variance()
                .filter(v -> v.raw() > 0)
                .map(Variance::widening)
                .orElse(0.0);
        double[] scaled = new double[inference.draws()];
        double mean = 0;
        for (int b = 0; b < scaled.length; b++) {
            scaled[b] = inference.drawnMean(candidate, b);
            mean += scaled[b] / scaled.length;
        }
        for (int b = 0; b < scaled.length; b++) {
            scaled[b] = theta + scale * (scaled[b] - mean);
        }
        return scaled;
    }
}
