package keenfold.core.metric;

import java.util.Arrays;
import java.util.stream.IntStream;

/**
 * A metric of how the rows of a fold are ranked by the probability of a class.
 *
 * <p>With two classes, of the positive one; with more, the mean over classes weighted by {@code shares}. Undefined if a
 * class's value is.
 *
 * <p>Cost: one sort of the rows per class; then O(K·n) a draw.
 */
public final class RankMetric implements Metric {
    private final String name;
    private final OfRanks ofRanks;
    /** Per class its weight; classes of weight 0 are left out. */
    private final double[] shares;

    /** What is made of the ranks for one class. */
    interface OfRanks {
        /** Fills the score of each lane, NaN where it is undefined. */
        void score(Ranked ranked, CaseWeights weights, double[] scores);

        /** Returns, per entry, the score of all other entries. */
        double[] withoutEach(Ranked ranked, int entries);

        /** Returns whether it is a share of pairs of rows. */
        boolean ofPairs();
    }

    /** Makes the metric; several classes are averaged by their shares. */
    public RankMetric(String name, OfRanks ofRanks, double[] shares) {
        this.name = name;
        this.ofRanks = ofRanks;
        this.shares = shares;
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public MetricKind kind() {
        return MetricKind.RANK;
    }

    @Override
    public boolean ofPairs() {
        return ofRanks.ofPairs();
    }

    @Override
    public boolean higherIsBetter() {
        return true;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        FoldRows folds = FoldRows.of(outcomes);
        return new ByClass(
                ofRanks,
                shares,
                IntStream.range(0, shares.length)
                        .mapToObj(c -> shares[c] > 0 ? Ranked.of(outcomes, c, folds) : Ranked.NONE)
                        .toArray(Ranked[]::new),
                outcomes.size());
    }

    private static final class ByClass implements Scorer {
        private final OfRanks ofRanks;
        private final double[] shares;
        private final Ranked[] ranked;
        private final int entries;

        ByClass(OfRanks ofRanks, double[] shares, Ranked[] ranked, int entries) {
            this.ofRanks = ofRanks;
            this.shares = shares;
            this.ranked = ranked;
            this.entries = entries;
        }

        @Override
        public void score(CaseWeights weights, double[] scores) {
            double[] one = new double[scores.length];
            Arrays.fill(scores, 0);
            for (int c = 0; c < shares.length; c++) {
                if (shares[c] > 0) {
                    ofRanks.score(ranked[c], weights, one);
                    Lanes.add(scores, one, shares[c]);
                }
            }
        }

        @Override
        public double[] withoutEach() {
            double[] without = new double[entries];
            for (int c = 0; c < shares.length; c++) {
                if (shares[c] > 0) {
                    double[] one = ofRanks.withoutEach(ranked[c], entries);
                    for (int i = 0; i < entries; i++) {
                        without[i] += shares[c] * one[i];
                    }
                }
            }
            return without;
        }
    }
}
