package keenfold.core.metric;

import java.util.Arrays;
import java.util.Optional;
import java.util.function.ToDoubleFunction;

/**
 * A metric that is a function of the joint confusion matrix of its rows.
 *
 * <p>Reference: Forman and Scholz (2010), Apples-to-apples in cross-validation studies, SIGKDD Explorations 12(1),
 * doi:10.1145/1882471.1882479, for joining the folds before the function is applied.
 */
public record CountMetric(
        String name,
        MetricKind kind,
        boolean higherIsBetter,
        ToDoubleFunction<Confusion> function,
        Optional<Part> part,
        double least,
        double most)
        implements Metric {
    /** Which rows a plain share is counted out of, and which of them count. */
    public record Part(ToDoubleFunction<Confusion> successes, ToDoubleFunction<Confusion> trials) {}

    /** A function of the matrix from 0 to 1, higher being better. */
    public static CountMetric of(String name, ToDoubleFunction<Confusion> function) {
        return new CountMetric(name, MetricKind.COUNTS, true, function, Optional.empty(), 0, 1);
    }

    /** The same with another least value. */
    public CountMetric from(double other) {
        return new CountMetric(name, kind, higherIsBetter, function, part, other, most);
    }

    @Override
    public Optional<Share> share(Outcomes outcomes) {
        return part.map(p -> {
            Confusion all = Confusion.of(outcomes);
            return new Share(p.successes.applyAsDouble(all), p.trials.applyAsDouble(all));
        });
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        int k = outcomes.classes();
        int n = outcomes.size();
        // Rows by cell: one cell's sums stay in the nearest cache while its rows are added.
        int[] ends = new int[k * k];
        for (int i = 0; i < n; i++) {
            ends[cell(outcomes, i)]++;
        }
        Arrays.parallelPrefix(ends, Integer::sum);
        int[] next = new int[k * k];
        System.arraycopy(ends, 0, next, 1, k * k - 1);
        int[] rows = new int[n];
        for (int i = 0; i < n; i++) {
            rows[next[cell(outcomes, i)]++] = outcomes.row(i);
        }
        return new ByCell(this, outcomes, rows, ends);
    }

    private static int cell(Outcomes outcomes, int i) {
        return outcomes.actual(i) * outcomes.classes() + outcomes.predicted(i);
    }

    private static final class ByCell implements Scorer {
        private final CountMetric metric;
        private final Outcomes outcomes;
        private final int[] rows;
        private final int[] ends;

        ByCell(CountMetric metric, Outcomes outcomes, int[] rows, int[] ends) {
            this.metric = metric;
            this.outcomes = outcomes;
            this.rows = rows;
            this.ends = ends;
        }

        @Override
        public void score(CaseWeights weights, double[] scores) {
            int k = outcomes.classes();
            int lanes = scores.length;
            double[] cells = new double[k * k * lanes];
            int[] sum = new int[lanes];
            int from = 0;
            for (int cell = 0; cell < ends.length; cell++) {
                Arrays.fill(sum, 0);
                Lanes.addRows(sum, weights.counts(), rows, from, ends[cell]);
                for (int lane = 0; lane < lanes; lane++) {
                    cells[cell * lanes + lane] = sum[lane];
                }
                from = ends[cell];
            }
            for (int lane = 0; lane < lanes; lane++) {
                scores[lane] = metric.function.applyAsDouble(new Confusion(k, cells, lane, lanes));
            }
        }

        @Override
        public double[] withoutEach() {
            int k = outcomes.classes();
            Confusion all = Confusion.of(outcomes);
            double[] byCell = new double[k * k];
            for (int cell = 0; cell < byCell.length; cell++) {
                if (all.at(cell / k, cell % k) > 0) {
                    all.add(cell, -1);
                    byCell[cell] = metric.function.applyAsDouble(all);
                    all.add(cell, 1);
                }
            }
            double[] without = new double[outcomes.size()];
            Arrays.setAll(without, i -> byCell[cell(outcomes, i)]);
            return without;
        }
    }
}
