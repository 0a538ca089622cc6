package keenfold.core.infer;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Chance;
import keenfold.core.data.Seed;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.Scorer;
import keenfold.core.run.Parallel;

/**
 * The case bootstrap of mean scores: every draw weights the same rows alike for all candidates, repeats and metrics.
 *
 * <p>Definition: draw b gives unit i (row or group) the weight w_i ~ multinomial(m; 1/m, …); θ_b is the mean over repeats
 * of the score with these weights. Weights of draw b come from (seed, data set, b) alone. Drawn within classes, each
 * class keeps its number of rows. Where each split is scored by itself, θ_b is the mean over those splits in which no
 * candidate is undefined under the weights, and undefined if these are fewer than half: a small test side often lacks a
 * class in a draw, and dropping every such draw would leave none.
 *
 * <p>Cost: O(B·(m + candidates·repeats·rows)). Reference: Efron (1979), Ann. Statist. 7(1),
 * doi:10.1214/aos/1176344552.
 */
final class Bootstrap {
    private final Panel panel;
    private final CaseUnits units;
    private final Seed seed;
    private final int draws;
    private final Parallel parallel;

    Bootstrap(Panel panel, int draws, Parallel parallel) {
        this.panel = panel;
        this.units = panel.units();
        this.seed = new Seed(panel.seed()).with(panel.task().data().name()).with("draw");
        this.draws = draws;
        this.parallel = parallel;
    }

    /** Mean scores by candidate (in the order asked for) and draw, NaN where a repeat is undefined. */
    static final class Means {
        private final double[][] byDraw;

        Means(double[][] byDraw) {
            this.byDraw = byDraw;
        }

        double get(int candidate, int draw) {
            return byDraw[candidate][draw];
        }

        int candidates() {
            return byDraw.length;
        }

        int draws() {
            return byDraw.length == 0 ? 0 : byDraw[0].length;
        }
    }

    /**
     * Draws the means of candidates.
     *
     * @param candidates indexes of admitted candidates
     * @param withinClasses whether rows are drawn within classes
     */
    Means means(Metric metric, List<Integer> candidates, boolean withinClasses) {
        List<List<Scorer>> scorers = parallel.map(
                candidates.size(),
                c -> panel.parts(candidates.get(c)).stream().map(metric::scorer).toList());
        int blocks = (draws + Scorer.LANES - 1) / Scorer.LANES;
        List<double[][]> scored = parallel.map(blocks, block -> block(block, scorers, withinClasses));
        double[][] byDraw = new double[candidates.size()][draws];
        for (int b = 0; b < draws; b++) {
            for (int c = 0; c < byDraw.length; c++) {
                byDraw[c][b] = scored.get(b / Scorer.LANES)[c][b % Scorer.LANES];
            }
        }
        return new Means(byDraw);
    }

    /**
     * Draws the means of one candidate over its first parts: by number of parts, less one, and draw; NaN where one of
     * these parts is undefined.
     */
    double[][] running(Metric metric, int candidate, boolean withinClasses) {
        List<Scorer> parts = panel.parts(candidate).stream().map(metric::scorer).toList();
        boolean joined = panel.task().splits().joined();
        int blocks = (draws + Scorer.LANES - 1) / Scorer.LANES;
        double[][] byDraw = new double[parts.size()][draws];
        parallel.map(blocks, block -> {
            double[] weights = weights(block, withinClasses);
            double[] one = new double[Scorer.LANES];
            double[] sum = new double[Scorer.LANES];
            int[] used = new int[Scorer.LANES];
            for (int p = 0; p < parts.size(); p++) {
                parts.get(p).score(weights, one);
                for (int lane = 0; lane < Scorer.LANES && block * Scorer.LANES + lane < draws; lane++) {
                    if (joined || !Double.isNaN(one[lane])) {
                        sum[lane] += one[lane];
                        used[lane]++;
                    }
                    byDraw[p][block * Scorer.LANES + lane] = 2 * used[lane] <= p ? Double.NaN : sum[lane] / used[lane];
                }
            }
            return block;
        });
        return byDraw;
    }

