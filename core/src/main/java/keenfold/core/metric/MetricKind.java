package keenfold.core.metric;

/** What a metric is made of; the variance of a mean or a difference depends on it. */
public enum MetricKind {
    /** A mean over rows of something that depends on the predicted label. */
    ROW_MEAN,
    /** Pairs of rows of one fold, compared by probability. */
    RANK,
    /** A function of the joint confusion matrix that is not a mean over rows. */
    COUNTS,
    /** A mean over rows of a loss of the probabilities. */
    LOSS
}
