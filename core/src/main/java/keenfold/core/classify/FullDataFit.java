package keenfold.core.classify;

import java.util.Optional;
import keenfold.core.prepare.Training;

/**
 * What all rows of a data set taught a classifier once, to shorten the fits to training sides that hold most of them.
 *
 * <p>It depends on the data set and the classifier alone, so that no fit depends on which others ran before it. Safe to
 * share between threads.
 */
public interface FullDataFit {
    /** The least share of a sum of squares that must be left: a difference loses at most three of some thirteen digits. */
    double LEAST_LEFT = 1e-3;

    /**
     * Returns the model of all rows but some, by taking away what those added.
     *
     * @param rows positions among all rows
     * @return empty where the difference would lose too many digits, or cannot be computed; the remaining rows are then fitted directly
     */
    default Optional<Model> without(int[] rows) {
        return Optional.empty();
    }

    /**
     * Fits training rows from where the fit of all rows ended.
     *
     * @return empty where that does not lead to the solution: it is to be fitted from the beginning then
     */
    default Optional<Model> near(Training training) {
        return Optional.empty();
    }
}
