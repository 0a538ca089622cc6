package keenfold.core.split;

import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;

/** A way to divide the rows of a data set, again and again, into training and test sides. */
public sealed interface Scheme permits KFold, LeaveOneOut, LeaveGroupOut, MonteCarlo, RollingOrigin, OutOfBag {
    /** Returns the name in plans. */
    String label();

    /** Divides rows, keeping blocks whole; {@code seed} is that of the data set's splits. */
    Splits divide(DataSet data, Blocks blocks, Seed seed);

    /**
     * Divides a data set; the result depends on the rows and the seed, never on the name of the data set or on candidates.
     *
     * @param bindEqual whether rows that are equal in every feature and in the target stay on one side
     * @throws IllegalArgumentException if the data cannot be divided so, with the nearest thing that can be done
     */
    default Splits divide(DataSet data, boolean bindEqual, long seed) {
        Seed own = new Seed(seed).with("split");
        Splits splits = divide(data, Blocks.of(data, bindEqual), own);
        return bindEqual ? splits.bind() : splits;
    }

    /** Divides a data set whose equal rows are not bound together. */
    default Splits divide(DataSet data, long seed) {
        return divide(data, false, seed);
    }
}
