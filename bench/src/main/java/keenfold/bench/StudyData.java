package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;

/**
 * Made-up data sets for the validity study: blocks of normal columns of unit variance. With two classes the class means of a
 * column lie ±shift/2 from 0; with more, each class is raised by the shift in every K-th column.
 *
 * @param shifts by block and column; columns are called {@code b0c0}, {@code b0c1} …
 * @param classes K
 * @param groupSize rows of a group, which share a normal deviation of {@link #GROUP_SD} in each column; 1 for no groups
 * @param share probability of the second class of two; 0 where all classes are equally probable
 */
record StudyData(List<List<Double>> shifts, int classes, int groupSize, double share) {
    private static final double GROUP_SD = 0.5;

    /** Fewer rows of a class than this are not taken. */
    private static final int FEWEST = 20;
    /** The same where one class is rare: each of ten folds has one. */
    private static final int FEWEST_RARE = 10;

    /** Block of {@code weights} scaled to a distance of {@code size} between the class means. */
    static List<Double> block(double size, double... weights) {
        double norm = Math.sqrt(Arrays.stream(weights).map(w -> w * w).sum());
        return Arrays.stream(weights).mapToObj(w -> size * w / norm).toList();
    }

    /** Draws a data set of n rows; classes are drawn again until all are large enough. */
    DataSet draw(String name, int n, Seed seed) {
        RandomSource chance = seed.chance();
        int fewest = share > 0 ? FEWEST_RARE : Math.min(FEWEST, n / (2 * classes));
        int[] y = new int[n];
        int[] counts = new int[classes];
        while (Arrays.stream(counts).anyMatch(c -> c < fewest)) {
            Arrays.setAll(y, i -> share > 0 ? (chance.uniform() < share ? 1 : 0) : chance.below(classes));
            Arrays.fill(counts, 0);
            Arrays.stream(y).forEach(c -> counts[c]++);
        }
        List<Column> columns = new ArrayList<>();
        for (int b = 0; b < shifts.size(); b++) {
            for (int c = 0; c < shifts.get(b).size(); c++) {
                columns.add(
                        Numbers.owning("b" + b + "c" + c, column(shifts.get(b).get(c), c, y, chance)));
            }
        }
        List<String> labels =
                IntStream.range(0, classes).mapToObj(c -> "class" + c).toList();
        Optional<Categories> groups = groupSize == 1
                ? Optional.empty()
                : Optional.of(Categories.of(
                        "group",
                        IntStream.range(0, n).mapToObj(i -> "g" + i / groupSize).toArray(String[]::new)));
        return DataSet.of(
                name,
                new Table(n, columns),
                new Classes(labels, 1),
                y,
                groups,
                IntStream.rangeClosed(1, n).toArray());
    }

    private double[] column(double shift, int place, int[] y, RandomSource chance) {
        double[] x = new double[y.length];
        double ofGroup = 0;
        for (int i = 0; i < x.length; i++) {
            if (groupSize > 1 && i % groupSize == 0) {
                ofGroup = GROUP_SD * chance.normal();
            }
            double mean = classes == 2 ? (y[i] == 1 ? shift / 2 : -shift / 2) : place % classes == y[i] ? shift : 0;
            x[i] = mean + ofGroup + chance.normal();
        }
        return x;
    }
}
