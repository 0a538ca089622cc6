package keenfold.core.pick;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.Standings;

/**
 * What each rule picks on one data set, and what it costs.
 *
 * @param rule the rule in force
 * @param pick the candidate it picks
 * @param best the candidate with the best mean, the simplest among equals
 * @param bestMean its mean, on the metric's own scale
 * @param standardError the standard error of that mean; NaN if there is none
 * @param threshold the worst mean that is eligible, on the metric's own scale; NaN if the rule has none
 * @param eligible the candidates among which the simplest is picked, the simplest first
 * @param choices the pick of every rule with its price
 * @param frequency per compared candidate the share of the draws in which the rule picks it; empty without draws
 * @param mayBeBest the candidates that may be the best, by falling mean; empty where no differences are called
 * @param standings how all of them stand, where differences are called
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
        Map<Integer, Double> frequency,
        List<Integer> mayBeBest,
        Optional<Standings> standings) {
    /** Copies the lists. */
    public Picks {
        eligible = List.copyOf(eligible);
        choices = List.copyOf(choices);
        frequency = Collections.unmodifiableMap(new LinkedHashMap<>(frequency));
        mayBeBest = List.copyOf(mayBeBest);
    }

    /** Returns the choice of the rule in force. */
    public Choice inForce() {
        return choices.stream().filter(c -> c.rule().equals(rule)).findFirst().orElseThrow();
    }

    /** Returns the contrast of the pick with the best mean, where the pick is shown to be worse. */
    public Optional<Contrast> shownWorse() {
        Choice choice = inForce();
        return choice.price().filter(c -> choice.without().isEmpty() && c.call() == Call.WORSE);
    }

    /**
     * The pick of one rule.
     *
     * @param rule the rule
     * @param pick the candidate; the best where the rule cannot be applied
     * @param price the contrast of the pick with the best mean; empty if it is the best
     * @param without why the rule cannot be applied; empty if it can
     */
    public record Choice(Rule rule, int pick, Optional<Contrast> price, String without) {}

    /**
     * A family along its varied settings.
     *
     * @param name of the family
     * @param members candidates in plan order
     * @param pick the member that the rule picks from the family alone
     * @param best the member with the best mean
     */
    public record Along(String name, List<Integer> members, int pick, int best) {
        /** Copies the members. */
        public Along {
            members = List.copyOf(members);
        }
    }
}
