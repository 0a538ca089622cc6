package keenfold.core.classify.baseline;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.ClassShares;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * The guess without looking: every row gets the class shares of the training rows.
 *
 * <p>Its label is the most frequent class, its accuracy that class's share, its auc one half. Size 1·(K − 1).
 */
public record Majority() implements Classifier {
    @Override
    public Needs needs() {
        return Needs.NOTHING;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        double total = training.totalWeight();
        double[] shares =
                Arrays.stream(training.classWeights()).map(w -> w / total).toArray();
        return new Shares(shares);
    }

    /** Makes the model again of what it learned. */
    public static Model restored(ClassShares learned) {
        return new Shares(learned.shares().toArray());
    }

    private static final class Shares implements Model {
        private final double[] shares;

        Shares(double[] shares) {
            this.shares = shares;
        }

        @Override
        public double[] probabilities(Table table) {
            double[] all = new double[table.rows() * shares.length];
            for (int i = 0; i < table.rows(); i++) {
                System.arraycopy(shares, 0, all, i * shares.length, shares.length);
            }
            return all;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new ClassShares(Vector.of(shares)));
        }

        @Override
        public double size() {
            return shares.length - 1.0;
        }
    }
}
