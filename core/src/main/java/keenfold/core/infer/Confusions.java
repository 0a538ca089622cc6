package keenfold.core.infer;

import java.util.List;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Confusion;
import keenfold.core.metric.Outcomes;

/** Confusion matrices: one per repeat (or split, where each is scored by itself), and their average. */
public final class Confusions {
    private final List<Confusion> parts;

    private Confusions(List<Confusion> parts) {
        this.parts = parts;
    }

    /** Returns the matrices of an admitted candidate. */
    public static Confusions of(AlignedPredictions panel, int candidate) {
        List<Outcomes> parts = panel.parts(candidate);
        return new Confusions(parts.stream().map(Confusion::of).toList());
    }

    /** Returns the matrix of each repeat. */
    public List<Confusion> parts() {
        return parts;
    }

    /** Returns the rows of a cell, averaged over repeats. */
    public double count(int actual, int predicted) {
        return parts.stream()
                .mapToDouble(m -> m.at(actual, predicted))
                .average()
                .orElse(Double.NaN);
    }

    /** Returns the rows of a class, averaged over repeats. */
    public double actual(int c) {
        return parts.stream().mapToDouble(m -> m.actual(c)).average().orElse(Double.NaN);
    }

    /** Returns the rows predicted as a class, averaged over repeats. */
    public double predicted(int c) {
        return parts.stream().mapToDouble(m -> m.predicted(c)).average().orElse(Double.NaN);
    }

    /** Returns a cell as a share of the rows of its actual class; NaN without rows. */
    public double ofActual(int actual, int predicted) {
        return count(actual, predicted) / actual(actual);
    }

    /** Returns a cell as a share of the rows of its predicted class; NaN without rows. */
    public double ofPredicted(int actual, int predicted) {
        return count(actual, predicted) / predicted(predicted);
    }
}
