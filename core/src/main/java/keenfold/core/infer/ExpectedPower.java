package keenfold.core.infer;

import java.util.Optional;
import keenfold.core.infer.distribution.Special;
import keenfold.core.split.Splits;

/**
 * What a comparison can be expected to see, before anything is fitted: a rule of thumb for accuracy.
 *
 * <p>Definition: between two candidates of any use the standard error of a difference in accuracy is about 0.35/√n (0.24/√n
 * for alike ones, 0.7/√n for very different ones, as measured); the share of it that other training rows add is taken as
 * 0.3 of the variance of the cases. With V_0 = 0.35²/(1.3·n) of the cases: several partitions 1.3·V_0; one, V_0·(1 + k·ρ);
 * random splits (1/J + ρ)·V_0·n/m, m rows of a test side, ρ test rows per training row; one split V_0·n/m. A difference of
 * (q + 0.84)·√V is called with probability 0.8; q is the normal quantile of 1 − (1 − level)/2, of (1 − level)/(2·pairs)
 * among several pairs.
 *
 * <p>Source: docs/methods.md, what could be seen; Cohen (1988), Statistical Power Analysis, section 2.4, for the power.
 *
 * @param alone the difference in accuracy that can be seen between two candidates that were named beforehand
 * @param amongAll the same among all pairs
 * @param pairs how many those are
 */
public record ExpectedPower(double alone, double amongAll, long pairs) {
    private static final double VARIANCE = 0.35 * 0.35;
    private static final double TRAINING = 1.3;
    private static final double NORMAL_80 = 0.84;

    /**
     * Estimates it; nothing where splits follow each other in time, so that no differences are called, or there is nothing
     * to compare.
     *
     * @param candidates how many are compared
     * @param level such as 0.95
     */
    public static Optional<ExpectedPower> of(Splits splits, int candidates, double level) {
        if (splits.form() == Splits.Form.IN_ORDER || candidates < 2) {
            return Optional.empty();
        }
        long pairs = (long) candidates * (candidates - 1) / 2;
        double error = Math.sqrt(variance(splits));
        return Optional.of(new ExpectedPower(detectable(error, level, 1), detectable(error, level, pairs), pairs));
    }

    private static double variance(Splits splits) {
        double cases = VARIANCE / TRAINING;
        double folds = (double) splits.count() / splits.repeats();
        return switch (splits.form()) {
            case PARTITIONS ->
                cases / splits.rows() * (splits.repeats() > 1 ? TRAINING : 1 + folds * splits.testPerTraining());
            case RANDOM, IN_ORDER -> (1.0 / splits.count() + splits.testPerTraining()) * cases / tested(splits);
            case SINGLE -> cases / tested(splits);
        };
    }

    /** Rows of a test side, on average. */
    private static double tested(Splits splits) {
        double tested = 0;
        for (int r = 0; r < splits.repeats(); r++) {
            for (int f = 0; f < splits.folds(r); f++) {
                tested += splits.at(r, f).test().toArray().length;
            }
        }
        return tested / splits.count();
    }

    private static double detectable(double error, double level, long comparisons) {
        return (-Special.normalQuantile((1 - level) / 2 / comparisons) + NORMAL_80) * error;
    }
}
