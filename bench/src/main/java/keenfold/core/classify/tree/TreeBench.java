package keenfold.core.classify.tree;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.TimeUnit;
import keenfold.core.classify.boosting.Boosting;
import keenfold.core.classify.boosting.Growth;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/** Trees on 200,000 rows x 20 columns at depth 8; forest and boosting on 1,800 rows, one training side of 2,000. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 6)
@Measurement(iterations = 9)
@Fork(
        value = 1,
        jvmArgsAppend = {"-Xmx4g", "-XX:+UseSerialGC"})
public class TreeBench {
    private static final Tree TREE = new Tree(Tree.Impurity.GINI, 8, 5, 0, 256);

    private Training large = table(10, 20);
    private Training small = table(10, 20);
    private Binned binned = Binned.of(small, 256);
    private int[] target = new int[0];
    private double[] weights = new double[0];
    private int[] order = new int[0];
    private final double[] sums = new double[20 * 256 * 2];

    private static Training table(int rows, int columns) {
        RandomSource chance = new Seed(rows).chance();
        double[][] x = new double[columns][rows];
        int[] y = new int[rows];
        for (int i = 0; i < rows; i++) {
            double lean = 0;
            for (int j = 0; j < columns; j++) {
                x[j][i] = chance.normal();
                lean += j < 6 ? x[j][i] * (j % 2 == 0 ? 1 : x[j + 1][Math.max(0, i - 1)]) : 0;
            }
            y[i] = lean + chance.normal() > 0 ? 1 : 0;
        }
        List<Column> made = new ArrayList<>();
        for (int j = 0; j < columns; j++) {
            made.add(Numbers.owning("x" + j, x[j]));
        }
        double[] ones = new double[rows];
        Arrays.fill(ones, 1);
        return Training.of(new Table(rows, made), y, ones, 2);
    }

    /** Makes the tables. */
    @Setup
    public void make() {
        large = table(200_000, 20);
        small = table(1_800, 20);
        binned = Binned.of(large, 256);
        target = large.targets();
        weights = large.weights();
        order = new int[large.rows()];
        Arrays.setAll(order, i -> i);
    }

    /** The exact search over presorted columns. */
    @Benchmark
    public Object presorted() {
        return new PresortedTree(TREE, large).grow();
    }

    /** The tree as it is, binning included. */
    @Benchmark
    public Object tree() {
        return TREE.grow(Binned.of(large, 256), large, large.weights());
    }

    /** The tree without the binning. */
    @Benchmark
    public Object treeOfBinned() {
        return TREE.grow(binned, large, large.weights());
    }

    /** Class weights by bin of all columns, over all rows. */
    @Benchmark
    public double[] histogram() {
        Arrays.fill(sums, 0);
        for (int j = 0; j < binned.columns(); j++) {
            byte[] codes = binned.codes(j);
            int offset = j * 512;
            for (int row : order) {
                sums[offset + (codes[row] & 0xFF) * 2 + target[row]] += weights[row];
            }
        }
        return sums;
    }

    /** A bare pass over the same bytes. */
    @Benchmark
    public double barePass() {
        double sum = 0;
        for (int j = 0; j < binned.columns(); j++) {
            byte[] codes = binned.codes(j);
            for (int row : order) {
                sum += (codes[row] & 0xFF) * 2 + target[row] + weights[row];
            }
        }
        return sum;
    }

    /** 300 fully grown trees on 1,800 rows x 20 columns. */
    @Benchmark
    public Object forest() {
        return new Forest(300, 0, Integer.MAX_VALUE, 1, Tree.Impurity.GINI, true, false, 256)
                .fit(small, new Seed(1).chance());
    }

    /** 200 rounds at depth 6 on 1,800 rows x 20 columns. */
    @Benchmark
    public Object boosting() {
        return new Boosting(200, new Growth(6, Integer.MAX_VALUE, 5, 1, 0.1), 1, 1, 0, 0.2, 256)
                .fit(small, new Seed(1).chance());
    }
}
