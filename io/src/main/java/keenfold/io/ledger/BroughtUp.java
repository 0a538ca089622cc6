package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.SQLException;
import java.util.Optional;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.TemporaryFiles;

/** Brings ledgers of older formats up, in a copy that takes their name; the old file stays under another one. */
final class BroughtUp {
    private BroughtUp() {}

    /**
     * Brings a ledger up that is of an older format, while whoever calls holds its lock.
     *
     * @return the name of the old file; nothing if the ledger is of this format, or is not there
     * @throws InputException if it is damaged
     */
    static Optional<Path> inPlace(Path file) throws SQLException {
        try {
            if (!Files.exists(file) || Files.size(file) == 0) {
                return Optional.empty();
            }
            // What a symbolic link leads to is brought up, and not the link.
            return inPlace(file, Files.isSymbolicLink(file) ? file.toRealPath() : file);
        } catch (IOException e) {
            throw new InputException(
                    file.toString(),
                    "is of an older format, and cannot be brought up beside itself: " + Reason.of(e),
                    e);
        }
    }

    private static Optional<Path> inPlace(Path named, Path file) throws SQLException, IOException {
        int format = LedgerFile.formatHeld(file);
        if (format == 0 || format == LedgerFile.FORMAT) {
            return Optional.empty();
        }
        Path copy = file.resolveSibling(TemporaryFiles.name(file));
        TemporaryFiles.note(copy);
        try {
            OpenLedger.requireSound(named, Merger.bringUp(file, copy));
            Path old = free(file, format);
            keep(file, old);
            Files.move(copy, file, StandardCopyOption.ATOMIC_MOVE);
            return Optional.of(old);
        } finally {
            TemporaryFiles.remove(copy);
        }
    }

    /** The old file has two names for a moment, so that an interruption leaves a ledger under the first. */
    private static void keep(Path file, Path old) throws IOException {
        try {
            Files.createLink(old, file);
        } catch (IOException | UnsupportedOperationException e) {
            // Not every file system knows links.
            Files.copy(file, old, StandardCopyOption.COPY_ATTRIBUTES);
        }
    }

    private static Path free(Path file, int format) {
        String name = String.valueOf(file.getFileName()).replaceFirst("\\.kfl$", "") + ".format-" + format;
        Path free = file.resolveSibling(name + ".kfl");
        for (int n = 2; Files.exists(free); n++) {
            free = file.resolveSibling(name + "-" + n + ".kfl");
        }
        return free;
    }
}
