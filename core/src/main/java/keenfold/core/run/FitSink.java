package keenfold.core.run;

import java.util.List;
import keenfold.core.run.result.Fit;

/** Takes finished units. Called by one thread at a time, in the order in which units finish. */
@FunctionalInterface
public interface FitSink {
    /** Takes the fits of one unit, one per member of its family, in order. */
    void accept(Unit unit, List<Fit> fits);
}
