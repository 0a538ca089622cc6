package keenfold.core.classify;

import java.util.Optional;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/** A classifier whose fits to the folds of one data set share work. */
public interface AcrossFolds extends Classifier {
    /**
     * Learns from all rows, each of which counts once.
     *
     * @return empty if nothing can be shared
     * @throws FitFailure if all rows give no model
     */
    Optional<FullDataFit> whole(Training all);
}
