package keenfold.core.infer.contrast;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.HalfRuns;
import keenfold.core.infer.resample.HalvesVariance;
import keenfold.core.infer.resample.PairedDraws;
import keenfold.core.infer.resample.UnitInfluences;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;
import keenfold.core.metric.Metric;
import keenfold.core.metric.MetricKind;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Halving;
import keenfold.core.run.Parallel;

/**
 * A t-test whose variance comes from runs on halves of the rows, which share none.
 *
 * <p>Definition: δ_shr is the difference in half h of split s, repeat r of H; x_s = (mean_r δ_s1r − mean_r δ_s2r)/2;
 * E = mean_s x_s²; c = mean over the 2S halves of Var_r δ_shr, divided by 2H. I_i is the influence of row i on a difference
 * (of a group: the sum of its rows'), and C(I, I′) = Σ_c n_c/(n_c − 1)·Σ over the rows of class c of the products of their
 * deviations from the class means; the class of a group is that of most of its rows. C_half: half the mean over halves of C
 * between two repeats of one half; C_full = (R·C(Ī, Ī) − mean_r C(I_r, I_r))/(R − 1) of the run on all rows;
 * g = C_full/C_half, kept within 0.5 and 1.5, 1 if C_half ≤ 0; V_b = Σ_c n_c·(class mean of Ī)², 0 for rank metrics.
 * Then V = max(g·(E − c) + V_b + V_rep/R, V_case/2), with min(ν, max(2, S·min(1, V/(E + V_b)))) degrees of freedom, ν those
 * of the preset method. No calls below S = 10.
 *
 * <p>Reason: two halves share no row, so that E − c is without bias half the variance of the difference at n/2 rows, for any
 * classifier; g carries it over to n rows. It assumes that (E − c)/C_half is the same at n/2 and at n rows.
 *
 * <p>Source: docs/methods.md, halves.
 */
public final class HalvesTester implements Tester {
    /** Below this number of splits no call is made. */
    public static final int FEWEST_SPLITS = 10;

    /** Below these degrees of freedom the chance of the fits outweighs. */
    public static final double FEW_FREEDOM = 8;

    private static final double MOST_DROPPED = 0.05;
    private static final double LEAST_SCALE = 0.5;
    private static final double MOST_SCALE = 1.5;
    private static final double LEAST_FREEDOM = 2;

    private final PairedDraws draws;
    private final Metric metric;
    private final Halving halving;
    private final List<Integer> compared;
    private final UnitInfluences influences;
    private final UnitInfluences.ByClass tested;
    /** By compared candidate, kept half, repeat. */
    private final double[][][] scores;
    /** Half the mean over halves of C between two repeats, by pair of compared candidates. */
    private final double[][] ofHalves;

    private final double[][] ofWhole;
    private final double[][] meanByClass;

    /**
     * Reads the runs on halves.
     *
     * @param halving how many halves there are to be
     * @throws IllegalArgumentException if there are none, if more than a twentieth of the splits lack a run or a score, or
     *     if the rows were not divided into the same number of folds at least twice
     */
    public HalvesTester(PairedDraws draws, Halving halving, Parallel parallel) {
        this.draws = draws;
        this.metric = draws.metric();
        this.halving = halving;
        this.compared = draws.compared();
        AlignedPredictions panel = draws.panel();
        HalfRuns runs = panel.halfRuns();
        Checks.that(
                panel.candidates().stream().noneMatch(c -> c.kind().name().equals("adopted")),
                "method halves reruns candidates, which adopted ones cannot be; use pivot");
        Checks.that(
                halving.splits() > 0 && runs.halves() > 0,
                "method halves needs runs on halves of the rows, of which this ledger has none; write evidence: {halves:"
                        + " 25} into the plan and run it again, which adds them");
        int repeats = panel.parts(compared.get(0)).size();
        Checks.that(repeats > 1, "method halves needs at least 2 repeats of the run itself, not %d", repeats);
        this.influences = new UnitInfluences(metric, panel.task().data());
        this.tested = influences.tested(panel.parts(compared.get(0)).get(0));
        int[] kept = kept(runs);
        this.scores = new double[compared.size()][kept.length][halving.repeats()];
        List<double[][]> each = parallel.map(kept.length, i -> half(runs, kept[i], i));
        this.ofHalves = new double[compared.size()][compared.size()];
        each.forEach(one -> add(ofHalves, one, 0.5 / kept.length));
        this.ofWhole = new double[compared.size()][compared.size()];
        this.meanByClass = new double[compared.size()][];
        whole(panel, repeats);
    }

