package keenfold.core.infer.contrast;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Plural;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.FoldScores;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.Pivot;
import keenfold.core.infer.resample.Variance;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Parallel;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Splits;

/**
 * The contrasts of a family of pairs: each pair tested by the method asked for, p-values and intervals adjusted for all.
 *
 * <p>Definition (max-T): pairs are ordered by falling |δ|/√V; the j-th is held against the maximum of |T*_b| over pairs j,
 * j + 1, …; then running maximum. Simultaneous intervals come from the maximum over all. With Holm they are those of level
 * 1 − (1 − level)/K each. Pairs that differ on fewer than 6 rows stay out of this and are never better or worse.
 *
 * <p>References: Westfall and Young (1993), Resampling-Based Multiple Testing; Romano and Wolf (2005), Econometrica 73(4),
 * doi:10.1111/j.1468-0262.2005.00615.x; Holm (1979), Scand. J. Stat. 6(2).
 */
public final class ContrastFamily {
    /** Pairs that differ on fewer rows than this are near-identical. */
    static final int FEW_ROWS = 6;

    private static final Variance NO_VARIANCE = new Variance(0, 0, 0, Double.NaN, Double.NaN, Double.NaN);

    private final PairedDraws draws;
    private final FoldScores foldScores;
    private final List<MeanScore> means;
    private final InferenceSettings evidence;
    private final Tester tester;
    private final Parallel parallel;

    /** @param means one per candidate of the plan */
    public ContrastFamily(
            PairedDraws draws,
            FoldScores foldScores,
            List<MeanScore> means,
            InferenceSettings evidence,
            Tester tester,
            Parallel parallel) {
        this.draws = draws;
        this.foldScores = foldScores;
        this.means = List.copyOf(means);
        this.evidence = evidence;
        this.tester = tester;
        this.parallel = parallel;
    }

    /**
     * Contrasts of a family.
     *
     * @param contrasts in plan order
     * @param standings of the candidates; empty where the family is not all pairs, or no calls can be made
     */
    public record Tested(List<Contrast> contrasts, Optional<Standings> standings) {
        /** Copies the list. */
        public Tested {
            contrasts = List.copyOf(contrasts);
        }
    }

    /** The family of the evidence: all pairs, or those with the one candidate that it names. */
    public Tested ofEvidence() {
        return evidence.against()
                .flatMap(this::indexOf)
                .map(c -> of(family(Optional.of(c)), false))
                .orElseGet(this::ofAllPairs);
    }

    /** Returns the contrasts of all pairs, also where one candidate is named to compare with. */
    public Tested ofAllPairs() {
        return of(family(Optional.empty()), true);
    }

    /**
     * Returns the contrasts of some pairs, which are the family.
     *
     * @param pairs of compared candidates, by their indices
     */
    public List<Contrast> ofPairs(List<int[]> pairs) {
        return of(pairs, false).contrasts();
    }

    private Tested of(List<int[]> family, boolean all) {
        double level = evidence.level();
        double marginLevel = 2 * level - 1;
        Adjust adjust = evidence.adjustment();
        // With draws, what the family says takes a pivot of its own: then that of the pair alone is let go of at once.
        boolean drawnTwice = evidence.method() == Method.PIVOT;
        List<PairResult> alone = parallel.map(family.size(), i -> {
            PairResult found = finding(family.get(i)[0], family.get(i)[1]);
            return drawnTwice && found.tested() ? found.keeping(level, marginLevel) : found;
        });
        List<PairResult> inFamily = drawnTwice ? tester.inFamily(alone, parallel) : alone;
        List<PairResult> found = adjust == Adjust.NONE ? alone : inFamily;
        double[] most = new double[draws.count()];
        double[] adjusted =
                switch (adjust) {
                    case MAX_T -> stepDown(found, most);
                    case HOLM -> Adjust.holm(ps(found));
                    case NONE ->
                        Arrays.stream(ps(found))
                                .map(p -> Double.isNaN(p) ? 1 : p)
                                .toArray();
                };
        int tested = (int) found.stream().filter(PairResult::tested).count();
        Ends together = ends(adjust, level, tested, most);
        Ends margin = ends(adjust, marginLevel, tested, most);
        List<Contrast> contrasts =
                parallel.map(found.size(), i -> contrast(alone.get(i), found.get(i), adjusted[i], together, margin));
        boolean called = draws.panel().task().splits().form() != Splits.Form.IN_ORDER && tester.calls();
        return new Tested(
                contrasts,
                all && called && draws.compared().size() > 1
                        ? Optional.of(Standings.of(
                                draws.compared(), inFamily, draws.metric(), level, draws.count(), parallel))
                        : Optional.empty());
    }

    /** Ends of an interval that holds for the whole family, from those that hold for the pair alone. */
    private interface Ends {
        double[] of(PairResult finding, double[] own);
    }

    private static Ends ends(Adjust adjust, double level, int tested, double[] most) {
        return switch (adjust) {
            case MAX_T -> {
                double reach = tested == 0 ? Double.NaN : Pivot.quantile(most, level);
                yield (f, own) -> around(f, reach, own);
            }
            case HOLM ->
                (f, own) -> {
                    double[] ends = f.bounds().at(1 - (1 - level) / Math.max(1, tested));
                    return Double.isNaN(own[0])
                            ? own
                            : new double[] {Math.min(own[0], ends[0]), Math.max(own[1], ends[1])};
                };
            case NONE -> (f, own) -> own;
        };
    }

    /** The family's reach, or the pair's own where that is wider, as for pairs that stay out of the maximum. */
    private static double[] around(PairResult f, double reach, double[] own) {
        double se = f.variance().standardError();
        double all = reach * se;
        return Double.isNaN(own[0]) || se == 0
                ? own
                : new double[] {Math.min(own[0], f.difference() - all), Math.max(own[1], f.difference() + all)};
    }