    private double[][] block(int block, List<List<Scorer>> scorers, boolean withinClasses) {
        double[] weights = weights(block, withinClasses);
        return panel.task().splits().joined() ? meansOfRepeats(weights, scorers) : meansOfSplits(weights, scorers);
    }

    private double[] weights(int block, boolean withinClasses) {
        double[] weights = new double[units.rows() * Scorer.LANES];
        for (int lane = 0; lane < Scorer.LANES; lane++) {
            int draw = block * Scorer.LANES + lane;
            if (draw < draws) {
                fill(weights, lane, draw, withinClasses);
            }
        }
        return weights;
    }

    private static double[][] meansOfRepeats(double[] weights, List<List<Scorer>> scorers) {
        double[][] means = new double[scorers.size()][Scorer.LANES];
        double[] one = new double[Scorer.LANES];
        for (int c = 0; c < means.length; c++) {
            List<Scorer> parts = scorers.get(c);
            for (Scorer part : parts) {
                part.score(weights, one);
                for (int lane = 0; lane < Scorer.LANES; lane++) {
                    means[c][lane] += one[lane];
                }
            }
            for (int lane = 0; lane < Scorer.LANES; lane++) {
                means[c][lane] /= parts.size();
            }
        }
        return means;
    }

    private static double[][] meansOfSplits(double[] weights, List<List<Scorer>> scorers) {
        double[][] means = new double[scorers.size()][Scorer.LANES];
        if (scorers.isEmpty()) {
            return means;
        }
        int parts = scorers.get(0).size();
        int[] used = new int[Scorer.LANES];
        double[][] scores = new double[means.length][Scorer.LANES];
        for (int p = 0; p < parts; p++) {
            for (int c = 0; c < means.length; c++) {
                scorers.get(c).get(p).score(weights, scores[c]);
            }
            for (int lane = 0; lane < Scorer.LANES; lane++) {
                boolean defined = true;
                for (double[] own : scores) {
                    defined &= !Double.isNaN(own[lane]);
                }
                if (defined) {
                    used[lane]++;
                    for (int c = 0; c < means.length; c++) {
                        means[c][lane] += scores[c][lane];
                    }
                }
            }
        }
        for (double[] own : means) {
            for (int lane = 0; lane < Scorer.LANES; lane++) {
                own[lane] = 2 * used[lane] < parts ? Double.NaN : own[lane] / used[lane];
            }
        }
        return means;
    }

    private void fill(double[] weights, int lane, int draw, boolean withinClasses) {
        int[] counts = withinClasses ? withinClasses(draw) : counts(draw);
        for (int row = 0; row < units.rows(); row++) {
            int unit = units.of(row);
            weights[row * Scorer.LANES + lane] = unit < 0 ? 0 : counts[unit];
        }
    }

    /** How often draw b has each unit. */
    int[] counts(int draw) {
        Chance chance = seed.with(draw).chance();
        int m = units.count();
        int[] counts = new int[m];
        for (int i = 0; i < m; i++) {
            counts[chance.below(m)]++;
        }
        return counts;
    }

    private int[] withinClasses(int draw) {
        Chance chance = seed.with(draw).with("classes").chance();
        int[] counts = new int[units.count()];
        for (List<Integer> members : classMembers()) {
            for (int i = 0; i < members.size(); i++) {
                counts[members.get(chance.below(members.size()))]++;
            }
        }
        return counts;
    }

    private List<List<Integer>> classMembers() {
        List<List<Integer>> members = new ArrayList<>();
        for (int c = 0; c < panel.task().data().classes().count(); c++) {
            members.add(new ArrayList<>());
        }
        for (int row = 0; row < units.rows(); row++) {
            if (units.of(row) >= 0) {
                members.get(panel.task().data().target(row)).add(units.of(row));
            }
        }
        return members;
    }

    /** One standard normal number per draw, from which every pivot takes its χ². */
    double[] normals() {
        double[] z = new double[draws];
        Seed pivot = seed.with("pivot");
        for (int b = 0; b < draws; b++) {
            z[b] = Special.normalQuantile(pivot.with(b).chance().uniform());
        }
        return z;
    }

    /** The score of each part with all weights one. */
    static double[] partScores(Metric metric, List<Outcomes> parts) {
        return parts.stream().mapToDouble(metric::score).toArray();
    }
}
