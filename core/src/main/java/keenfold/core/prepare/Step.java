package keenfold.core.prepare;

import java.util.List;
import keenfold.core.data.State;
import keenfold.core.data.Table;

/** A preparing transformation that is learned from training rows alone. Equal ones do the same. */
public interface Step {
    /**
     * Learns from training rows.
     *
     * @throws FitFailure if nothing can be learned from these rows, with the reason
     */
    Fitted fit(Training training);

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

    /** A fitted step. */
    interface Fitted {
        /** Returns the transformed rows; the table has the columns of the training rows. */
        Table apply(Table table);

        /** Returns what was learned. */
        State state();

        /**
         * Makes a fitted step again.
         *
         * @throws IllegalArgumentException if the state is none of a fitted step
         */
        static Fitted restored(State state) {
            return FittedSteps.restored(state);
        }
    }
}
