package keenfold.core.classify.network;

import java.util.Arrays;
import keenfold.core.classify.Products;
import keenfold.core.data.Exponential;

/** The values of all units for some rows at a time, few enough to stay in the processor's cache. */
final class RowBlock {
    /** How many rows a block has at most. */
    static final int ROWS = 128;

    private final Shape shape;
    private final double[][][] values;
    private final int[] from;
    private int rows;

    RowBlock(Shape shape) {
        this.shape = shape;
        this.values = new double[shape.layers() + 2][][];
        this.from = new int[shape.layers() + 1];
        values[0] = new double[shape.inputs()][ROWS];
        for (int l = 0; l <= shape.layers(); l++) {
            values[l + 1] = new double[shape.out(l)][ROWS];
            from[l] = shape.from(l);
        }
    }

    int rows() {
        return rows;
    }

    /** Where the weights of a layer begin. */
    int from(int layer) {
        return from[layer];
    }

    /** What a layer gets, by unit below it and row; beyond {@link #rows} there is nothing to read. */
    double[][] below(int layer) {
        return values[layer];
    }

    /**
     * Computes all units.
     *
     * @param columns of the table
     * @param first of its rows
     * @param count of rows, at most {@value #ROWS}
     * @return what the output units get, by unit and row
     */
    double[][] of(double[][] columns, int first, int count, double[] weights) {
        rows = count;
        for (int j = 0; j < columns.length; j++) {
            System.arraycopy(columns[j], first, values[0][j], 0, count);
        }
        for (int l = 0; l <= shape.layers(); l++) {
            double[][] below = values[l];
            int at = from[l];
            for (double[] unit : values[l + 1]) {
                Arrays.fill(unit, 0, count, weights[at + below.length]);
                Products.combine(below, weights, at, unit, 0, count);
                if (l < shape.layers()) {
                    tanh(unit, count);
                }
                at += below.length + 1;
            }
        }
        return values[shape.layers() + 1];
    }

    private static void tanh(double[] x, int count) {
        double[] e = new double[count];
        for (int i = 0; i < count; i++) {
            e[i] = -2 * Math.abs(x[i]);
        }
        Exponential.ofAll(e, 0, count);
        for (int i = 0; i < count; i++) {
            x[i] = Math.copySign((1 - e[i]) / (1 + e[i]), x[i]);
        }
    }

    /**
     * Probabilities of the present classes from what the output units get.
     *
     * @param outputs by unit and row; of two classes one unit
     * @param p by class and row
     */
    static void probabilities(double[][] outputs, int count, double[][] p) {
        if (outputs.length == 1) {
            double[] score = outputs[0];
            double[] e = p[0];
            for (int i = 0; i < count; i++) {
                e[i] = -Math.abs(score[i]);
            }
            Exponential.ofAll(e, 0, count);
            for (int i = 0; i < count; i++) {
                double likely = 1 / (1 + e[i]);
                double unlikely = e[i] / (1 + e[i]);
                p[1][i] = score[i] >= 0 ? likely : unlikely;
                p[0][i] = score[i] >= 0 ? unlikely : likely;
            }
            return;
        }
        double[] most = Arrays.copyOf(outputs[0], count);
        for (double[] output : outputs) {
            for (int i = 0; i < count; i++) {
                most[i] = Math.max(most[i], output[i]);
            }
        }
        double[] sum = new double[count];
        for (int k = 0; k < p.length; k++) {
            for (int i = 0; i < count; i++) {
                p[k][i] = outputs[k][i] - most[i];
            }
            Exponential.ofAll(p[k], 0, count);
            for (int i = 0; i < count; i++) {
                sum[i] += p[k][i];
            }
        }
        for (double[] own : p) {
            for (int i = 0; i < count; i++) {
                own[i] /= sum[i];
            }
        }
    }
}
