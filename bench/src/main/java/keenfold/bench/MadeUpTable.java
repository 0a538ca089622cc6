package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;

/**
 * Made-up training rows of a given shape, on standardised columns.
 *
 * <p>Each class has a centre of its own; rows lie about it, along two directions that columns share and by chance of their
 * own. Of answers, which have two levels, the number is cut in two.
 *
 * @param name what it is called in the tables of the benchmarks
 * @param rows how many, at least as many as classes
 * @param columns how many
 * @param classes how many, at least 2
 * @param spread of the centres, in standard deviations of a column's own chance
 * @param answers whether columns are answers, yes or no
 */
public record MadeUpTable(String name, int rows, int columns, int classes, double spread, boolean answers) {
    /** Shapes of small tables that people bring: few or many columns, two to nineteen classes. */
    public static final List<MadeUpTable> SMALL = List.of(
            new MadeUpTable("honey", 171, 9, 6, 1, false),
            new MadeUpTable("hum", 166, 60, 2, 0.5, false),
            new MadeUpTable("dance", 792, 10, 11, 1, false),
            new MadeUpTable("disease", 546, 84, 19, 1, true),
            new MadeUpTable("colonies", 614, 8, 2, 0.5, false));

    /** Returns the rows; the same for every seed alike. */
    public Training training(long seed) {
        RandomSource chance = new Seed(seed).with(name).chance();
        double[][] centre = new double[classes][columns];
        for (double[] own : centre) {
            Arrays.setAll(own, j -> spread * chance.normal());
        }
        double[][] x = new double[columns][rows];
        int[] y = new int[rows];
        for (int i = 0; i < rows; i++) {
            y[i] = i < classes ? i : chance.below(classes);
            double one = chance.normal();
            double other = chance.normal();
            for (int j = 0; j < columns; j++) {
                double along = one * (j % 3 == 0 ? 1 : 0.3) + other * (j % 5 == 0 ? 1 : 0);
                double value = centre[y[i]][j] + chance.normal() + along;
                x[j][i] = answers ? (value > 0.3 ? 1 : 0) : value;
            }
        }
        List<Column> made = new ArrayList<>();
        for (int j = 0; j < columns; j++) {
            made.add(Numbers.of("x" + j, standardised(x[j])));
        }
        double[] ones = new double[rows];
        Arrays.fill(ones, 1);
        return Training.of(new Table(rows, made), y, ones, classes);
    }

    private static double[] standardised(double[] x) {
        double mean = Arrays.stream(x).average().orElse(0);
        double squares = Arrays.stream(x).map(v -> (v - mean) * (v - mean)).sum();
        double deviation = squares > 0 ? Math.sqrt(squares / x.length) : 1;
        return Arrays.stream(x).map(v -> (v - mean) / deviation).toArray();
    }
}
