package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.Bootstrap;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Parallel;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/**
 * The joint bootstrap of accuracy, log-loss and auc of 8 candidates in 10 repeats, against drawing the weights alone, and
 * against resampling rows and sorting them anew in each draw.
 *
 * <p>Per candidate-repeat column the bootstrap costs (joint − weights)/80.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 4)
@Measurement(iterations = 7)
@Fork(
        value = 1,
        jvmArgsAppend = {"-Xmx4g", "-XX:+UseSerialGC"})
public class DrawsBench {
    private static final int CANDIDATES = 8;
    private static final int REPEATS = 10;
    private static final int FOLDS = 10;
    private static final List<MetricName> METRICS =
            List.of(MetricName.parse("accuracy"), MetricName.parse("log-loss"), MetricName.parse("auc"));

    /** Number of rows. */
    @Param({"1000", "10000", "100000"})
    public int rows;

    /** Into how many different values probabilities are rounded; 0 for not at all. Trees and neighbours tie most rows. */
    @Param({"0", "20"})
    public int values;

    private Optional<AlignedPredictions> panel = Optional.empty();
    private int draws;

    /** Makes predictions from thin air: what they are does not matter, how they are spread does. */
    @Setup
    public void make() {
        panel = Optional.of(AlignedPredictions.of(results(rows, CANDIDATES, values), 0));
        // Enough draws to fill whole blocks, few enough for the largest table.
        draws = rows > 10_000 ? 128 : rows > 1000 ? 512 : 4992;
    }

    /** Predictions of some candidates on so many rows; {@code values} as above. */
    static Results results(int rows, int count, int values) {
        RandomSource chance = new Seed(5).chance();
        int[] y = new int[rows];
        Arrays.setAll(y, i -> chance.below(10) < 3 ? 1 : 0);
        DataSet data = DataSet.of("d", new Table(rows, List.of()), new Classes(List.of("no", "yes"), 1), y);
        Task task = Task.of(data, new KFold(FOLDS, REPEATS, true).divide(data, 1), METRICS);
        List<Candidate> candidates = new ArrayList<>();
        List<Fit> fits = new ArrayList<>();
        for (int c = 0; c < count; c++) {
            candidates.add(new Candidate(
                    "c" + c, "c" + c, ClassifierKinds.of("majority").orElseThrow(), Settings.none(), List.of()));
            for (int r = 0; r < REPEATS; r++) {
                for (int f = 0; f < FOLDS; f++) {
                    int[] test = task.splits().at(r, f).test().toArray();
                    Outcomes outcomes =
                            Outcomes.of(2, f, test, data.targets(test), probabilities(chance, y, test, values));
                    double[] scores = task.metrics().stream()
                            .mapToDouble(m -> m.score(outcomes))
                            .toArray();
                    fits.add(new Fit(
                            0,
                            c,
                            r,
                            f,
                            new Fit.Times(0, 0, 0, 0),
                            1,
                            Optional.of(new Fit.Result(outcomes, scores)),
                            ""));
                }
            }
        }
        return new Results(List.of(task), candidates, fits, 3);
    }

    private static double[] probabilities(RandomSource chance, int[] y, int[] test, int values) {
        double[] p = new double[2 * test.length];
        for (int i = 0; i < test.length; i++) {
            double lean = 1 / (1 + Math.exp(-(chance.normal() + 2 * y[test[i]] - 1)));
            p[2 * i + 1] = values == 0 ? lean : Math.rint(lean * values) / values;
            p[2 * i] = 1 - p[2 * i + 1];
        }
        return p;
    }

    /** Draws the weights of all draws, and nothing else. */
    @Benchmark
    public double weights() {
        Bootstrap bootstrap = new Bootstrap(panel.orElseThrow(), draws, Parallel.of(1));
        return bootstrap.weightsAlone();
    }

    /** All means of three metrics, from the weights on. */
    @Benchmark
    public Object joint() {
        AlignedPredictions of = panel.orElseThrow();
        return new Bootstrap(of, draws, Parallel.of(1))
                .means(
                        of.task().metrics().stream()
                                .map(m -> new Bootstrap.Asked(m, of.admitted()))
                                .toList(),
                        false);
    }

    /** The auc of one column in one hundredth of the draws, by resampling its rows and sorting them. */
    @Benchmark
    public double resampledAndSorted() {
        AlignedPredictions of = panel.orElseThrow();
        Metric auc = of.task().metrics().get(2);
        Outcomes column = of.parts(0).get(0);
        double sum = 0;
        for (int b = 0; b < Math.max(1, draws / 100); b++) {
            RandomSource chance = new Seed(9).with(b).chance();
            int[] drawn = IntStream.range(0, column.size())
                    .map(i -> chance.below(column.size()))
                    .toArray();
            sum += sorted(column, drawn) + auc.most();
        }
        return sum;
    }

    private static double sorted(Outcomes o, int[] drawn) {
        Integer[] order = Arrays.stream(drawn).boxed().toArray(Integer[]::new);
        Arrays.sort(
                order, Comparator.comparingInt((Integer i) -> o.fold(i)).thenComparingDouble(i -> o.probability(i, 1)));
        double concordant = 0;
        double pairs = 0;
        double below = 0;
        double cases = 0;
        int from = 0;
        while (from < order.length) {
            int to = from;
            double own = 0;
            double other = 0;
            while (to < order.length
                    && o.fold(order[to]) == o.fold(order[from])
                    && o.probability(order[to], 1) == o.probability(order[from], 1)) {
                if (o.actual(order[to++]) == 1) {
                    own++;
                } else {
                    other++;
                }
            }
            concordant += own * below + own * other / 2;
            below += other;
            cases += own;
            if (to == order.length || o.fold(order[to]) != o.fold(order[from])) {
                pairs += cases * below;
                below = 0;
                cases = 0;
            }
            from = to;
        }
        return concordant / pairs;
    }
}
