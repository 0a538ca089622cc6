package keenfold.core.metric;

import java.util.Optional;

/** A metric bound to the classes of a data set. */
public interface Metric {
    /** Returns the name as the plan writes it. */
    String name();

    /** Returns what it is made of. */
    MetricKind kind();

    /** Returns whether a higher score is better. */
    boolean higherIsBetter();

    /** Returns the least possible score. */
    default double least() {
        return 0;
    }

    /** Returns the greatest possible score, perhaps infinite. */
    default double most() {
        return 1;
    }

    /** Returns whether predictions with the same labels have the same score. */
    default boolean byLabels() {
        return kind() == MetricKind.ROW_MEAN || kind() == MetricKind.COUNTS;
    }

    /** Returns whether the score is a share of pairs of rows. */
    default boolean ofPairs() {
        return false;
    }

    /** Returns a scorer of fixed outcomes. */
    Scorer scorer(Outcomes outcomes);

    /** Returns what the score is a share of, where it is a plain share of rows. */
    default Optional<Share> share(Outcomes outcomes) {
        return Optional.empty();
    }

    /** Returns the loss of each entry where the score is a mean over rows of a loss; otherwise nothing. */
    default double[] rowLosses(Outcomes outcomes) {
        return new double[0];
    }

    /** Returns the score of the outcomes, each row counted once; NaN if it is undefined. */
    default double score(Outcomes outcomes) {
        double[] scores = new double[1];
        scorer(outcomes.renumbered()).score(CaseWeights.ones(outcomes.size()), scores);
        return scores[0];
    }

    /** Returns the score turned so that higher is better. */
    default double turned(double score) {
        return higherIsBetter() ? score : -score;
    }

    /**
     * A share of rows.
     *
     * @param successes the rows that count
     * @param trials the rows out of which they are counted
     */
    record Share(double successes, double trials) {}
}
