package keenfold.core.infer.resample;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.infer.distribution.Special;
import keenfold.core.metric.CaseWeights;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Scorer;
import keenfold.core.run.Parallel;

/**
 * The case bootstrap of mean scores: every draw weights the same rows alike for all candidates, repeats and metrics.
 *
 * <p>Definition: draw b gives unit i (row or group) the weight w_i ~ multinomial(m; 1/m, …); θ_b is the mean over repeats
 * of the score with these weights. Weights of draw b come from (seed, b) alone. Drawn within classes, each
 * class keeps its number of rows. Where each split is scored by itself, θ_b is the mean over those splits in which no
 * candidate is undefined under the weights, and undefined if these are fewer than half: a small test side often lacks a
 * class in a draw, and dropping every such draw would leave none.
 *
 * <p>Cost: O(B·(m + candidates·repeats·rows)). Reference: Efron (1979), Ann. Statist. 7(1),
 * doi:10.1214/aos/1176344552.
 */
public final class Bootstrap {
    private static final int FEWEST_ABREAST = 16;
    private static final int MOST_ABREAST = 512;
    private static final int MOST_WEIGHTS = 1 << 22;
    /** So many weights stay in a processor's second cache. */
    private static final int CACHED_WEIGHTS = 1 << 17;

    private static final int LEAST_BLOCKS_A_THREAD = 4;

    private final AlignedPredictions panel;
    private final ResamplingUnits units;
    private final Seed seed;
    private final int draws;
    private final Parallel parallel;
    /**
     * How many draws are scored in one pass: fewer of many rows, whose weights would take much memory in each thread. It makes
     * no difference to the draws.
     */
    private final int abreast;

    /** Draws from predictions of all candidates, B times. */
    public Bootstrap(AlignedPredictions panel, int draws, Parallel parallel) {
        this.panel = panel;
        this.units = panel.units();
        this.seed = new Seed(panel.seed()).with("draw");
        this.draws = draws;
        this.parallel = parallel;
        this.abreast = abreast(units.rows(), draws, parallel.threads());
    }

    private static int abreast(int rows, int draws, int threads) {
        int abreast = Scorer.LANES;
        while (abreast > FEWEST_ABREAST && (long) abreast * rows > MOST_WEIGHTS) {
            abreast /= 2;
        }
        // Of few rows more, so that loops over draws are long; but there must be blocks enough for all threads.
        while (2 * abreast <= MOST_ABREAST
                && 2L * abreast * rows <= CACHED_WEIGHTS
                && 2L * abreast * threads * LEAST_BLOCKS_A_THREAD <= draws) {
            abreast *= 2;
        }
        return abreast;
    }

    /** Mean scores by candidate (in the order asked for) and draw, NaN where a repeat is undefined. */
    public static final class Means {
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

    /** What is to be drawn of one metric: the candidates, by their indexes. */
    public record Asked(Metric metric, List<Integer> candidates) {
        public Asked {
            candidates = List.copyOf(candidates);
        }
    }

    /** Draws the means of one metric. */
    public Means means(Metric metric, List<Integer> candidates, boolean withinClasses) {
        return means(List.of(new Asked(metric, candidates)), withinClasses).get(0);
    }

    /**
     * Draws the means of several metrics with the same weights.
     *
     * @param withinClasses whether rows are drawn within classes
     */
    public List<Means> means(List<Asked> asked, boolean withinClasses) {
        List<List<List<Scorer>>> scorers = new ArrayList<>();
        for (Asked one : asked) {
            scorers.add(parallel.map(one.candidates.size(), c -> panel.scorers(one.metric, one.candidates.get(c))));
        }
        boolean joined = panel.task().splits().joined();
        double[][][] byDraw = new double[asked.size()][][];
        for (int m = 0; m < byDraw.length; m++) {
            byDraw[m] = new double[asked.get(m).candidates.size()][draws];
        }
        List<List<Integer>> members = withinClasses ? classMembers() : List.of();
        parallel.map(blocks(), block -> {
            CaseWeights weights = weights(block, members);
            for (int m = 0; m < byDraw.length; m++) {
                double[][] scored = joined
                        ? meansOfRepeats(weights, lanes(block), scorers.get(m))
                        : meansOfSplits(weights, lanes(block), scorers.get(m));
                for (int c = 0; c < scored.length; c++) {
                    System.arraycopy(scored[c], 0, byDraw[m][c], block * abreast, lanes(block));
                }
            }
            return block;
        });
        return Arrays.stream(byDraw).map(Means::new).toList();
    }