    /** The halves of the splits in which every candidate has a score in every repeat. */
    private int[] kept(HalfRuns runs) {
        List<Integer> splits = new ArrayList<>();
        List<Integer> dropped = new ArrayList<>();
        for (int s = 0; s < halving.splits(); s++) {
            (scored(runs, 2 * s) && scored(runs, 2 * s + 1) ? splits : dropped).add(s);
        }
        Checks.that(
                dropped.size() <= MOST_DROPPED * halving.splits(),
                "method halves: %d of %d splits into halves lack a run, or a score in one, of a candidate (the first is"
                        + " split %d); run the plan to its end, or leave out the candidate that fails",
                dropped.size(),
                halving.splits(),
                dropped.isEmpty() ? 0 : dropped.get(0) + 1);
        return splits.stream().flatMapToInt(s -> IntStream.of(2 * s, 2 * s + 1)).toArray();
    }

    private boolean scored(HalfRuns runs, int half) {
        return compared.stream()
                .allMatch(c -> IntStream.range(0, halving.repeats()).allMatch(r -> runs.of(half, c, r)
                        .map(o -> !Double.isNaN(metric.score(o)))
                        .orElse(false)));
    }

    /** Sets the scores of one half; returns C between two repeats of it, averaged over pairs of repeats. */
    private double[][] half(HalfRuns runs, int half, int place) {
        int repeats = halving.repeats();
        double[][][] deviations = new double[compared.size()][repeats][];
        for (int c = 0; c < deviations.length; c++) {
            for (int r = 0; r < repeats; r++) {
                Outcomes outcomes = runs.of(half, compared.get(c), r).orElseThrow();
                scores[c][place][r] = metric.score(outcomes);
                deviations[c][r] = influences.tested(outcomes).deviations(influences.of(outcomes));
            }
        }
        double[][] products = new double[compared.size()][compared.size()];
        double pairs = repeats * (repeats - 1.0);
        for (int a = 0; a < products.length; a++) {
            for (int b = 0; b <= a; b++) {
                double sum = 0;
                for (int p = 0; p < repeats; p++) {
                    for (int q = 0; q < repeats; q++) {
                        sum += p == q ? 0 : dot(deviations[a][p], deviations[b][q]);
                    }
                }
                products[a][b] = sum / pairs;
                products[b][a] = products[a][b];
            }
        }
        return products;
    }

    /** C_full by pair of candidates, and the class means of mean influences. */
    private void whole(AlignedPredictions panel, int repeats) {
        double[][] mean = new double[compared.size()][influences.units()];
        for (int r = 0; r < repeats; r++) {
            double[][] deviations = new double[compared.size()][];
            for (int c = 0; c < deviations.length; c++) {
                double[] own = influences.of(panel.parts(compared.get(c)).get(r));
                for (int u = 0; u < own.length; u++) {
                    mean[c][u] += own[u] / repeats;
                }
                deviations[c] = tested.deviations(own);
            }
            addProducts(deviations, -1.0 / repeats / (repeats - 1));
        }
        double[][] deviations = new double[compared.size()][];
        for (int c = 0; c < deviations.length; c++) {
            meanByClass[c] = tested.means(mean[c]);
            deviations[c] = tested.deviations(mean[c]);
        }
        addProducts(deviations, repeats / (repeats - 1.0));
    }

