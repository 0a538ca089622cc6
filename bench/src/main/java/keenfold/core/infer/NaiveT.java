package keenfold.core.infer;

import keenfold.core.infer.distribution.StudentT;
import keenfold.core.infer.resample.VarianceModel;

/**
 * The ordinary paired t-test on fold differences, which takes overlapping training sides for independent ones. Kept as the
 * negative control of the validity study; Keen Fold does not offer it.
 */
public final class NaiveT {
    private NaiveT() {}

    /** Returns its two-sided p-value on the fold differences of two candidates; 1 where they do not vary. */
    public static double p(MetricInference inference, int a, int b) {
        double[] x = inference.foldScores().of(a);
        double[] y = inference.foldScores().of(b);
        double[] d = new double[x.length];
        int n = 0;
        double sum = 0;
        for (int i = 0; i < x.length; i++) {
            if (!Double.isNaN(x[i] - y[i])) {
                d[n++] = x[i] - y[i];
                sum += x[i] - y[i];
            }
        }
        double variance = VarianceModel.sampleVariance(java.util.Arrays.copyOf(d, n));
        return variance > 0 ? StudentT.twoSided(sum / n / Math.sqrt(variance / n), n - 1.0) : 1;
    }
}