    private int blocks() {
        return (draws + abreast - 1) / abreast;
    }

    private int lanes(int block) {
        return Math.min(abreast, draws - block * abreast);
    }

    /**
     * Draws the means of one candidate over its first parts: by number of parts, less one, and draw; NaN where one of
     * these parts is undefined.
     */
    double[][] running(Metric metric, int candidate, boolean withinClasses) {
        List<Scorer> parts = panel.scorers(metric, candidate);
        boolean joined = panel.task().splits().joined();
        double[][] byDraw = new double[parts.size()][draws];
        List<List<Integer>> members = withinClasses ? classMembers() : List.of();
        parallel.map(blocks(), block -> {
            CaseWeights weights = weights(block, members);
            int lanes = lanes(block);
            double[] one = new double[lanes];
            double[] sum = new double[lanes];
            int[] used = new int[lanes];
            for (int p = 0; p < parts.size(); p++) {
                parts.get(p).score(weights, one);
                for (int lane = 0; lane < lanes; lane++) {
                    if (joined || !Double.isNaN(one[lane])) {
                        sum[lane] += one[lane];
                        used[lane]++;
                    }
                    byDraw[p][block * abreast + lane] = 2 * used[lane] <= p ? Double.NaN : sum[lane] / used[lane];
                }
            }
            return block;
        });
        return byDraw;
    }

    /** What is done with the weights of one draw. */
    public interface OfDraw {
        void take(int draw, double[] weightsByRow);
    }

    /** Hands over the weights of every draw, several draws at a time. */
    public void eachDraw(OfDraw taken) {
        parallel.map(blocks(), block -> {
            int[][] byRow = byRow(byUnit(block, List.of()), lanes(block));
            for (int lane = 0; lane < lanes(block); lane++) {
                double[] own = new double[byRow.length];
                for (int row = 0; row < own.length; row++) {
                    own[row] = byRow[row][lane];
                }
                taken.take(block * abreast + lane, own);
            }
            return block;
        });
    }

    /** The weights of a block of draws by row; rows of one unit share an array, and rows never tested one of zeros. */
    private CaseWeights weights(int block, List<List<Integer>> members) {
        return CaseWeights.of(byRow(byUnit(block, members), lanes(block)), lanes(block));
    }

    private int[][] byUnit(int block, List<List<Integer>> members) {
        int lanes = lanes(block);
        int[][] byUnit = new int[units.count()][lanes];
        for (int lane = 0; lane < lanes; lane++) {
            draw(block * abreast + lane, members, byUnit, lane);
        }
        return byUnit;
    }

    private int[][] byRow(int[][] byUnit, int lanes) {
        int[] never = new int[lanes];
        int[][] weights = new int[units.rows()][];
        for (int row = 0; row < weights.length; row++) {
            weights[row] = units.of(row) < 0 ? never : byUnit[units.of(row)];
        }
        return weights;
    }

    /** Draws all weights, and returns a sum of some so that none is left out: what drawing costs by itself. */
    public double weightsAlone() {
        return parallel
                .map(blocks(), block -> Arrays.stream(byUnit(block, List.of()))
                        .mapToDouble(w -> w[0])
                        .sum())
                .stream()
                .mapToDouble(Double::doubleValue)
                .sum();
    }

    /** Adds one draw to its lane; within classes if members are given. */
    private void draw(int draw, List<List<Integer>> members, int[][] byUnit, int lane) {
        if (members.isEmpty()) {
            RandomSource chance = seed.with(draw).chance();
            int m = byUnit.length;
            for (int i = 0; i < m; i++) {
                byUnit[chance.below(m)][lane]++;
            }
            return;
        }
        RandomSource chance = seed.with(draw).with("classes").chance();
        for (List<Integer> of : members) {
            for (int i = 0; i < of.size(); i++) {
                byUnit[of.get(chance.below(of.size()))][lane]++;
            }
        }
    }

