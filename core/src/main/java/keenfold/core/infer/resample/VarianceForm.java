package keenfold.core.infer.resample;

/** How the spread of the draws is made to allow for other training rows. */
public enum VarianceForm {
    /** Repeated, different partitions: widened by the instability seen between repeats. */
    WIDENED("widened"),
    /** One partition: inflated by the ratio of test to training rows. */
    INFLATED("inflated"),
    /** Splits scored by themselves: from their own spread, widened for the rows that they share. */
    RESAMPLED("resampled"),
    /** A single split: the spread of the tested rows alone, for these fitted models only. */
    CASES("cases");

    private final String label;

    VarianceForm(String label) {
        this.label = label;
    }

    /** Returns the name in outputs. */
    public String label() {
        return label;
    }
}
