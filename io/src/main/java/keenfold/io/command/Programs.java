package keenfold.io.command;

import java.nio.file.Path;
import java.util.Optional;

/**
 * Where the programs of a plan are looked for, and whether they may be started. A plan may come from somebody else, and a
 * ledger holds one, so that nothing is started unless the user said so for this very call.
 *
 * @param folder of the plan, if it is known
 * @param allowed whether programs may be started
 */
public record Programs(Optional<Path> folder, boolean allowed) {
    /** None is looked for, and none may be started. */
    public static final Programs NONE = new Programs(Optional.empty(), false);
}