    private void addProducts(double[][] deviations, double times) {
        for (int a = 0; a < deviations.length; a++) {
            for (int b = 0; b <= a; b++) {
                double product = times * dot(deviations[a], deviations[b]);
                ofWhole[a][b] += product;
                ofWhole[b][a] = ofWhole[a][b];
            }
        }
    }

    private static double dot(double[] a, double[] b) {
        double sum = 0;
        for (int i = 0; i < a.length; i++) {
            sum += a[i] * b[i];
        }
        return sum;
    }

    private static void add(double[][] to, double[][] more, double times) {
        for (int a = 0; a < to.length; a++) {
            for (int b = 0; b < to.length; b++) {
                to[a][b] += times * more[a][b];
            }
        }
    }

    /** What products of two candidates' influences say of the products of their differences. */
    private static double ofDifference(double[][] products, int a, int b) {
        return products[a][a] + products[b][b] - 2 * products[a][b];
    }

    @Override
    public boolean calls() {
        return halving.splits() >= FEWEST_SPLITS;
    }

    @Override
    public PairResult find(int candidate, int against, Pairing pairing) {
        double[] drawn = draws.differences(candidate, against);
        Variance preset = draws.variances().ofDifference(candidate, against, drawn);
        Variance variance = variance(candidate, against, preset);
        boolean spread = variance.total() > 0;
        if (!spread && PairResult.isRounding(pairing.difference())) {
            return PairResult.same(candidate, against, pairing.difference(), variance);
        }
        double se = variance.standardError();
        double nu = variance.freedom();
        return new PairResult(
                candidate,
                against,
                pairing.difference(),
                variance,
                !spread || pairing.near() ? Double.NaN : StudentT.twoSided(pairing.difference() / se, nu),
                spread
                        ? PairResult.Bounds.around(pairing.difference(), level -> StudentT.reach(level, nu) * se)
                        : PairResult.Bounds.none(),
                Optional.empty(),
                ContrastFamily.note(pairing, spread));
    }

    private Variance variance(int candidate, int against, Variance preset) {
        int a = compared.indexOf(candidate);
        int b = compared.indexOf(against);
        int kept = scores[a].length;
        double between = 0;
        double within = 0;
        for (int s = 0; s < kept / 2; s++) {
            double[] one = minus(scores[a][2 * s], scores[b][2 * s]);
            double[] other = minus(scores[a][2 * s + 1], scores[b][2 * s + 1]);
            double x = (VarianceModel.mean(one) - VarianceModel.mean(other)) / 2;
            between += x * x;
            within += VarianceModel.sampleVariance(one) + VarianceModel.sampleVariance(other);
        }
        between /= kept / 2.0;
        double chance = within / kept / (2 * halving.repeats());
        double half = ofDifference(ofHalves, a, b);
        double scale = half > 0 ? Math.min(MOST_SCALE, Math.max(LEAST_SCALE, ofDifference(ofWhole, a, b) / half)) : 1;
        double betweenClasses = metric.kind() == MetricKind.RANK ? 0 : betweenClasses(a, b);
        double[] repeats = draws.variances().partDifferences(candidate, against);
        double total = Math.max(
                scale * (between - chance) + betweenClasses + VarianceModel.sampleVariance(repeats) / repeats.length,
                preset.cases() / 2);
        double freedom = Math.max(LEAST_FREEDOM, kept / 2.0 * Math.min(1, total / (between + betweenClasses)));
        return preset.byHalves(
                total,
                Math.min(freedom, preset.casesFreedom()),
                new HalvesVariance(
                        between,
                        chance,
                        scale,
                        half > 0 ? (between - chance) / half - 1 : Double.NaN,
                        preset.total(),
                        preset.freedom()));
    }

    private double betweenClasses(int a, int b) {
        double sum = 0;
        for (int c = 0; c < meanByClass[a].length; c++) {
            double mean = meanByClass[a][c] - meanByClass[b][c];
            sum += tested.size(c) * mean * mean;
        }
        return sum;
    }

    private static double[] minus(double[] a, double[] b) {
        double[] difference = new double[a.length];
        Arrays.setAll(difference, i -> a[i] - b[i]);
        return difference;
    }
}
