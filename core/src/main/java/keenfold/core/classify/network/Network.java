package keenfold.core.classify.network;

import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.WatchedRows;
import keenfold.core.data.Checks;
import keenfold.core.data.Lists;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.NetworkWeights;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * A feed-forward network with hidden layers.
 *
 * <p>Definition: a₀ = x, aₗ = tanh(Wₗaₗ₋₁ + bₗ), and class probabilities softmax(Wa + b) of the last a; of two classes
 * 1/(1 + exp(−(wa + b))). It minimises −Σ weightᵢ·ln p(yᵢ|xᵢ) + weight-decay/2·Σ W², biases not counted, by limited-memory
 * BFGS on all rows at once, from weights drawn normal with variance 1/inputs. It ends after {@code steps} steps, when no
 * derivative is above 1e-5 times the rows' weight. With patience, it is trained on the other rows until the log-loss of
 * watched rows has not fallen for so many steps; then anew, from the same start, for as many steps as had the least of it, on
 * all rows (Goodfellow, Bengio and Courville 2016, Deep Learning, algorithm 7.2) or on the same.
 *
 * <p>Size: all weights and biases.
 *
 * <p>References: Rumelhart, Hinton and Williams (1986), Nature 323, doi:10.1038/323533a0; Krogh and Hertz (1992), NIPS 4
 * (weight decay); Prechelt (1998), Neural Networks: Tricks of the Trade (early stopping).
 *
 * @param layers how many hidden layers, at least 1
 * @param units of each hidden layer, at least 1; 0 for twice the columns and classes together, within {@value #FEWEST_UNITS}
 *     and {@value #MOST_UNITS}
 * @param decay weight of the penalty, at least 0
 * @param steps the most, at least 1
 * @param patience steps without gain on watched rows after which it ends; 0 for never
 * @param watched share of the training rows that are watched
 * @param allRows whether it is then trained on the watched rows too
 */
public record Network(int layers, int units, double decay, int steps, int patience, double watched, boolean allRows)
        implements Classifier {
    private static final double FLAT = 1e-5;
    private static final int FEWEST_UNITS = 32;
    private static final int MOST_UNITS = 64;

    /** Checks the settings. */
    public Network {
        Checks.atLeast("layers", layers, 1);
        Checks.atLeast("units", units, 0);
        Checks.atLeast("weight-decay", decay, 0);
        Checks.atLeast("steps", steps, 1);
        Checks.atLeast("patience", patience, 0);
        Checks.that(watched > 0 && watched < 1, "watched = %s: expected a share", watched);
    }

    @Override
    public Needs needs() {
        return Needs.SCALED_NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        int[] watch =
                patience == 0 ? new int[0] : WatchedRows.draw(training, watched, new Seed(chance.word()).chance());
        double[] classWeights = training.classWeights();
        int[] present = IntStream.range(0, classWeights.length)
                .filter(c -> classWeights[c] > 0)
                .toArray();
        if (present.length == 1) {
            return new OneClass(training.classes(), present[0]);
        }
        int inputs = training.table().columns().size();
        int hidden = units > 0 ? units : unitsFor(inputs, present.length);
        Shape shape = new Shape(inputs, layers, hidden, present.length == 2 ? 1 : present.length);
        double[] start = shape.draw(chance);
        int most = steps;
        if (watch.length > 0) {
            Stopped stopped = stopped(
                    new Descent(new PenalisedLoss(shape, training.without(watch), present, decay), start),
                    new PenalisedLoss(shape, training.select(watch), present, 0));
            if (!allRows) {
                return new Fitted(shape, stopped.weights.toArray(), present, training.classes());
            }
            most = stopped.steps;
        }
        Descent descent = new Descent(new PenalisedLoss(shape, training, present, decay), start);
        double enough = watch.length == 0 ? FLAT * training.totalWeight() : 0;
        int step = 0;
        while (step < most && descent.steepness() > enough && descent.step()) {
            step++;
        }
        return new Fitted(shape, finite(descent).at(), present, training.classes());
    }

    private static Descent finite(Descent descent) {
        if (!Double.isFinite(descent.value())) {
            throw new FitFailure("network: the loss is not finite; use standardise, or a larger weight-decay");
        }
        return descent;
    }

    /** After how many steps the loss of watched rows was least, and the weights then. */
    private record Stopped(int steps, Vector weights) {}

    private Stopped stopped(Descent descent, PenalisedLoss watching) {
        Stopped best = new Stopped(0, Vector.of(descent.at()));
        double least = watching.of(descent.at());
        for (int step = 1; step <= steps && step - best.steps <= patience && descent.step(); step++) {
            double[] at = descent.at();
            double now = watching.of(at);
            if (now < least) {
                least = now;
                best = new Stopped(step, Vector.of(at));
            }
        }
        finite(descent);
        return best;
    }

    /** Returns the units of a layer where none are named: enough for bent boundaries between many classes, and no more. */
    static int unitsFor(int columns, int classes) {
        return Math.max(FEWEST_UNITS, Math.min(MOST_UNITS, 2 * (columns + classes)));
    }

    /** Makes the model again of what it learned. */
    public static Model restored(NetworkWeights learned) {
        Shape shape = new Shape(learned.inputs(), learned.layers(), learned.units(), learned.outputs());
        return new Fitted(shape, learned.weights().toArray(), Lists.ints(learned.present()), learned.classes());
    }

    private static final class Fitted implements Model {
        private final Shape shape;
        private final double[] weights;
        private final int[] present;
        private final int classes;

        Fitted(Shape shape, double[] weights, int[] present, int classes) {
            this.shape = shape;
            this.weights = weights;
            this.present = present;
            this.classes = classes;
        }

        @Override
        public double[] probabilities(Table table) {
            double[][] x = Training.columns(table);
            double[] all = new double[table.rows() * classes];
            double[][] p = new double[present.length][RowBlock.ROWS];
            RowBlock block = new RowBlock(shape);
            for (int first = 0; first < table.rows(); first += RowBlock.ROWS) {
                int count = Math.min(RowBlock.ROWS, table.rows() - first);
                RowBlock.probabilities(block.of(x, first, count, weights), count, p);
                for (int k = 0; k < present.length; k++) {
                    for (int i = 0; i < count; i++) {
                        all[(first + i) * classes + present[k]] = p[k][i];
                    }
                }
            }
            return all;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new NetworkWeights(
                    classes,
                    Lists.of(present),
                    shape.inputs(),
                    shape.layers(),
                    shape.units(),
                    shape.outputs(),
                    Vector.of(weights)));
        }

        @Override
        public double size() {
            return weights.length;
        }
    }
}
