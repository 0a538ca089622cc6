package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;

/**
 * Made-up data sets of two classes for the validity study: blocks of normal columns, each shifted by ±shift/2 between the
 * classes.
 *
 * @param shifts by block and column: by how much the class means differ; columns are called {@code b0c0}, {@code b0c1} …
 * @param share of the second class
 */
record StudyData(List<List<Double>> shifts, double share) {
    /** Fewer rows of a class than this are not taken. */
    private static final int FEWEST = 10;

    /** Block of {@code weights} scaled to a distance of {@code size} between the class means. */
    static List<Double> block(double size, double... weights) {
        double norm = Math.sqrt(Arrays.stream(weights).map(w -> w * w).sum());
        return Arrays.stream(weights).mapToObj(w -> size * w / norm).toList();
    }

    /** Draws a data set of n rows; class counts are drawn again until both are large enough. */
    DataSet draw(String name, int n, Seed seed) {
        return draw(name, n, Math.min(FEWEST, n / 4), seed);
    }

    private DataSet draw(String name, int n, int fewest, Seed seed) {
        RandomSource chance = seed.chance();
        int[] y = new int[n];
        int ones = 0;
        while (ones < fewest || n - ones < fewest) {
            Arrays.setAll(y, i -> chance.uniform() < share ? 1 : 0);
            ones = Arrays.stream(y).sum();
        }
        List<Column> columns = new ArrayList<>();
        for (int b = 0; b < shifts.size(); b++) {
            for (int c = 0; c < shifts.get(b).size(); c++) {
                double half = shifts.get(b).get(c) / 2;
                double[] x = new double[n];
                Arrays.setAll(x, i -> chance.normal() + (y[i] == 1 ? half : -half));
                columns.add(Numbers.owning("b" + b + "c" + c, x));
            }
        }
        int[] rows = new int[n];
        Arrays.setAll(rows, i -> i + 1);
        return DataSet.of(name, new Table(n, columns), new Classes(List.of("no", "yes"), 1), y, Optional.empty(), rows);
    }
}
