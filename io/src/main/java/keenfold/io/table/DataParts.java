package keenfold.io.table;

import java.util.Optional;
import keenfold.core.split.Holdout;

/**
 * What belongs to a data set besides its file.
 *
 * @param test a second file, whose rows are tested
 * @param heldBack another file, all of whose rows are held back
 * @param holdout which rows are held back, if it is not a file
 * @param bindEqual whether equal rows stay on one side of the holdout
 * @param seed of the comparison
 * @param given the column that holds splits made elsewhere
 */
public record DataParts(
        Optional<String> test,
        Optional<String> heldBack,
        Optional<Holdout> holdout,
        boolean bindEqual,
        long seed,
        Optional<String> given) {
    /** One file, nothing held back. */
    public static final DataParts NONE =
            new DataParts(Optional.empty(), Optional.empty(), Optional.empty(), false, 0, Optional.empty());
}
