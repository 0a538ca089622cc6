package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;

/** Small random tables for tests of classifiers. */
public final class Samples {
    private Samples() {}

    /** Standard normal columns; the class leans on the first. */
    public static Training normal(long seed, int rows, int columns, int classes) {
        RandomSource chance = new Seed(seed).chance();
        double[][] x = new double[columns][rows];
        int[] y = new int[rows];
        for (int i = 0; i < rows; i++) {
            for (int j = 0; j < columns; j++) {
                x[j][i] = chance.normal();
            }
            double lean = x[0][i] + 0.8 * chance.normal();
            y[i] = i < classes ? i : (int) Math.max(0, Math.min(classes - 1, Math.floor((lean + 1.2) / 2.4 * classes)));
        }
        return training(x, y, classes);
    }

    public static Training training(double[][] x, int[] y, int classes) {
        return Training.of(table(x), y, ones(y.length), classes);
    }

    public static Table table(double[]... x) {
        List<Column> columns = new ArrayList<>();
        for (int j = 0; j < x.length; j++) {
            columns.add(Numbers.of("x" + j, x[j]));
        }
        return new Table(x[0].length, columns);
    }

    public static double[] ones(int n) {
        double[] ones = new double[n];
        Arrays.fill(ones, 1);
        return ones;
    }

    public static int[] targets(Training training) {
        return IntStream.range(0, training.rows()).map(training::target).toArray();
    }

    /** The training rows in another order, or some of them several times. */
    public static Training select(Training training, int[] rows) {
        int[] y = Arrays.stream(rows).map(training::target).toArray();
        double[] w = Arrays.stream(rows).mapToDouble(training::weight).toArray();
        return Training.of(training.table().select(rows), y, w, training.classes());
    }

    public static RandomSource chance() {
        return new Seed(1).chance();
    }
}
