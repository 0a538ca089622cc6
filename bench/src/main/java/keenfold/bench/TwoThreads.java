package keenfold.bench;

import java.lang.management.ManagementFactory;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;

/** What a second thread gains: a run of several candidates, beside a bare arithmetic loop in the same process. */
public final class TwoThreads {
    private static final int ROUNDS = 7;
    private static final int UNITS = 200;

    private TwoThreads() {}

    /** Prints medians of both with one and two threads, and the ratios. */
    public static void main(String[] args) {
        Comparison comparison = comparison();
        double[][] loop = new double[2][ROUNDS];
        double[][] run = new double[2][ROUNDS];
        double[][] cpu = new double[2][ROUNDS];
        work(comparison, 2);
        work(comparison, 1);
        for (int round = 0; round < ROUNDS; round++) {
            for (int threads = 1; threads <= 2; threads++) {
                long start = System.nanoTime();
                arithmetic(threads);
                loop[threads - 1][round] = (System.nanoTime() - start) * 1e-9;
                double before = cpuSeconds();
                start = System.nanoTime();
                work(comparison, threads);
                run[threads - 1][round] = (System.nanoTime() - start) * 1e-9;
                cpu[threads - 1][round] = cpuSeconds() - before;
            }
        }
        double loopGain = median(loop[0]) / median(loop[1]);
        double runGain = median(run[0]) / median(run[1]);
        System.out.printf(
                "loop: %.2f s, %.2f s, gain %.2f%nrun: %.2f s, %.2f s, gain %.2f%nrun/loop: %.2f; CPU %.2f s, %.2f s,"
                        + " ratio %.2f%n",
                median(loop[0]),
                median(loop[1]),
                loopGain,
                median(run[0]),
                median(run[1]),
                runGain,
                runGain / loopGain,
                median(cpu[0]),
                median(cpu[1]),
                median(cpu[1]) / median(cpu[0]));
    }

    private static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[sorted.length / 2];
    }

    private static double cpuSeconds() {
        return ManagementFactory.getPlatformMXBean(com.sun.management.OperatingSystemMXBean.class)
                        .getProcessCpuTime()
                * 1e-9;
    }

    private static void arithmetic(int threads) {
        List<Double> sums = Parallel.of(threads).map(UNITS, i -> {
            double x = i;
            for (int k = 0; k < 4_000_000; k++) {
                x = x * 0.999999 + 1e-7;
            }
            return x;
        });
        if (sums.size() != UNITS) {
            throw new IllegalStateException("the loop was not done");
        }
    }

    private static void work(Comparison comparison, int threads) {
        List<Integer> done = new ArrayList<>();
        Runner.on(Parallel.of(threads)).run(comparison, comparison.units(), (unit, fits) -> done.add(unit.number()));
    }

    private static Comparison comparison() {
        int rows = 2_000;
        RandomSource chance = new Seed(8).chance();
        int[] y = new int[rows];
        List<Column> columns = new ArrayList<>();
        for (int j = 0; j < 20; j++) {
            double[] x = new double[rows];
            for (int i = 0; i < rows; i++) {
                x[i] = chance.normal();
                y[i] = j == 0 && x[i] + chance.normal() > 0 ? 1 : y[i];
            }
            columns.add(Numbers.of("x" + j, x));
        }
        DataSet data = DataSet.of("made", new Table(rows, columns), new Classes(List.of("no", "yes"), 1), y);
        Task task = Task.of(data, new KFold(10, 2, true).divide(data, 1), List.of(MetricName.parse("auc")));
        Settings none = Settings.none();
        return new Comparison(
                List.of(task),
                List.of(
                        candidate("naive-bayes", "naive-bayes", none),
                        candidate("logistic", "logistic", none),
                        candidate("nearest", "nearest", none.with("neighbours", "15")),
                        candidate("tree", "tree", none),
                        candidate("forest", "forest", none.with("trees", "50")),
                        candidate("boosting", "boosting", none.with("rounds", "30"))),
                1);
    }

    private static Candidate candidate(String name, String kind, Settings settings) {
        return new Candidate(name, name, ClassifierKinds.of(kind).orElseThrow(), settings, List.of());
    }
}
