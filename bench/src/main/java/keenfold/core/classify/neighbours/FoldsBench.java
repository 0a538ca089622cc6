package keenfold.core.classify.neighbours;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.bayes.NaiveBayes;
import keenfold.core.classify.discriminant.Discriminant;
import keenfold.core.classify.linear.Logistic;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.NearestRows;
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

/** 10 x 10 folds of 10,000 rows x 30 columns: from the rows of each, and from what all rows taught. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 4)
@Measurement(iterations = 7)
@Fork(
        value = 1,
        jvmArgsAppend = {"-Xmx4g", "-XX:+UseSerialGC"})
public class FoldsBench {
    private static final int ROWS = 10_000;
    private static final int COLUMNS = 30;
    private static final int[] NEIGHBOURS = {1, 3, 5, 9, 15, 25, 45};

    private static final NaiveBayes BAYES = new NaiveBayes(1, false, 1e-3);
    private static final Discriminant LINEAR = new Discriminant(1, 0);
    private static final Logistic LOGISTIC = new Logistic(1, 0);

    private Training all = table();
    private final List<int[]> folds = new ArrayList<>();
    private double[][] x = new double[0][];
    private double[][] byRow = new double[0][];
    private Training train = all;
    private Table test = all.table();

    private static Training table() {
        RandomSource chance = new Seed(3).chance();
        double[][] x = new double[COLUMNS][ROWS];
        int[] y = new int[ROWS];
        for (int i = 0; i < ROWS; i++) {
            double lean = 0;
            for (int j = 0; j < COLUMNS; j++) {
                x[j][i] = chance.normal();
                lean += j < 10 ? x[j][i] / (1 + j) : 0;
            }
            y[i] = lean + chance.normal() > 0.5 ? 1 : 0;
        }
        List<Column> made = new ArrayList<>();
        for (int j = 0; j < COLUMNS; j++) {
            made.add(Numbers.owning("x" + j, x[j]));
        }
        double[] ones = new double[ROWS];
        Arrays.fill(ones, 1);
        return Training.of(new Table(ROWS, made), y, ones, 2);
    }

    /** Draws ten divisions into ten folds. */
    @Setup
    public void make() {
        RandomSource chance = new Seed(4).chance();
        for (int repeat = 0; repeat < 10; repeat++) {
            int[] order = IntStream.range(0, ROWS).toArray();
            for (int i = ROWS - 1; i > 0; i--) {
                int j = chance.below(i + 1);
                int kept = order[i];
                order[i] = order[j];
                order[j] = kept;
            }
            for (int f = 0; f < 10; f++) {
                int[] fold = Arrays.copyOfRange(order, f * ROWS / 10, (f + 1) * ROWS / 10);
                Arrays.sort(fold);
                folds.add(fold);
            }
        }
        train = all.without(folds.get(0));
        test = all.table().select(folds.get(0));
        x = Training.columns(train.table());
        byRow = new double[train.rows()][COLUMNS];
        for (int i = 0; i < byRow.length; i++) {
            for (int j = 0; j < COLUMNS; j++) {
                byRow[i][j] = x[j][i];
            }
        }
    }

    private List<Model> refitted(Classifier classifier) {
        List<Model> models = new ArrayList<>();
        for (int[] held : folds) {
            models.add(classifier.fit(all.without(held), new Seed(1).chance()));
        }
        return models;
    }

    private List<Model> less(AcrossFolds classifier) {
        FullDataFit whole = classifier.whole(all).orElseThrow();
        List<Model> models = new ArrayList<>();
        for (int[] held : folds) {
            models.add(whole.without(held).orElseThrow());
        }
        return models;
    }

    /** Naive Bayes, each fold from its rows. */
    @Benchmark
    public Object bayesRefitted() {
        return refitted(BAYES);
    }

    /** Naive Bayes, sums of all rows less those of the fold. */
    @Benchmark
    public Object bayesLess() {
        return less(BAYES);
    }

    /** The linear discriminant, each fold from its rows. */
    @Benchmark
    public Object discriminantRefitted() {
        return refitted(LINEAR);
    }

    /** The linear discriminant, sums of all rows less those of the fold. */
    @Benchmark
    public Object discriminantLess() {
        return less(LINEAR);
    }

    /** Newton's method from 0 in each fold. */
    @Benchmark
    public Object logisticCold() {
        return refitted(LOGISTIC);
    }

    /** Start and curvature of all rows, which are fitted too. */
    @Benchmark
    public Object logisticNear() {
        FullDataFit whole = LOGISTIC.whole(all).orElseThrow();
        List<Model> models = new ArrayList<>();
        for (int[] held : folds) {
            models.add(whole.near(all.without(held)).orElseThrow());
        }
        return models;
    }

    /** Squared distances of 1,000 rows to 9,000, row by row and column by column. */
    @Benchmark
    public double distancesPlain() {
        double[][] rows = Training.columns(test);
        double[] row = new double[COLUMNS];
        double[] squared = new double[byRow.length];
        double checked = 0;
        for (int i = 0; i < test.rows(); i++) {
            for (int j = 0; j < COLUMNS; j++) {
                row[j] = rows[j][i];
            }
            for (int t = 0; t < byRow.length; t++) {
                double sum = 0;
                for (int j = 0; j < COLUMNS; j++) {
                    double off = byRow[t][j] - row[j];
                    sum += off * off;
                }
                squared[t] = sum;
            }
            checked += squared[i];
        }
        return checked;
    }

    /** The rows that may be the nearest 15, and their exact distances. */
    @Benchmark
    public double distancesKernel() {
        CloseRows close = CloseRows.of(x, byRow.length).orElseThrow();
        double[][] rows = Training.columns(test);
        double checked = 0;
        for (int from = 0; from < test.rows(); from += 32) {
            double[][] some = new double[Math.min(32, test.rows() - from)][COLUMNS];
            for (int i = 0; i < some.length; i++) {
                for (int j = 0; j < COLUMNS; j++) {
                    some[i][j] = rows[j][from + i];
                }
            }
            List<Optional<int[]>> near = close.near(some, 15);
            for (int i = 0; i < some.length; i++) {
                for (int t : near.get(i).orElseThrow()) {
                    checked += close.squared(t, some[i]);
                }
            }
        }
        return checked;
    }

    /** Probabilities of 1,000 rows by their 45 nearest of 9,000. */
    @Benchmark
    public Object nearestOne() {
        return new NearestNeighbours(45, NearestRows.Distance.EUCLIDEAN, false)
                .fit(train, new Seed(1).chance())
                .probabilities(test);
    }

    /** The same by each of seven numbers of neighbours up to 45. */
    @Benchmark
    public Object nearestSeven() {
        List<NearestNeighbours> seven = IntStream.of(NEIGHBOURS)
                .mapToObj(k -> new NearestNeighbours(k, NearestRows.Distance.EUCLIDEAN, false))
                .toList();
        List<double[]> found = new ArrayList<>();
        for (Model model : NearestNeighbours.joint(seven, train)) {
            found.add(model.probabilities(test));
        }
        return found;
    }
}
