package keenfold.core.infer;

/** How the spread of the draws is made to allow for other training rows. */
public enum VarianceForm {
    /** Repeated, different partitions: widened by the instability seen between repeats. */
    WIDENED("widened"),
    /** One partition: inflated by the ratio of test to training rows. */
    INFLATED("inflated");

    private final String label;

    VarianceForm(String label) {
        this.label = label;
    }

    /** Returns the name in outputs. */
    public String label() {
        return label;
    }
}
