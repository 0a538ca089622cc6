package keenfold.core.pick;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntToDoubleFunction;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.Standings;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.Variance;
import keenfold.core.metric.Metric;
import keenfold.core.run.candidate.Family;
import keenfold.core.split.Splits;

/**
 * Lets the rules choose among the compared candidates.
 *
 * <p>Definition: means are turned so that higher is better. The best is the highest mean, among equals (1e-12) the
 * simplest; it is always eligible. Frequency: the share of the draws, every mean's draws spread about it by
 * √(V/V_raw), in which the rule picks a candidate, with the best of that draw; sizes, standard errors and critical values
 * are those of the full data.
 *
 * <p>Corrected for choosing: in each draw the rule chooses on the plain means of the draw, and the chosen one is scored on
 * the rows (groups) that the draw left out; the average of these.
 *
 * <p>Reference: Tsamardinos, Greasidou and Borboudakis (2018), Mach. Learn. 107, doi:10.1007/s10994-018-5714-4, for the
 * correction.
 */
public final class Picker {
    private static final double EQUAL = 1e-12;

    private final MetricInference inference;
    private final Simplicity simplicity;
    private final List<Integer> candidates;
    private final List<MeanScore> means;
    /** Whether means have standard errors: of adopted single scores they have none. */
    private final boolean spread;

    private final Map<Integer, Double> foldErrors = new HashMap<>();
    private Optional<Map<List<Integer>, Contrast>> pairs = Optional.empty();

    private Picker(MetricInference inference, Simplicity simplicity, List<Integer> candidates) {
        this.inference = inference;
        this.simplicity = simplicity;
        this.candidates = candidates;
        this.means = inference.means();
        this.spread =
                candidates.stream().noneMatch(c -> Double.isNaN(means.get(c).standardError()));
    }

    /** Returns the choices under one metric; empty if no candidate can be compared. */
    public static Optional<Picks> pick(MetricInference inference, Simplicity simplicity, Rule rule) {
        return inference.compared().isEmpty()
                ? Optional.empty()
                : Optional.of(new Picker(inference, simplicity, inference.compared()).picks(rule));
    }

    /** Returns the candidate that a rule picks, without its reasons; empty if no candidate can be compared. */
    public static Optional<Integer> picked(MetricInference inference, Simplicity simplicity, Rule rule) {
        if (inference.compared().isEmpty()) {
            return Optional.empty();
        }
        Picker picker = new Picker(inference, simplicity, inference.compared());
        IntToDoubleFunction turned = picker::turnedMean;
        return Optional.of(
                picker.eligible(rule, turned, picker.best(turned), true).get(0));
    }

    /** Returns the candidate with the best mean, the simplest among equals; empty if no candidate can be compared. */
    public static Optional<Integer> best(MetricInference inference, Simplicity simplicity) {
        if (inference.compared().isEmpty()) {
            return Optional.empty();
        }
        Picker picker = new Picker(inference, simplicity, inference.compared());
        return Optional.of(picker.best(picker::turnedMean));
    }

    /**
     * Returns what choosing by a rule is worth on rows that the choice did not see, on the metric's own scale; nothing where
     * too few draws leave out what could be scored, where there are no draws, or no choice.
     */
    public static Corrected corrected(MetricInference inference, Simplicity simplicity, Rule rule) {
        return inference.compared().size() < 2 || inference.draws() == 0
                ? Corrected.NONE
                : new Picker(inference, simplicity, inference.compared()).corrected(rule);
    }

    /** Returns each family of several compared members along its varied settings. */
    public static List<Picks.Along> families(MetricInference inference, Simplicity simplicity, Rule rule) {
        List<Picks.Along> all = new ArrayList<>();
        for (Family family : Family.of(inference.panel().candidates())) {
            List<Integer> members = new ArrayList<>();
            for (int c = 0; c < inference.panel().candidates().size(); c++) {
                if (inference.panel().candidates().get(c).family().equals(family.name())
                        && inference.compared().contains(c)) {
                    members.add(c);
                }
            }
            if (members.size() > 1) {
                Picker picker = new Picker(inference, simplicity, members);
                IntToDoubleFunction turned = picker::turnedMean;
                int best = picker.best(turned);
                all.add(new Picks.Along(
                        family.name(),
                        members,
                        picker.eligible(rule, turned, best, true).get(0),
                        best));
            }
        }
        return all;
    }

