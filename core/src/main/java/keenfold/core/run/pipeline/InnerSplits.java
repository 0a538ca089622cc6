package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import keenfold.core.data.Seed;
import keenfold.core.data.ValueException;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.split.KFold;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.core.split.Split;
import keenfold.core.split.Splits;

/** Divides training rows once more, as tuning and what learns from predictions of training rows need it. */
final class InnerSplits {
    private InnerSplits() {}

    /**
     * Divides training rows: stratified and with whole groups, or in time where the outer splits are.
     *
     * @param what for, in words
     * @throws FitFailure if they cannot be divided so
     */
    static Splits divide(TrainingRows rows, int folds, int repeats, Seed seed, String what) {
        Splits outer = rows.outer();
        Scheme scheme =
                outer.form() == Splits.Form.IN_ORDER && rows.rows().order().isPresent()
                        ? new RollingOrigin(0.5, 0.5 / folds, 0, OptionalDouble.empty())
                        : new KFold(folds, repeats, true);
        try {
            return scheme.divide(rows.rows(), outer.bound(), seed.value());
        } catch (ValueException e) {
            throw new FitFailure(what + " cannot divide the training rows: " + e.getMessage());
        }
    }

    /** Predictions of training rows by fits that did not see them. */
    static final class Predictions {
        private final int[] rows;
        private final double[] probability;

        Predictions(int[] rows, double[] probability) {
            this.rows = rows;
            this.probability = probability;
        }

        /** Indexes of the training rows that were predicted, in the order of their predictions. */
        int[] rows() {
            return rows.clone();
        }

        /** K values for each. */
        double[] probability() {
            return probability.clone();
        }
    }

    /** Predicts each training row by a recipe fitted to the other inner folds, from its columns to its balance. */
    static Predictions predict(Recipe recipe, Settings settings, TrainingRows rows, Splits splits, Seed seed) {
        int classes = rows.classes();
        List<int[]> tested = new ArrayList<>();
        List<double[]> parts = new ArrayList<>();
        for (int f = 0; f < splits.folds(0); f++) {
            FitFailure.ifInterrupted();
            Split split = splits.at(0, f);
            int[] test = split.test().toArray();
            Pipeline fitted =
                    Pipeline.plain(recipe, settings, rows.some(split.train().toArray()), seed.with(f));
            parts.add(fitted.probabilities(rows.rows().features().select(test)));
            tested.add(test);
        }
        int[] all = tested.stream().flatMapToInt(Arrays::stream).toArray();
        double[] probability = new double[all.length * classes];
        int at = 0;
        for (double[] part : parts) {
            System.arraycopy(part, 0, probability, at, part.length);
            at += part.length;
        }
        return new Predictions(all, probability);
    }
}
