package keenfold.core.prepare;

import java.util.List;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;

/** A preparing transformation that is learned from training rows alone. Equal ones do the same. */
public interface Step {
    /**
     * Learns from training rows.
     *
     * @throws FitFailure if nothing can be learned from these rows, with the reason
     */
    LearnedStep fit(Training training);

    /**
     * Returns the training rows as the classifier behind is to see them: as any others, unless what was learned knows their own
     * classes.
     *
     * @param learned of these rows
     * @param seed of what it draws, if it draws anything
     */
    default Table ofTraining(LearnedStep learned, Training training, Seed seed) {
        return learned.apply(training.table());
    }

    /** Returns whether it may do something to such rows; it is left out of what is fitted to others. */
    default boolean concerns(Table table) {
        return true;
    }

    /** Returns the columns that its settings name. */
    default List<String> named() {
        return List.of();
    }

    /** Returns whether it makes columns under names of its own. */
    default boolean makesColumns() {
        return false;
    }

    /** Returns whether it leaves these rows, and any part of them, just as they are, whichever of them it learns from. */
    default boolean leaves(Table table) {
        return false;
    }
}
