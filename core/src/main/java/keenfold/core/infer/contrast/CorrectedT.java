package keenfold.core.infer.contrast;

import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.FoldScores;
import keenfold.core.infer.resample.Variance;
import keenfold.core.infer.resample.VarianceModel;

/**
 * A t-test on the differences of fold scores, whose variance is corrected for training sides that share rows.
 *
 * <p>Definition: t = δ/(S_d·√(1/J + ρ)), S_d the sd of the J differences of fold scores (all repeats), ρ the mean of test
 * rows per training row; J − 1 degrees of freedom.
 *
 * <p>Assumes that ρ/(1 + ρ) is the correlation of fold differences; liberal for unstable classifiers. Not for fewer than 5
 * splits nor for leave-one-out, where fold scores are single rows.
 *
 * <p>Reference: Nadeau and Bengio (2003), Mach. Learn. 52, doi:10.1023/A:1024068626366; with repeats Bouckaert and Frank
 * (2004), PAKDD, doi:10.1007/978-3-540-24775-3_3.
 */
public final class CorrectedT implements Tester {
    private final FoldScores scores;
    private final double testPerTraining;

    /** @throws IllegalArgumentException if splits are too few, or test single rows */
    public CorrectedT(FoldScores scores) {
        this.scores = scores;
        this.testPerTraining = scores.panel().testPerTraining();
        int splits = scores.panel().common();
        Checks.that(
                splits >= FoldScores.FEWEST,
                "method corrected-t needs %d splits: there are %d; use pivot, or more folds",
                FoldScores.FEWEST,
                splits);
        Checks.that(
                !scores.panel().testsSingleRows(),
                "method corrected-t is not for leave-one-out, whose fold scores are single rows; use pivot");
    }

    @Override
    public PairResult find(int a, int b, Pairing pairing) {
        double[] x = scores.of(a);
        double[] y = scores.of(b);
        double[] d = new double[x.length];
        int defined = 0;
        for (int i = 0; i < d.length; i++) {
            if (!Double.isNaN(x[i] - y[i])) {
                d[defined++] = x[i] - y[i];
            }
        }
        double[] kept = java.util.Arrays.copyOf(d, defined);
        double total = (1.0 / defined + testPerTraining) * VarianceModel.sampleVariance(kept);
        double nu = defined - 1.0;
        Variance variance = new Variance(total, Double.NaN, Double.NaN, nu, Double.NaN, Double.NaN);
        boolean spread = total > 0;
        if (!spread && PairResult.isRounding(pairing.difference())) {
            return PairResult.same(a, b, pairing.difference(), variance);
        }
        double se = variance.standardError();
        double p = !spread || pairing.near() ? Double.NaN : StudentT.twoSided(pairing.difference() / se, nu);
        return new PairResult(
                a,
                b,
                pairing.difference(),
                variance,
                p,
                spread
                        ? PairResult.Bounds.around(pairing.difference(), level -> StudentT.reach(level, nu) * se)
                        : PairResult.Bounds.none(),
                Optional.empty(),
                ContrastFamily.note(pairing, spread));
    }
}