    private double turnedMean(int candidate) {
        return inference.metric().turned(means.get(candidate).mean());
    }

    private Picks picks(Rule rule) {
        IntToDoubleFunction turned = this::turnedMean;
        int best = best(turned);
        List<Integer> eligible = eligible(rule, turned, best, true);
        List<Picks.Choice> choices = new ArrayList<>();
        for (Rule each : rule.withOthers()) {
            int pick = eligible(each, turned, best, true).get(0);
            choices.add(
                    new Picks.Choice(each, pick, pick == best ? Optional.empty() : pair(pick, best), without(each)));
        }
        return new Picks(
                rule,
                eligible.get(0),
                best,
                means.get(best).mean(),
                means.get(best).standardError(),
                inference.metric().turned(threshold(rule, turned.applyAsDouble(best), best)),
                eligible,
                choices,
                frequency(rule),
                candidates.stream()
                        .filter(this::mayBeBest)
                        .sorted(Comparator.comparingDouble(c -> -turned.applyAsDouble(c)))
                        .toList(),
                standings());
    }

    /** Why a rule cannot be applied to these results; empty if it can. */
    private String without(Rule rule) {
        return switch (rule.kind()) {
            case MAY_BE_BEST ->
                inference.calls() ? "" : "no differences are called here, so that none is shown to be better";
            case WITHIN_MARGIN -> inference.margin() > 0 ? "" : "no margin is given; --margin or the plan's evidence";
            case FOLD_SE ->
                inference.panel().task().splits().form() == Splits.Form.PARTITIONS
                        ? ""
                        : "splits are no folds of one another";
            case ONE_SE, M_SE, ONE_SE_PAIRED -> spread ? "" : "the best mean has no standard error";
            case BEST_MEAN -> "";
        };
    }

    private double se(int candidate) {
        double se = means.get(candidate).standardError();
        return Double.isNaN(se) ? 0 : se;
    }

    private double foldError(int candidate) {
        return foldErrors.computeIfAbsent(candidate, inference::foldStandardError);
    }

    private int best(IntToDoubleFunction turned) {
        double most = Double.NEGATIVE_INFINITY;
        for (int c : candidates) {
            most = Math.max(most, turned.applyAsDouble(c));
        }
        double limit = most - EQUAL;
        return simplest(turned, c -> turned.applyAsDouble(c) >= limit);
    }

    private int simplest(IntToDoubleFunction turned, java.util.function.IntPredicate eligible) {
        int found = -1;
        for (int c : candidates) {
            if (eligible.test(c) && (found < 0 || simplicity.compare(c, found, turned) < 0)) {
                found = c;
            }
        }
        return found;
    }

    /** The least turned mean that is eligible; NaN for rules that look at differences, or take the best. */
    private double threshold(Rule rule, double most, int best) {
        return switch (rule.kind()) {
            case ONE_SE -> most - se(best);
            case M_SE -> most - rule.number() * se(best);
            case FOLD_SE -> most - foldError(best);
            case WITHIN_MARGIN -> inference.margin() > 0 ? most - inference.margin() : Double.NaN;
            case ONE_SE_PAIRED, MAY_BE_BEST, BEST_MEAN -> Double.NaN;
        };
    }

    /** The eligible candidates, the simplest first; never empty. */
    private List<Integer> eligible(Rule rule, IntToDoubleFunction turned, int best, boolean full) {
        return candidates.stream()
                .filter(c -> isEligible(rule, turned, best, c, full))
                .sorted((a, b) -> simplicity.compare(a, b, turned))
                .toList();
    }

