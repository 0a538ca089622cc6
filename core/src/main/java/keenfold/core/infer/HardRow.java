package keenfold.core.infer;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Outcomes;

/**
 * A row by how often it is predicted wrong.
 *
 * @param row 0-based row of the data set
 * @param wrong share of wrong predictions of it, averaged over candidates
 * @param candidates how many candidates predict it wrong in more than half of the repeats
 * @param takenFor the class that it is predicted as most often when it is wrong; −1 if it never is
 * @param probability of its own class, averaged over candidates and repeats; NaN where there are labels alone
 */
public record HardRow(int row, double wrong, int candidates, int takenFor, double probability) {
    /**
     * Returns the rows that are tested, those that are wrong most often first, among equals the one with the least probability
     * of its class.
     *
     * @param shown the candidates that count, at least one
     * @param probabilities whether there are any, and not labels alone
     */
    public static List<HardRow> of(AlignedPredictions panel, List<Integer> shown, boolean probabilities) {
        int n = panel.task().data().rows();
        int classes = panel.task().data().classes().count();
        double[] wrong = new double[n];
        double[] probability = new double[n];
        int[] candidates = new int[n];
        int[][] takenFor = new int[n][classes];
        int[] counted = new int[n];
        for (int c : shown) {
            double[] own = new double[n];
            double[] sum = new double[n];
            int[] tests = new int[n];
            for (Outcomes part : panel.parts(c)) {
                for (int i = 0; i < part.size(); i++) {
                    int row = part.row(i);
                    boolean miss = part.predicted(i) != part.actual(i);
                    tests[row]++;
                    own[row] += miss ? 1 : 0;
                    takenFor[row][part.predicted(i)] += miss ? 1 : 0;
                    sum[row] += probabilities ? part.probability(i, part.actual(i)) : Double.NaN;
                }
            }
            for (int i = 0; i < n; i++) {
                if (tests[i] > 0) {
                    wrong[i] += own[i] / tests[i];
                    probability[i] += sum[i] / tests[i];
                    candidates[i] += 2 * own[i] > tests[i] ? 1 : 0;
                    counted[i]++;
                }
            }
        }
        List<HardRow> rows = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            if (counted[i] > 0) {
                int row = i;
                int most = IntStream.range(0, classes)
                        .boxed()
                        .max(Comparator.comparingInt((Integer k) -> takenFor[row][k])
                                .thenComparingInt(k -> -k))
                        .orElse(0);
                rows.add(new HardRow(
                        i,
                        wrong[i] / counted[i],
                        candidates[i],
                        takenFor[i][most] == 0 ? -1 : most,
                        probability[i] / counted[i]));
            }
        }
        rows.sort(Comparator.comparingDouble((HardRow r) -> -r.wrong())
                .thenComparingDouble(HardRow::probability)
                .thenComparingInt(HardRow::row));
        return rows;
    }

    /**
     * A row near another one.
     *
     * @param row 0-based row of the data set
     * @param distance from 0 to 1
     */
    public record Near(int row, double distance) {}

    /**
     * Returns the rows nearest to a row: mean over the columns that both have of |x − y|/range for numbers and 0 or 1 for
     * levels (Gower 1971, doi:10.2307/2528823). Rows that have no column in common are not near.
     */
    public static List<Near> nearest(DataSet data, int row, int count) {
        int n = data.rows();
        double[] sum = new double[n];
        int[] common = new int[n];
        for (Column column : data.features().columns()) {
            if (column.missing(row)) {
                continue;
            }
            double[] apart = column.match(
                    x -> {
                        double[] present = IntStream.range(0, n)
                                .filter(i -> !x.missing(i))
                                .mapToDouble(x::get)
                                .toArray();
                        double range = Arrays.stream(present).max().orElse(0)
                                - Arrays.stream(present).min().orElse(0);
                        return IntStream.range(0, n)
                                .mapToDouble(i -> range > 0 ? Math.abs(x.get(i) - x.get(row)) / range : 0 * x.get(i))
                                .toArray();
                    },
                    c -> IntStream.range(0, n)
                            .mapToDouble(i -> c.missing(i) ? Double.NaN : c.code(i) == c.code(row) ? 0 : 1)
                            .toArray());
            for (int i = 0; i < n; i++) {
                if (!Double.isNaN(apart[i])) {
                    sum[i] += apart[i];
                    common[i]++;
                }
            }
        }
        return IntStream.range(0, n)
                .filter(i -> i != row && common[i] > 0)
                .mapToObj(i -> new Near(i, sum[i] / common[i]))
                .sorted(Comparator.comparingDouble(Near::distance).thenComparingInt(Near::row))
                .limit(count)
                .toList();
    }
}
