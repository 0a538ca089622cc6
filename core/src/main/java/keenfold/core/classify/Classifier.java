package keenfold.core.classify;

import keenfold.core.data.RandomSource;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/** What can be trained. Implementations are immutable and safe to share between threads. */
public interface Classifier {
    /** Returns what the columns must be like; steps see to it where the plan names none. */
    Needs needs();

    /** Returns whether it can read texts; for all others, columns of texts that no step has read are taken away. */
    default boolean readsTexts() {
        return false;
    }

    /**
     * Trains on rows.
     *
     * @param chance the only source of random numbers
     * @throws FitFailure if these rows give no model, with the reason
     */
    Model fit(Training training, RandomSource chance);
}