    private static double[][] meansOfRepeats(CaseWeights weights, int lanes, List<List<Scorer>> scorers) {
        double[][] means = new double[scorers.size()][lanes];
        double[] one = new double[lanes];
        for (int c = 0; c < means.length; c++) {
            List<Scorer> parts = scorers.get(c);
            for (Scorer part : parts) {
                part.score(weights, one);
                for (int lane = 0; lane < lanes; lane++) {
                    means[c][lane] += one[lane];
                }
            }
            for (int lane = 0; lane < lanes; lane++) {
                means[c][lane] /= parts.size();
            }
        }
        return means;
    }

    private static double[][] meansOfSplits(CaseWeights weights, int lanes, List<List<Scorer>> scorers) {
        double[][] means = new double[scorers.size()][lanes];
        if (scorers.isEmpty()) {
            return means;
        }
        int parts = scorers.get(0).size();
        int[] used = new int[lanes];
        double[][] scores = new double[means.length][lanes];
        for (int p = 0; p < parts; p++) {
            for (int c = 0; c < means.length; c++) {
                scorers.get(c).get(p).score(weights, scores[c]);
            }
            for (int lane = 0; lane < lanes; lane++) {
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
            for (int lane = 0; lane < lanes; lane++) {
                own[lane] = 2 * used[lane] < parts ? Double.NaN : own[lane] / used[lane];
            }
        }
        return means;
    }

    /**
     * Scores, in each draw, one chosen candidate on the units that the draw left out; NaN where that is undefined or where
     * none was chosen.
     *
     * @param chosen per draw the candidate, by its index; −1 for none
     * @param withinClasses whether the draws were
     */
    double[] leftOut(Metric metric, int[] chosen, boolean withinClasses) {
        double[] scores = new double[draws];
        Arrays.fill(scores, Double.NaN);
        Map<Integer, List<Scorer>> scorers = new HashMap<>();
        Arrays.stream(chosen).filter(c -> c >= 0).distinct().forEach(c -> scorers.put(c, panel.scorers(metric, c)));
        boolean joined = panel.task().splits().joined();
        List<List<Integer>> members = withinClasses ? classMembers() : List.of();
        parallel.map(blocks(), block -> {
            int[][] byUnit = byUnit(block, members);
            int first = block * abreast;
            Arrays.stream(chosen, first, first + lanes(block))
                    .filter(c -> c >= 0)
                    .distinct()
                    .forEach(c -> {
                        // Only the draws that chose it: each draw is scored once, whatever was chosen.
                        int[] own = IntStream.range(0, lanes(block))
                                .filter(lane -> chosen[first + lane] == c)
                                .toArray();
                        CaseWeights without = complement(byUnit, own);
                        List<List<Scorer>> one = List.of(scorers.getOrDefault(c, List.of()));
                        double[] means = (joined
                                        ? meansOfRepeats(without, own.length, one)
                                        : meansOfSplits(without, own.length, one))
                                [0];
                        for (int i = 0; i < own.length; i++) {
                            scores[first + own[i]] = means[i];
                        }
                    });
            return block;
        });
        return scores;
    }

    /** Weights of 1 for the rows whose unit some draws left out, 0 for the others and for rows that are never tested. */
    private CaseWeights complement(int[][] byUnit, int[] lanes) {
        int[][] without = new int[byUnit.length][lanes.length];
        for (int unit = 0; unit < byUnit.length; unit++) {
            for (int i = 0; i < lanes.length; i++) {
                without[unit][i] = byUnit[unit][lanes[i]] == 0 ? 1 : 0;
            }
        }
        return CaseWeights.of(byRow(without, lanes.length), lanes.length);
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
        return normals("pivot");
    }

    /** A second one per draw, for differences that no draw moves. */
    double[] otherNormals() {
        return normals("unmoved");
    }

    private double[] normals(String use) {
        double[] z = new double[draws];
        Seed pivot = seed.with(use);
        for (int b = 0; b < draws; b++) {
            z[b] = Special.normalQuantile(pivot.with(b).chance().uniform());
        }
        return z;
    }
}
