package keenfold.core.metric;

import java.util.Optional;

/**
 * Share of rows whose class is among the k most probable ones; among equally probable ones the first come first.
 *
 * @param accuracy counts the rows whose class is the predicted one
 * @param k how many classes are looked at, at least 1
 */
public record TopMetric(CountMetric accuracy, int k) implements Metric {
    @Override
    public String name() {
        return accuracy.name();
    }

    @Override
    public MetricKind kind() {
        return MetricKind.ROW_MEAN;
    }

    @Override
    public boolean higherIsBetter() {
        return true;
    }

    @Override
    public boolean byLabels() {
        return false;
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        return accuracy.scorer(hits(outcomes));
    }

    @Override
    public Optional<Share> share(Outcomes outcomes) {
        return accuracy.share(hits(outcomes));
    }

    /** The same rows, predicted as what they are where that is a hit, and as another class where it is not. */
    private Outcomes hits(Outcomes o) {
        int[] predicted = new int[o.size()];
        for (int i = 0; i < predicted.length; i++) {
            int actual = o.actual(i);
            int before = 0;
            for (int c = 0; c < o.classes(); c++) {
                double more = o.probability(i, c) - o.probability(i, actual);
                before += more > 0 || (more == 0 && c < actual) ? 1 : 0;
            }
            predicted[i] = before < k ? actual : (actual + 1) % o.classes();
        }
        return o.withPredicted(predicted);
    }
}
