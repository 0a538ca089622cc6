package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;

/** The expected scores on new rows of models trained on as many rows as a training side holds, by plain simulation. */
final class StudyTruth {
    private static final int TEST = 1000;
    private static final int SETS = 400;
    private static final double TRAINING_SHARE = 0.9;

    private StudyTruth() {}

    /**
     * Returns, by candidate, expected accuracy and auc, and then their Monte Carlo standard errors.
     *
     * @param all the cell
     */
    static double[][] of(StudyCell all, Seed study, Parallel parallel) {
        List<Candidate> candidates = all.candidates();
        int train = (int) Math.round(TRAINING_SHARE * all.rows());
        List<double[][]> each = parallel.map(SETS, i -> {
            Seed seed = study.with(all.name()).with("truth").with(i);
            DataSet learned = all.data().draw("t", train, seed.with("train"));
            DataSet tested = all.data().draw("t", TEST, seed.with("test"));
            DataSet both = joined(learned, tested);
            int[] counts = new int[both.rows()];
            Arrays.setAll(counts, r -> r < train ? 1 : 0);
            Task task = Task.of(
                    both,
                    Splits.sides(Splits.Form.SINGLE, new int[] {1}, new int[][] {counts}),
                    List.of(MetricName.parse("accuracy"), MetricName.parse("auc")));
            Comparison comparison = new Comparison(List.of(task), candidates, seed.value());
            List<Fit> fits = new ArrayList<>();
            Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
            double[][] scores = new double[candidates.size()][];
            for (Fit fit : fits) {
                scores[fit.candidate()] = fit.result().orElseThrow().scores();
            }
            return scores;
        });
        double[][] means = new double[candidates.size()][4];
        for (int c = 0; c < means.length; c++) {
            for (int m = 0; m < 2; m++) {
                int candidate = c;
                int metric = m;
                double[] values =
                        each.stream().mapToDouble(s -> s[candidate][metric]).toArray();
                double mean = Arrays.stream(values).average().orElse(Double.NaN);
                double squares =
                        Arrays.stream(values).map(v -> (v - mean) * (v - mean)).sum();
                means[c][m] = mean;
                means[c][2 + m] = Math.sqrt(squares / (values.length - 1) / values.length);
            }
        }
        return means;
    }

    private static DataSet joined(DataSet a, DataSet b) {
        int n = a.rows() + b.rows();
        int[] y = Arrays.copyOf(a.targets(), n);
        System.arraycopy(b.targets(), 0, y, a.rows(), b.rows());
        List<keenfold.core.data.Column> columns = new ArrayList<>();
        for (int c = 0; c < a.features().columns().size(); c++) {
            keenfold.core.data.Numbers x =
                    (keenfold.core.data.Numbers) a.features().columns().get(c);
            keenfold.core.data.Numbers z =
                    (keenfold.core.data.Numbers) b.features().columns().get(c);
            double[] values = new double[n];
            Arrays.setAll(values, i -> i < a.rows() ? x.get(i) : z.get(i - a.rows()));
            columns.add(keenfold.core.data.Numbers.owning(x.name(), values));
        }
        return DataSet.of(a.name(), new Table(n, columns), a.classes(), y);
    }
}
