package keenfold.core.classify;

import java.util.Optional;
import keenfold.core.classify.catalog.Models;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedModel;

/** A trained classifier. Immutable. */
public interface Model {
    /**
     * Returns class probabilities.
     *
     * @param table rows with the columns of the training rows
     * @return K values per row, row after row, each in 0 … 1, summing to one up to rounding
     */
    double[] probabilities(Table table);

    /** Returns whether its first prediction does the work for models that were made together with it. */
    default boolean predictsForOthers() {
        return false;
    }

    /** Returns whether it is retrained with each prediction, so that the two cannot be timed apart. */
    default boolean trainsAsItPredicts() {
        return false;
    }

    /**
     * Returns what the model itself says of its columns: how much each weighs, at least 0, on no scale but its own; empty if
     * it says nothing. Logistic and linear svm: absolute coefficients, summed over classes; trees and forests: the decrease
     * of impurity by splits of the column.
     *
     * @param columns how many the training rows had
     */
    default double[] columnWeights(int columns) {
        return new double[0];
    }

    /**
     * Returns what it learned, of which {@link Models} makes it again; empty if it cannot be kept. That of a classifier from
     * outside is an {@link keenfold.core.learned.OutsideModel}, of which its kind makes it again.
     */
    default Optional<LearnedModel> learned() {
        return Optional.empty();
    }

    /** Returns whether another program makes its predictions, which is not started without need. */
    default boolean asksAnotherProgram() {
        return false;
    }

    /** Returns the effective number of parameters, before it is capped at (K − 1)·training rows; NaN if it is not known. */
    double size();
}
