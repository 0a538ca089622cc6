package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.TemporaryFiles;

/**
 * A ledger opened for reading. One of an older format is brought up in a copy that lasts as long as it is open.
 *
 * @param connection to the ledger, or to its copy
 * @param format of the file
 * @param copy the copy, if there is one
 */
record OpenLedger(Connection connection, int format, Optional<Path> copy) implements AutoCloseable {
    /** Opens a ledger, and checks its head. All that is read through it is of one state. */
    static OpenLedger forReading(Path file) {
        int format = LedgerFile.format(file);
        if (format == LedgerFile.FORMAT) {
            return new OpenLedger(LedgerFile.openForReading(file), format, Optional.empty());
        }
        Path copy = broughtUp(file);
        try {
            return new OpenLedger(LedgerFile.openForReading(copy), format, Optional.of(copy));
        } catch (RuntimeException e) {
            remove(copy);
            throw e;
        }
    }

    /** Makes a copy of this format of a ledger of an older one, among the temporary files. */
    private static Path broughtUp(Path file) {
        Path copy;
        try {
            copy = TemporaryFiles.folder().resolve("copy.kfl");
        } catch (IOException e) {
            throw new InputException(
                    file.toString(), "is of an older format, and cannot be copied to be read: " + Reason.of(e), e);
        }
        try {
            requireSound(file, Merger.bringUp(file, copy));
            return copy;
        } catch (RuntimeException e) {
            remove(copy);
            throw e;
        }
    }

    /** Refuses a ledger of an older format that was damaged: who reads must know that fits are lost. */
    static void requireSound(Path file, MergeReport report) {
        List<String> damaged = report.parts().get(0).damaged();
        if (!damaged.isEmpty()) {
            throw new InputException(
                    file.toString(),
                    "the ledger is damaged: " + damaged.get(0) + "; keenfold merge "
                            + ShellWords.quoted(file.toString())
                            + " -o NEW.kfl rescues what is sound, and run does the rest");
        }
    }

    private static void remove(Path copy) {
        Optional.ofNullable(copy.getParent()).ifPresent(TemporaryFiles::remove);
    }

    @Override
    public void close() throws SQLException {
        try {
            connection.close();
        } finally {
            copy.ifPresent(OpenLedger::remove);
        }
    }
}
