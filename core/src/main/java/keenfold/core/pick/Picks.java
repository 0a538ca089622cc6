package keenfold.core.pick;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.infer.Contrast;

/**
 * What each rule picks on one data set, and what it costs.
 *
 * @param rule the rule in force
 * @param pick the candidate it picks
 * @param best the candidate with the best mean, the simplest among equals
 * @param bestMean its mean, on the metric's own scale
 * @param standardError the standard error of that mean
 * @param threshold the worst mean that is eligible, on the metric's own scale; NaN if the rule has none
 * @param eligible the candidates among which the simplest is picked, the simplest first
 * @param choices the pick of every rule with its price
 * @param frequency per compared candidate the share of the draws in which the rule picks it
 */
public record Picks(
        Rule rule,
        int pick,
        int best,
        double bestMean,
        double standardError,
        double threshold,
        List<Integer> eligible,
        List<Choice> choices,
        Map<Integer, Double> frequency) {
    /** Copies the lists. */
    public Picks {
        eligible = List.copyOf(eligible);
        choices = List.copyOf(choices);
        frequency = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(frequency));
    }

    /**
     * The pick of one rule.
     *
     * @param rule the rule
     * @param pick the candidate
     * @param price the contrast of the pick with the best mean; empty if it is the best
     */
    public record Choice(Rule rule, int pick, Optional<Contrast> price) {}
}
