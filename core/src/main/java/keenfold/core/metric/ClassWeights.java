package keenfold.core.metric;

import java.util.Arrays;
import java.util.Optional;

/**
 * How the values of the classes make one score: one class alone, all alike, or by their share.
 */
public final class ClassWeights {
    private final Optional<Integer> only;
    private final double[] shares;
    /** Whether classes weigh by their share: of the rows scored for metrics of counts, of the data for ranks. */
    private final boolean byShare;

    ClassWeights(Optional<Integer> only, double[] shares, boolean byShare) {
        this.only = only;
        this.shares = shares;
        this.byShare = byShare;
    }

    /** The value of one class. */
    public interface OfClass {
        double of(Confusion matrix, int c);
    }

    /** The class, if it is one alone. */
    public Optional<Integer> only() {
        return only;
    }

    /** Returns weights that ask for one class. */
    public static ClassWeights only(int c) {
        return new ClassWeights(Optional.of(c), new double[0], false);
    }

    /** Returns equal weights of all classes. */
    public static ClassWeights equal(int classes) {
        return new ClassWeights(Optional.empty(), new double[classes], false);
    }

    /** Returns the class shares of the data, from the rows of each class. */
    public static ClassWeights byShare(int[] counts) {
        double total = Arrays.stream(counts).sum();
        return new ClassWeights(
                Optional.empty(),
                Arrays.stream(counts).mapToDouble(c -> c / total).toArray(),
                true);
    }

    /** The weighted mean over classes: NaN if a class's value is. */
    public double mean(Confusion m, OfClass ofClass) {
        if (only.isPresent()) {
            return ofClass.of(m, only.get());
        }
        double sum = 0;
        double total = m.total();
        for (int c = 0; c < m.classes(); c++) {
            double value = ofClass.of(m, c);
            sum += byShare ? value * (m.actual(c) / total) : value;
        }
        return byShare ? sum : sum / m.classes();
    }

    /** The weights as an array that does not depend on the rows scored. */
    public double[] fixed(int classes) {
        double[] weights = new double[classes];
        if (only.isPresent()) {
            weights[only.get()] = 1;
        } else if (byShare) {
            System.arraycopy(shares, 0, weights, 0, classes);
        } else {
            Arrays.fill(weights, 1.0 / classes);
        }
        return weights;
    }
}
