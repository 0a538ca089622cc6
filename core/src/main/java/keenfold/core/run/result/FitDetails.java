package keenfold.core.run.result;

import java.util.OptionalDouble;

/**
 * How a fit came about.
 *
 * @param chosen what tuning chose, as {@code depth=4 pruning=0.01}; empty without tuning
 * @param shared whether work was shared with other members of the family; the time of the whole then stands in each
 * @param threshold from which probability on the positive class is predicted; absent where the most probable class is
 * @param columns how many columns the classifier was handed; −1 if that is not known
 */
public record FitDetails(String chosen, boolean shared, OptionalDouble threshold, int columns) {
    /** Nothing was chosen, nothing shared. */
    public static final FitDetails PLAIN = new FitDetails("", false, OptionalDouble.empty(), -1);
}
