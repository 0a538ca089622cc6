package keenfold.core.metric;

import java.util.Arrays;

/**
 * Area under the ROC curve for several classes, pair of classes by pair of classes.
 *
 * <p>Definition: Â(i|j) is the share of pairs of a row of class i and one of class j, of the same fold, in which the former
 * has the higher probability of class i, ties ½, pooled over folds; the score is the mean over pairs i &lt; j of
 * (Â(i|j) + Â(j|i))/2. It does not depend on how frequent classes are. Undefined if a class has no pair with another.
 *
 * <p>Reference: Hand and Till (2001), Mach. Learn. 45, doi:10.1023/A:1010920819831.
 */
public record PairwiseAuc(String name, int classes) implements Metric {
    @Override
    public MetricKind kind() {
        return MetricKind.RANK;
    }

    @Override
    public boolean ofPairs() {
        return true;
    }

    @Override
    public boolean higherIsBetter() {
        return true;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        Ranked[] ranked = new Ranked[classes * classes];
        for (int i = 0; i < classes; i++) {
            for (int j = 0; j < classes; j++) {
                ranked[i * classes + j] = i == j ? Ranked.NONE : Ranked.of(outcomes, i, j);
            }
        }
        return new ByPair(classes, ranked, outcomes.size());
    }

    private static final class ByPair implements Scorer {
        private static final ConcordantPairs PAIRS = new ConcordantPairs();

        private final int classes;
        private final Ranked[] ranked;
        private final int entries;

        ByPair(int classes, Ranked[] ranked, int entries) {
            this.classes = classes;
            this.ranked = ranked;
            this.entries = entries;
        }

        private double share() {
            return 1.0 / (classes * (classes - 1.0));
        }

        @Override
        public void score(CaseWeights weights, double[] scores) {
            double[] one = new double[scores.length];
            Arrays.fill(scores, 0);
            for (int at = 0; at < ranked.length; at++) {
                if (at / classes != at % classes) {
                    PAIRS.score(ranked[at], weights, one);
                    Lanes.add(scores, one, share());
                }
            }
        }

        @Override
        public double[] withoutEach() {
            double[] without = new double[entries];
            for (int at = 0; at < ranked.length; at++) {
                if (at / classes == at % classes) {
                    continue;
                }
                double[] own = PAIRS.withoutEach(ranked[at], entries);
                boolean[] in = new boolean[entries];
                for (int e : ranked[at].entry) {
                    in[e] = true;
                }
                // Rows of other classes leave the pair's area as it is.
                double whole = PAIRS.whole(ranked[at]);
                for (int i = 0; i < entries; i++) {
                    without[i] += share() * (in[i] ? own[i] : whole);
                }
            }
            return without;
        }
    }
}
