package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;

/**
 * How each row stands in each repeat, by one candidate's predictions: as whole multiples of a unit, so that many candidates
 * fit into memory.
 *
 * <p>Definition (placements): P_ir, of row i of class c in repeat r, is the share of the rows of other classes in the same
 * repeat whose probability of class c lies below row i's own, ties ½. A candidate that gives all rows of a fold the same
 * probability, such as the majority guess, ranks none of them: its placements are ½, not the chance order of its folds.
 *
 * <p>Source: docs/methods.md, variance.
 */
final class RowStandings {
    private final TestedRows rows;
    private final double[][] values;
    private final int[][] halves;
    private final double[][] units;

    private RowStandings(TestedRows rows, double[][] values, int[][] halves, double[][] units) {
        this.rows = rows;
        this.values = values;
        this.halves = halves;
        this.units = units;
    }

    /** Placements of a candidate's rows; {@code parts} are its outcomes, repeat by repeat. */
    static RowStandings placements(List<Outcomes> parts, TestedRows rows) {
        int[][] halves = new int[parts.size()][rows.count()];
        double[][] units = new double[parts.size()][rows.classes()];
        for (int r = 0; r < halves.length; r++) {
            for (int c = 0; c < rows.classes(); c++) {
                units[r][c] = 1 / place(parts.get(r), c, rows, halves[r]);
            }
        }
        return new RowStandings(rows, new double[0][], halves, units);
    }

    /**
     * The influences of rows on a metric made of counts, times n_c/n, so that they are to be read as placements are.
     *
     * <p>Definition: of balanced accuracy, correct_ir/K; of another metric θ, the jackknife's (θ_r − θ_r without row i)·n_c.
     */
    static RowStandings influences(Metric metric, List<Outcomes> parts, TestedRows rows) {
        double[][] values = new double[parts.size()][rows.count()];
        boolean balanced = metric.name().equals("balanced-accuracy");
        for (int r = 0; r < values.length; r++) {
            Outcomes part = parts.get(r);
            double score = balanced ? 0 : metric.score(part);
            double[] without = balanced ? new double[0] : metric.scorer(part).withoutEach();
            for (int i = 0; i < part.size(); i++) {
                int at = rows.position(part.row(i));
                if (at >= 0) {
                    double influence = balanced
                            ? (part.predicted(i) == part.actual(i) ? 1.0 / rows.classes() : 0)
                            : (score - without[i]) * rows.ofClass(part.actual(i));
                    // Where a metric does not exist without a row, the row's influence is not known.
                    values[r][at] = Double.isNaN(influence) ? 0 : influence;
                }
            }
        }
        return new RowStandings(rows, values, new int[0][], new double[0][]);
    }

    /** Adds how every row stands in a repeat, by position; or, with a sign of −1, takes it away. */
    void add(int repeat, int sign, double[] to) {
        if (halves.length == 0) {
            double[] own = values[repeat];
            for (int i = 0; i < to.length; i++) {
                to[i] += sign * own[i];
            }
            return;
        }
        int[] own = halves[repeat];
        double[] unit = units[repeat];
        int[] classes = rows.byPosition();
        for (int i = 0; i < to.length; i++) {
            to[i] += sign * (own[i] * unit[classes[i]]);
        }
    }

    /** Sets twice the number of rows below each row of a class, and returns twice the number of the rows of other classes. */
    private static double place(Outcomes part, int c, TestedRows rows, int[] halves) {
        double[] probability = new double[part.size()];
        int others = 0;
        for (int i = 0; i < probability.length; i++) {
            // Without −0, which a search holds for less than 0.
            probability[i] = part.probability(i, c) + 0.0;
            others += part.actual(i) == c ? 0 : 1;
        }
        if (constantInFolds(part, probability)) {
            Arrays.fill(probability, 0);
        }
        double[] levels = IntStream.range(0, probability.length)
                .filter(i -> part.actual(i) == c)
                .mapToDouble(i -> probability[i])
                .sorted()
                .distinct()
                .toArray();
        // Rows of other classes at each level, and between it and the one before.
        int[] tied = new int[levels.length];
        int[] between = new int[levels.length + 1];
        for (int i = 0; i < probability.length; i++) {
            if (part.actual(i) != c) {
                int at = Arrays.binarySearch(levels, probability[i]);
                if (at >= 0) {
                    tied[at]++;
                } else {
                    between[-at - 1]++;
                }
            }
        }
        int[] twice = new int[levels.length];
        int below = 0;
        for (int level = 0; level < levels.length; level++) {
            below += between[level];
            twice[level] = 2 * below + tied[level];
            below += tied[level];
        }
        for (int i = 0; i < probability.length; i++) {
            int at = part.actual(i) == c ? rows.position(part.row(i)) : -1;
            if (at >= 0) {
                halves[at] = twice[Arrays.binarySearch(levels, probability[i])];
            }
        }
        return 2.0 * Math.max(1, others);
    }

    private static boolean constantInFolds(Outcomes part, double[] probability) {
        double[] first = new double[0];
        for (int i = 0; i < probability.length; i++) {
            int fold = part.fold(i);
            if (fold >= first.length) {
                int known = first.length;
                first = Arrays.copyOf(first, fold + 1);
                Arrays.fill(first, known, first.length, Double.NaN);
            }
            if (Double.isNaN(first[fold])) {
                first[fold] = probability[i];
            } else if (first[fold] != probability[i]) {
                return false;
            }
        }
        return true;
    }
}
