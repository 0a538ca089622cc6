package keenfold.core.classify;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.Chance;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * The guess without looking: every row gets the class shares of the training rows.
 *
 * <p>Its label is the most frequent class, its accuracy that class's share, its auc one half. Size 1·(K − 1).
 */
record Majority() implements Classifier {
    @Override
    public Needs needs() {
        return Needs.NOTHING;
    }

    @Override
    public Model fit(Training training, Chance chance) {
        double total = training.totalWeight();
        double[] shares =
                Arrays.stream(training.classWeights()).map(w -> w / total).toArray();
        return new Shares(shares);
    }

    static Model restored(State state) {
        return new Shares(state.numbers("shares"));
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
        public Optional<State> state() {
            return Optional.of(State.of("majority").with("shares", shares));
        }

        @Override
        public double size() {
            return shares.length - 1.0;
        }
    }
}
