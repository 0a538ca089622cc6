package keenfold.core.classify.network;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Products;
import keenfold.core.prepare.Training;

/**
 * The log-loss summed over rows and the penalty on squared weights, with derivatives by all weights: back-propagation (Rumelhart,
 * Hinton and Williams 1986), a block of rows at a time.
 */
final class PenalisedLoss implements Descent.Function {
    private final Shape shape;
    private final double[][] x;
    private final int[] y;
    private final double[] weight;
    private final double decay;
    private final RowBlock block;
    private final double[][] p;
    private final double[][][] back;

    /**
     * @param present the classes that have rows
     * @param decay weight of the penalty, at least 0
     */
    PenalisedLoss(Shape shape, Training training, int[] present, double decay) {
        this.shape = shape;
        this.x = Training.columns(training.table());
        this.y = IntStream.range(0, training.rows())
                .map(i -> Arrays.binarySearch(present, training.target(i)))
                .toArray();
        this.weight = training.weights();
        this.decay = decay;
        this.block = new RowBlock(shape);
        this.p = new double[present.length][RowBlock.ROWS];
        this.back = new double[shape.layers() + 1][][];
        for (int l = 0; l <= shape.layers(); l++) {
            back[l] = new double[shape.out(l)][RowBlock.ROWS];
        }
    }

    /** The value alone. */
    double of(double[] weights) {
        double sum = 0;
        for (int first = 0; first < y.length; first += RowBlock.ROWS) {
            sum += forwards(first, weights);
        }
        return sum + penalty(weights, new double[weights.length]);
    }

    @Override
    public double at(double[] weights, double[] gradient) {
        Arrays.fill(gradient, 0);
        double sum = 0;
        for (int first = 0; first < y.length; first += RowBlock.ROWS) {
            sum += forwards(first, weights);
            double[][] top = back[shape.layers()];
            for (int k = 0; k < top.length; k++) {
                int c = top.length == 1 ? 1 : k;
                for (int i = 0; i < block.rows(); i++) {
                    top[k][i] = weight[first + i] * (p[c][i] - (y[first + i] == c ? 1 : 0));
                }
            }
            backwards(weights, gradient);
        }
        return sum + penalty(weights, gradient);
    }

    private double forwards(int first, double[] weights) {
        double[][] outputs = block.of(x, first, Math.min(RowBlock.ROWS, y.length - first), weights);
        RowBlock.probabilities(outputs, block.rows(), p);
        double sum = 0;
        for (int i = 0; i < block.rows(); i++) {
            // A probability that has become 0 would make the loss infinite, and every step look good that does not.
            sum -= weight[first + i] * StrictMath.log(Math.max(Double.MIN_NORMAL, p[y[first + i]][i]));
        }
        return sum;
    }

    private void backwards(double[] weights, double[] gradient) {
        int rows = block.rows();
        for (int l = shape.layers(); l >= 0; l--) {
            double[][] below = block.below(l);
            double[][] own = back[l];
            int from = block.from(l);
            int width = below.length + 1;
            Products.addRowSums(own, below, rows, gradient, from, width);
            for (int u = 0; u < own.length; u++) {
                double sum = 0;
                for (int i = 0; i < rows; i++) {
                    sum += own[u][i];
                }
                gradient[from + u * width + below.length] += sum;
            }
            if (l > 0) {
                double[] above = new double[own.length];
                for (int j = 0; j < below.length; j++) {
                    for (int u = 0; u < own.length; u++) {
                        above[u] = weights[from + u * width + j];
                    }
                    double[] to = back[l - 1][j];
                    Arrays.fill(to, 0, rows, 0);
                    Products.combine(own, above, 0, to, 0, rows);
                    for (int i = 0; i < rows; i++) {
                        to[i] *= 1 - below[j][i] * below[j][i];
                    }
                }
            }
        }
    }

    private double penalty(double[] weights, double[] gradient) {
        double sum = 0;
        for (int l = 0; l <= shape.layers(); l++) {
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
}
