package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.run.Candidate;
import keenfold.core.run.Parallel;
import keenfold.core.split.Splits;

/**
 * The contrasts of a family of pairs, with p-values and intervals adjusted by the step-down maximum of the pivots.
 *
 * <p>Definition: pairs are ordered by falling |δ|/√V; the j-th is held against the maximum of |T*_b| over pairs j, j + 1,
 * …; then running maximum. Simultaneous intervals come from the maximum over all. Pairs that differ on fewer than 6 rows
 * stay out of the maximum and are never better or worse.
 *
 * <p>References: Westfall and Young (1993), Resampling-Based Multiple Testing; Romano and Wolf (2005), Econometrica 73(4),
 * doi:10.1111/j.1468-0262.2005.00615.x.
 */
final class MaxT {
    /** Pairs that differ on fewer rows than this are near-identical. */
    static final int FEW_ROWS = 6;

    private final MetricInference inference;
    private final Parallel parallel;

    MaxT(MetricInference inference, Parallel parallel) {
        this.inference = inference;
        this.parallel = parallel;
    }

    /** One pair on its way. */
    private record Pair(
            int candidate, int against, int differing, double difference, Variance variance, Optional<Pivot> pivot) {
        boolean tested() {
            return differing >= FEW_ROWS && pivot.isPresent();
        }

        double statistic() {
            return Math.abs(difference) / variance.standardError();
        }
    }

    List<Contrast> contrasts() {
        List<int[]> family = family();
        List<MeanScore> means = inference.means();
        List<Pair> pairs = parallel.map(family.size(), i -> pair(family.get(i)[0], family.get(i)[1], means));
        double[] most = new double[inference.draws()];
        double[] adjusted = stepDown(pairs, most);
        boolean any = pairs.stream().anyMatch(Pair::tested);
        double level = inference.evidence().level();
        double reachAll = any ? Pivot.quantile(most, level) : Double.NaN;
        double reachMargin = any ? Pivot.quantile(most, 2 * level - 1) : Double.NaN;
        List<Contrast> contrasts = new ArrayList<>();
        for (int i = 0; i < pairs.size(); i++) {
            contrasts.add(contrast(pairs.get(i), adjusted[i], reachAll, reachMargin));
        }
        return contrasts;
    }

    private List<int[]> family() {
        List<Integer> compared = inference.compared();
        Optional<Integer> named = inference.evidence().against().flatMap(this::indexOf);
        List<int[]> family = new ArrayList<>();
        for (int i = 0; i < compared.size(); i++) {
            for (int j = i + 1; j < compared.size(); j++) {
                int a = compared.get(i);
                int b = compared.get(j);
                if (named.isEmpty() || named.get() == a || named.get() == b) {
                    family.add(new int[] {a, b});
                }
            }
        }
        return family;
    }

    private Optional<Integer> indexOf(String name) {
        List<Candidate> candidates = inference.panel().candidates();
        return IntStream.range(0, candidates.size())
                .filter(c -> candidates.get(c).name().equals(name))
                .boxed()
                .findFirst();
    }

    private Pair pair(int a, int b, List<MeanScore> means) {
        int differing = inference.differingRows(a, b);
        if (differing == 0) {
            Variance none = new Variance(0, 0, 0, Double.NaN, Double.NaN, Double.NaN);
            return new Pair(a, b, 0, 0, none, Optional.empty());
        }
        double[] draws = inference.differences(a, b);
        Variance variance = inference.variances().ofDifference(a, b, draws);
        double difference = means.get(a).mean() - means.get(b).mean();
        Optional<Pivot> pivot = variance.raw() > 0 && variance.total() > 0
                ? Optional.of(Pivot.of(draws, variance, inference.roots()))
                : Optional.empty();
        return new Pair(a, b, differing, difference, variance, pivot);
    }

    /** Fills {@code most} with the maximum over the whole family; returns an adjusted p per pair, 1 for pairs left out. */
    private double[] stepDown(List<Pair> pairs, double[] most) {
        double[] adjusted = new double[pairs.size()];
        Arrays.fill(adjusted, 1);
        // Stable: ties keep the order of the plan.
        List<Integer> falling = IntStream.range(0, pairs.size())
                .filter(i -> pairs.get(i).tested())
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -pairs.get(i).statistic()))
                .toList();
        for (int j = falling.size() - 1; j >= 0; j--) {
            Pair pair = pairs.get(falling.get(j));
            Pivot pivot = pair.pivot.orElseThrow();
            for (int b = 0; b < most.length; b++) {
                most[b] = Math.max(most[b], pivot.size(b));
            }
            adjusted[falling.get(j)] = Pivot.p(most, pair.statistic());
        }
        double running = 0;
        for (int i : falling) {
            running = Math.max(running, adjusted[i]);
            adjusted[i] = running;
        }
        return adjusted;
    }

    private Contrast contrast(Pair pair, double adjusted, double reachAll, double reachMargin) {
        double level = inference.evidence().level();
        double margin = inference.evidence().margin();
        double se = pair.variance.standardError();
        double d = pair.difference;
        if (pair.differing == 0) {
            return new Contrast(
                    pair.candidate,
                    pair.against,
                    0,
                    pair.variance,
                    0,
                    0,
                    0,
                    0,
                    1,
                    1,
                    false,
                    Call.EQUIVALENT,
                    Contrast.IDENTICAL);
        }
        double reach = pair.pivot.map(t -> t.quantile(level)).orElse(Double.NaN) * se;
        double all = Math.max(reachAll * se, reach);
        double p = pair.tested() ? pair.pivot.orElseThrow().p(pair.statistic()) : 1;
        boolean significant = Pivot.significant(adjusted, level, inference.draws());
        boolean within = margin > 0 && Math.abs(d) + reachMargin * se < margin;
        boolean better = d > 0 == inference.metric().higherIsBetter();
        Call call = within ? Call.EQUIVALENT : !significant ? Call.UNDECIDED : better ? Call.BETTER : Call.WORSE;
        if (inference.panel().task().splits().form() == Splits.Form.IN_ORDER) {
            significant = false;
            call = Call.NONE;
        }
        return new Contrast(
                pair.candidate,
                pair.against,
                d,
                pair.variance,
                d - reach,
                d + reach,
                d - all,
                d + all,
                p,
                adjusted,
                significant,
                call,
                note(pair));
    }

    private static String note(Pair pair) {
        if (pair.pivot.isEmpty()) {
            return "no spread was seen";
        }
        return pair.differing < FEW_ROWS
                ? String.format(Locale.ROOT, "predictions differ on %d rows only", pair.differing)
                : "";
    }
}