    private static double[] ps(List<PairResult> found) {
        return found.stream().mapToDouble(PairResult::p).toArray();
    }

    private List<int[]> family(Optional<Integer> named) {
        List<Integer> compared = draws.compared();
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
        List<Candidate> candidates = draws.panel().candidates();
        return IntStream.range(0, candidates.size())
                .filter(c -> candidates.get(c).name().equals(name))
                .boxed()
                .findFirst();
    }

    private PairResult finding(int a, int b) {
        int differing = differingRows(a, b);
        if (differing == 0) {
            return new PairResult(
                    a,
                    b,
                    0,
                    NO_VARIANCE,
                    Double.NaN,
                    PairResult.Bounds.around(0, level -> 0),
                    Optional.empty(),
                    Contrast.IDENTICAL);
        }
        double difference = means.get(a).mean() - means.get(b).mean();
        return tester.find(a, b, new Tester.Pairing(difference, differing));
    }

    /** In how many rows the predictions of two candidates differ, in what the metric looks at; few are counted, more are not. */
    private int differingRows(int a, int b) {
        AlignedPredictions panel = draws.panel();
        if (draws.panel().scoresOnly()) {
            return Arrays.equals(foldScores.of(a), foldScores.of(b)) ? 0 : Integer.MAX_VALUE;
        }
        boolean labels = draws.metric().byLabels();
        boolean[] differs = new boolean[panel.rows()];
        int count = 0;
        for (int r = 0; r < panel.parts(a).size(); r++) {
            Outcomes x = panel.parts(a).get(r);
            Outcomes y = panel.parts(b).get(r);
            for (int i = 0; i < x.size() && count < FEW_ROWS; i++) {
                if (!differs[x.row(i)] && (labels ? x.predicted(i) != y.predicted(i) : probabilitiesDiffer(x, y, i))) {
                    differs[x.row(i)] = true;
                    count++;
                }
            }
        }
        return count;
    }

    private static boolean probabilitiesDiffer(Outcomes x, Outcomes y, int i) {
        for (int c = 0; c < x.classes(); c++) {
            if (x.probability(i, c) != y.probability(i, c)) {
                return true;
            }
        }
        return false;
    }

    /** Fills {@code most} with the maximum over the whole family; returns an adjusted p per pair, 1 for pairs left out. */
    private static double[] stepDown(List<PairResult> found, double[] most) {
        double[] adjusted = new double[found.size()];
        Arrays.fill(adjusted, 1);
        // Stable: ties keep the order of the plan.
        List<Integer> falling = IntStream.range(0, found.size())
                .filter(i -> found.get(i).tested())
                .boxed()
                .sorted(Comparator.comparingDouble((Integer i) -> -found.get(i).statistic()))
                .toList();
        for (int j = falling.size() - 1; j >= 0; j--) {
            PairResult finding = found.get(falling.get(j));
            Pivot pivot = finding.pivot().orElseThrow();
            for (int b = 0; b < most.length; b++) {
                most[b] = Math.max(most[b], pivot.size(b));
            }
            adjusted[falling.get(j)] = Pivot.p(most, finding.statistic());
        }
        double running = 0;
        for (int i : falling) {
            running = Math.max(running, adjusted[i]);
            adjusted[i] = running;
        }
        return adjusted;
    }

    /**
     * @param alone what was found about the pair by itself
     * @param f what is said of it in its family
     */
    private Contrast contrast(PairResult alone, PairResult f, double adjustedByFamily, Ends all, Ends margin) {
        double level = evidence.level();
        double wanted = evidence.margin();
        double[] own = alone.bounds().at(level);
        double[] together = all.of(f, own);
        double adjusted = alone.tested() ? Math.max(alone.p(), adjustedByFamily) : adjustedByFamily;
        boolean significant = evidence.method() == Method.PIVOT
                ? Pivot.significant(adjusted, level, draws.count())
                : adjusted < 1 - level - 1e-12;
        boolean within = f.note().equals(Contrast.IDENTICAL) || (wanted > 0 && within(alone, f, wanted, margin));
        boolean better = f.difference() > 0 == draws.metric().higherIsBetter();
        Call call = within ? Call.EQUIVALENT : !significant ? Call.UNDECIDED : better ? Call.BETTER : Call.WORSE;
        boolean inOrder = draws.panel().task().splits().form() == Splits.Form.IN_ORDER;
        if ((inOrder || !tester.calls()) && !f.note().equals(Contrast.IDENTICAL)) {
            significant = false;
            call = Call.NONE;
        }
        return new Contrast(
                f.candidate(),
                f.against(),
                f.difference(),
                alone.variance(),
                f.variance(),
                cut(own[0]),
                cut(own[1]),
                cut(together[0]),
                cut(together[1]),
                (together[1] - together[0]) / 2,
                alone.tested() ? alone.p() : 1,
                adjusted,
                significant,
                call,
                f.note());
    }

    /** A difference as far as the metric can give one. */
    private double cut(double difference) {
        double range = draws.metric().most() - draws.metric().least();
        return Math.max(-range, Math.min(range, difference));
    }

    private boolean within(PairResult alone, PairResult f, double wanted, Ends margin) {
        double[] ends = margin.of(f, alone.bounds().at(2 * evidence.level() - 1));
        return ends[0] > -wanted && ends[1] < wanted;
    }

    /** The note of a pair that cannot be tested. */
    static String note(Tester.Pairing pairing, boolean spread) {
        if (!spread) {
            return Contrast.NO_SPREAD;
        }
        return pairing.near()
                ? String.format(Locale.ROOT, "predictions differ on %s only", Plural.of(pairing.differing(), "row"))
                : "";
    }
}