    /** @param full whether the means are those of all rows, of which it is known what is significant */
    private boolean isEligible(Rule rule, IntToDoubleFunction turned, int best, int c, boolean full) {
        if (c == best) {
            return true;
        }
        if (rule.kind() == Rule.Kind.BEST_MEAN || !without(rule).isEmpty()) {
            return false;
        }
        double deficit = turned.applyAsDouble(best) - turned.applyAsDouble(c);
        return switch (rule.kind()) {
            case ONE_SE_PAIRED -> deficit <= standardErrorOf(c, best);
            case MAY_BE_BEST ->
                (full && candidates.equals(inference.compared()))
                        ? mayBeBest(c)
                        : candidates.stream().filter(o -> o != c).allMatch(o -> within(turned, c, o));
            default -> turned.applyAsDouble(c) >= threshold(rule, turned.applyAsDouble(best), best);
        };
    }

    private boolean mayBeBest(int c) {
        return standings().map(s -> s.of(c).mayBeBest()).orElse(false);
    }

    /** Whether another candidate would not be shown to be better, were the means these. */
    private boolean within(IntToDoubleFunction turned, int c, int other) {
        double lead = turned.applyAsDouble(other) - turned.applyAsDouble(c);
        return lead <= standings().map(s -> s.reach(c, other)).orElse(0.0);
    }

    private Optional<Standings> standings() {
        return inference.standings();
    }

    private double standardErrorOf(int a, int b) {
        double se = pair(a, b).map(Contrast::standardError).orElse(0.0);
        return Double.isNaN(se) ? 0 : se;
    }

    /** The contrast of two candidates among all pairs, whatever the plan compares with. */
    private Optional<Contrast> pair(int a, int b) {
        if (pairs.isEmpty()) {
            Map<List<Integer>, Contrast> all = new HashMap<>();
            for (Contrast c : inference.allPairs()) {
                all.put(List.of(c.candidate(), c.against()), c);
                all.put(List.of(c.against(), c.candidate()), c.flipped());
            }
            pairs = Optional.of(all);
        }
        return Optional.ofNullable(pairs.get().get(List.of(a, b)));
    }

    private Map<Integer, Double> frequency(Rule rule) {
        Map<Integer, Double> shares = new LinkedHashMap<>();
        if (inference.draws() == 0) {
            return shares;
        }
        Map<Integer, double[]> spread = new HashMap<>();
        for (int c : candidates) {
            spread.put(c, scaledDraws(c));
        }
        Map<Integer, Integer> counts = new LinkedHashMap<>();
        candidates.forEach(c -> counts.put(c, 0));
        for (int draw = 0; draw < inference.draws(); draw++) {
            int b = draw;
            counts.merge(
                    chosen(rule, c -> inference.metric().turned(spread.getOrDefault(c, new double[0])[b])),
                    1,
                    Integer::sum);
        }
        counts.forEach((c, n) -> shares.put(c, (double) n / inference.draws()));
        return shares;
    }

    private int chosen(Rule rule, IntToDoubleFunction turned) {
        int best = best(turned);
        return simplest(turned, c -> isEligible(rule, turned, best, c, false));
    }

    private Corrected corrected(Rule rule) {
        int[] chosen = new int[inference.draws()];
        for (int draw = 0; draw < chosen.length; draw++) {
            int b = draw;
            chosen[b] = chosen(rule, c -> inference.metric().turned(inference.drawnMean(c, b)));
        }
        double[] each = inference.leftOut(chosen);
        if (each.length == 0) {
            return Corrected.NONE;
        }
        double mean = Arrays.stream(each).sum() / each.length;
        double squares = Arrays.stream(each).map(s -> (s - mean) * (s - mean)).sum();
        IntToDoubleFunction turned = this::turnedMean;
        int best = best(turned);
        double own = means.get(eligible(rule, turned, best, true).get(0)).mean();
        Metric metric = inference.metric();
        return new Corrected(
                mean,
                Math.sqrt(squares / (each.length - 1.0) / each.length),
                metric.turned(mean) > metric.turned(own) ? own : mean);
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
