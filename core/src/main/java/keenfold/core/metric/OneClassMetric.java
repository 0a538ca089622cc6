package keenfold.core.metric;

import java.util.Optional;

/**
 * A metric of counts that speaks of one class of several: all others are taken together first, so that it costs as much as
 * with two classes.
 *
 * @param name as the plan writes it
 * @param ofTwo the metric of class 1 of two
 * @param only the class that it speaks of
 */
public record OneClassMetric(String name, CountMetric ofTwo, int only) implements Metric {
    @Override
    public MetricKind kind() {
        return ofTwo.kind();
    }

    @Override
    public boolean higherIsBetter() {
        return ofTwo.higherIsBetter();
    }

    @Override
    public double least() {
        return ofTwo.least();
    }

    @Override
    public double most() {
        return ofTwo.most();
    }

    @Override
    public Scorer scorer(Outcomes outcomes) {
        return ofTwo.scorer(outcomes.against(only));
    }

    @Override
    public Optional<Share> share(Outcomes outcomes) {
        return ofTwo.share(outcomes.against(only));
    }
}
