package keenfold.core.classify.network;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.WatchedRows;
import keenfold.core.data.Checks;
import keenfold.core.data.Exponential;
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
 * derivative is above 1e-5 times the rows' weight, or, with patience, when the log-loss of watched rows has not fallen for
 * so many steps; the weights with the least of it are kept.
 *
 * <p>Size: all weights and biases.
 *
 * <p>References: Rumelhart, Hinton and Williams (1986), Nature 323, doi:10.1038/323533a0; Krogh and Hertz (1992), NIPS 4
 * (weight decay); Prechelt (1998), Neural Networks: Tricks of the Trade (early stopping).
 *
 * @param layers how many hidden layers, at least 1
 * @param units of each hidden layer, at least 1
 * @param decay weight of the penalty, at least 0
 * @param steps the most, at least 1
 * @param patience steps without gain on watched rows after which it ends; 0 for never
 * @param watched share of the training rows that are watched
 */
public record Network(int layers, int units, double decay, int steps, int patience, double watched)
        implements Classifier {
    private static final double FLAT = 1e-5;

    /** Checks the settings. */
    public Network {
        Checks.atLeast("layers", layers, 1);
        Checks.atLeast("units", units, 1);
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
        Training own = watch.length == 0 ? training : training.without(watch);
        double[] classWeights = own.classWeights();
        int[] present = IntStream.range(0, classWeights.length)
                .filter(c -> classWeights[c] > 0)
                .toArray();
        int inputs = training.table().columns().size();
        Shape shape = new Shape(inputs, layers, units, present.length == 2 ? 1 : present.length);
        if (present.length == 1) {
            return new OneClass(training.classes(), present[0]);
        }
        Loss loss = new Loss(shape, own, present, decay);
        Descent descent = new Descent(loss, shape.draw(chance));
        double enough = FLAT * own.totalWeight();
        double[] best = descent.at();
        if (watch.length == 0) {
            for (int step = 0; step < steps && descent.steepness() > enough && descent.step(); step++) {
                best = descent.at();
            }
        } else {
            Loss watching = new Loss(shape, training.select(watch), present, 0);
            double least = watching.of(best);
            int idle = 0;
            for (int step = 0; step < steps && idle < patience && descent.step(); step++) {
                double now = watching.of(descent.at());
                idle = now < least ? 0 : idle + 1;
                if (now < least) {
                    least = now;
                    best = descent.at();
                }
            }
        }
        if (!Double.isFinite(descent.value())) {
            throw new FitFailure("network: the loss is not finite; use standardise, or a larger weight-decay");
        }
        return new Fitted(shape, best, present, training.classes());
    }

    /**
     * Where weights lie in one array: layer by layer, unit by unit, those of its inputs and then its bias.
     *
     * @param inputs columns
     * @param layers hidden ones
     * @param units of each
     * @param outputs of the last layer
     */
    record Shape(int inputs, int layers, int units, int outputs) {
        int in(int layer) {
            return layer == 0 ? inputs : units;
        }

        int out(int layer) {
            return layer == layers ? outputs : units;
        }

        /** Where the weights of a layer begin. */
        int from(int layer) {
            int from = 0;
            for (int l = 0; l < layer; l++) {
                from += out(l) * (in(l) + 1);
            }
            return from;
        }

        int count() {
            return from(layers + 1);
        }

        double[] draw(RandomSource chance) {
            double[] weights = new double[count()];
            for (int l = 0; l <= layers; l++) {
                double spread = 1 / Math.sqrt(Math.max(1, in(l)));
                for (int u = 0; u < out(l); u++) {
                    int at = from(l) + u * (in(l) + 1);
                    for (int j = 0; j < in(l); j++) {
                        weights[at + j] = spread * chance.normal();
                    }
                }
            }
            return weights;
        }
    }

    /** The values of all units for one row. */
    private static final class Pass {
        private final Shape shape;
        private final double[][] values;
        private final int[] from;

        Pass(Shape shape) {
            this.shape = shape;
            this.values = new double[shape.layers + 2][];
            this.from = new int[shape.layers + 1];
            values[0] = new double[shape.inputs];
            for (int l = 0; l <= shape.layers; l++) {
                values[l + 1] = new double[shape.out(l)];
                from[l] = shape.from(l);
            }
        }

        /** Returns what the output units get. */
        double[] of(double[] row, double[] weights) {
            System.arraycopy(row, 0, values[0], 0, row.length);
            for (int l = 0; l <= shape.layers; l++) {
                double[] below = values[l];
                double[] above = values[l + 1];
                int at = from[l];
                for (int u = 0; u < above.length; u++, at += below.length + 1) {
                    double sum = weights[at + below.length];
                    for (int j = 0; j < below.length; j++) {
                        sum += weights[at + j] * below[j];
                    }
                    above[u] = l == shape.layers ? sum : tanh(sum);
                }
            }
            return values[shape.layers + 1];
        }

        private static double tanh(double x) {
            double e = Exponential.of(-2 * Math.abs(x));
            double far = (1 - e) / (1 + e);
            return x < 0 ? -far : far;
        }
    }

    /** Probabilities of the present classes from what the output units get. */
    private static void probabilities(double[] outputs, double[] p) {
        if (outputs.length == 1) {
            double e = Exponential.of(-Math.abs(outputs[0]));
            p[1] = outputs[0] >= 0 ? 1 / (1 + e) : e / (1 + e);
            p[0] = outputs[0] >= 0 ? e / (1 + e) : 1 / (1 + e);
            return;
        }
        double most = Arrays.stream(outputs).max().orElse(0);
        double sum = 0;
        for (int k = 0; k < p.length; k++) {
            p[k] = Exponential.of(outputs[k] - most);
            sum += p[k];
        }
        for (int k = 0; k < p.length; k++) {
            p[k] /= sum;
        }
    }

    private static double[][] rows(Table table) {
        double[][] columns = Training.columns(table);
        double[][] rows = new double[table.rows()][columns.length];
        for (int j = 0; j < columns.length; j++) {
            for (int i = 0; i < rows.length; i++) {
                rows[i][j] = columns[j][i];
            }
        }
        return rows;
    }

    /** The penalised loss, with its derivatives by all weights. */
    static final class Loss implements Descent.Function {
        private final Shape shape;
        private final double[][] x;
        private final int[] y;
        private final double[] weight;
        private final double decay;
        private final int classes;

        Loss(Shape shape, Training training, int[] present, double decay) {
            this.shape = shape;
            this.x = rows(training.table());
            this.y = IntStream.range(0, training.rows())
                    .map(i -> Arrays.binarySearch(present, training.target(i)))
                    .toArray();
            this.weight = training.weights();
            this.decay = decay;
            this.classes = present.length;
        }

        /** The value alone. */
        double of(double[] weights) {
            return at(weights, new double[weights.length]);
        }

        @Override
        public double at(double[] weights, double[] gradient) {
            Arrays.fill(gradient, 0);
            Pass pass = new Pass(shape);
            double[] p = new double[classes];
            double[][] back = new double[shape.layers + 1][];
            for (int l = 0; l <= shape.layers; l++) {
                back[l] = new double[shape.out(l)];
            }
            double sum = 0;
            for (int i = 0; i < x.length; i++) {
                double[] outputs = pass.of(x[i], weights);
                probabilities(outputs, p);
                // A probability that has become 0 would make the loss infinite, and every step look good that does not.
                sum -= weight[i] * StrictMath.log(Math.max(Double.MIN_NORMAL, p[y[i]]));
                double[] top = back[shape.layers];
                for (int k = 0; k < top.length; k++) {
                    int c = top.length == 1 ? 1 : k;
                    top[k] = weight[i] * (p[c] - (y[i] == c ? 1 : 0));
                }
                backwards(pass, back, weights, gradient);
            }
            for (int l = 0; l <= shape.layers; l++) {
                int in = shape.in(l);
                int at = shape.from(l);
                for (int u = 0; u < shape.out(l); u++, at += in + 1) {
                    for (int j = 0; j < in; j++) {
                        sum += decay / 2 * weights[at + j] * weights[at + j];
                        gradient[at + j] += decay * weights[at + j];
                    }
                }
            }
            return sum;
        }

        private void backwards(Pass pass, double[][] back, double[] weights, double[] gradient) {
            for (int l = shape.layers; l >= 0; l--) {
                double[] below = pass.values[l];
                double[] own = back[l];
                if (l > 0) {
                    Arrays.fill(back[l - 1], 0);
                }
                int at = pass.from[l];
                for (int u = 0; u < own.length; u++, at += below.length + 1) {
                    double d = own[u];
                    for (int j = 0; j < below.length; j++) {
                        gradient[at + j] += d * below[j];
                    }
                    gradient[at + below.length] += d;
                    if (l > 0) {
                        for (int j = 0; j < below.length; j++) {
                            back[l - 1][j] += d * weights[at + j];
                        }
                    }
                }
                if (l > 0) {
                    for (int j = 0; j < below.length; j++) {
                        back[l - 1][j] *= 1 - below[j] * below[j];
                    }
                }
            }
        }
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
            double[][] x = rows(table);
            double[] all = new double[x.length * classes];
            double[] p = new double[present.length];
            Pass pass = new Pass(shape);
            for (int i = 0; i < x.length; i++) {
                Network.probabilities(pass.of(x[i], weights), p);
                for (int k = 0; k < present.length; k++) {
                    all[i * classes + present[k]] = p[k];
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
