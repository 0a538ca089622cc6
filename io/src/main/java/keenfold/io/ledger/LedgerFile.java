package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.sqlite.SqliteFile;

/** Opening, checking and laying out the database file of a ledger. */
final class LedgerFile {
    /** "KFLD": tells a ledger from other SQLite files. */
    static final int APPLICATION = 0x4B464C44;

    /** Formats before this one were never released. */
    static final int FORMAT = 4;

    private LedgerFile() {}

    private static Connection connectSettled(Path file) throws IOException, SQLException {
        if (!Files.exists(file)) {
            throw new InputException(
                    file.toString(), "there is no such ledger; \"keenfold run PLAN -o LEDGER\" makes one");
        }
        requireContent(file);
        settle(file);
        return connectToRead(file);
    }

    /**
     * Opens a ledger of this format for reading, and checks its head. All that is read through it is of one state.
     *
     * @throws InputException if it is none, is of another format, or its head is damaged
     */
    static Connection openForReading(Path file) {
        try {
            Connection connection = connectSettled(file);
            try {
                check(file, connection);
                connection.setAutoCommit(false);
                Head.check(file, connection);
                return connection;
            } catch (SQLException | RuntimeException e) {
                connection.close();
                throw e;
            }
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        } catch (SQLException e) {
            throw unreadable(file, e);
        }
    }

    private static void requireContent(Path file) throws IOException {
        InputFile.require(file, file.toString(), "a ledger");
        if (!Files.isReadable(file)) {
            throw new InputException(file.toString(), "cannot be read: you may not");
        }
        if (Files.size(file) == 0) {
            throw new InputException(
                    file.toString(), "the ledger is empty: its run ended before it had begun; run its plan again");
        }
    }

    /**
     * Connects for reading. In a folder that cannot be written SQLite does not read a ledger whose last writer used a
     * write-ahead log, even where no log is left; then nobody else writes it either, and it can be read as it is.
     */
    private static Connection connectToRead(Path file) throws SQLException {
        Connection connection = connect(file, true, false);
        try {
            pragma(connection, "user_version");
            number(connection, "SELECT count(*) FROM sqlite_master");
            return connection;
        } catch (SQLException e) {
            connection.close();
            boolean plain = !Files.exists(beside(file, "-wal")) && !Files.exists(beside(file, "-journal"));
            if (plain && String.valueOf(e.getMessage()).contains("CANTOPEN")) {
                return connect(file, true, true);
            }
            throw e;
        }
    }

    /** Whether a ledger can be written: that takes its folder, too, for what stands beside it meanwhile. */
    static boolean writable(Path file) {
        Path folder = file.toAbsolutePath().getParent();
        return Files.isWritable(file) && folder != null && Files.isWritable(folder);
    }

    private static Path beside(Path file, String end) {
        return file.resolveSibling(file.getFileName() + end);
    }

    /** Opens a ledger on a local disk for writing; a file that is not there, or empty, is laid out first. */
    static Connection openForWriting(Path file) {
        return openForWriting(file, false);
    }

    /**
     * Opens a ledger for writing; a file that is not there, or empty, is laid out first.
     *
     * @param shared whether the disk is shared with other machines: then no other may open it meanwhile, and there is no
     *     write-ahead log, whose shared memory would be this machine's alone
     */
    static Connection openForWriting(Path file, boolean shared) {
        InputFile.require(file, file.toString(), "a ledger");
        try {
            boolean fresh = !Files.exists(file) || Files.size(file) == 0;
            Connection connection = connect(file, false, false);
            try {
                if (fresh || untouched(connection)) {
                    layOut(connection);
                }
                check(file, connection);
                prepare(connection, shared);
                return connection;
            } catch (SQLException | RuntimeException e) {
                connection.close();
                if (fresh && Files.exists(file) && Files.size(file) == 0) {
                    Files.delete(file);
                }
                throw e;
            }
        } catch (SQLException e) {
            throw unusable(file, e);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be opened: " + Reason.of(e), e);
        }
    }

    private static void prepare(Connection connection, boolean shared) throws SQLException {
        run(connection, shared ? "PRAGMA locking_mode=EXCLUSIVE" : "PRAGMA journal_mode=WAL");
        if (shared) {
            run(connection, "PRAGMA journal_mode=TRUNCATE");
        }
        run(connection, shared ? "PRAGMA synchronous=FULL" : "PRAGMA synchronous=NORMAL");
    }

    /** Rolls back what a killed writer of a shard left half written: who only reads may not do that. */
    private static void settle(Path file) throws IOException, SQLException {
        Path journal = beside(file, "-journal");
        if (Files.exists(journal) && Files.size(journal) > 0 && writable(file)) {
            LedgerLock held = LedgerLock.of(file);
            try {
                openSettled(file).close();
            } finally {
                held.close();
            }
        }
    }

    /**
     * Opens a ledger that nobody writes, and settles what an interrupted writer left: its
     * journal is rolled back. Where it cannot be written, it is read as it is.
     */
    static Connection openSettled(Path file) throws SQLException, IOException {
        requireContent(file);
        Connection connection = writable(file) ? connect(file, false, false) : connectToRead(file);
        try {
            check(file, connection);
            number(connection, "SELECT count(*) FROM plan");
            return connection;
        } catch (SQLException | RuntimeException e) {
            connection.close();
            throw e;
        }
    }

    /** @param fixed whether nobody can write it, so that no lock is needed */
    private static Connection connect(Path file, boolean readOnly, boolean fixed) throws SQLException {
        return SqliteFile.open(
                file,
                fixed
                        ? SqliteFile.Access.READ_UNCHANGING
                        : readOnly ? SqliteFile.Access.READ : SqliteFile.Access.WRITE);
    }

    /** Copies what an open ledger holds, even if its file has no name any more, into a new one; returns which. */
    static Path rescue(Connection connection, Path folder, Path file) throws SQLException {
        if (!connection.getAutoCommit()) {
            connection.rollback();
            connection.setAutoCommit(true);
        }
        Path to = folder.resolve(file.getFileName() + ".rescued");
        for (int n = 2; Files.exists(to); n++) {
            to = folder.resolve(file.getFileName() + ".rescued-" + n);
        }
        try (PreparedStatement copy = connection.prepareStatement("VACUUM INTO ?")) {
            copy.setString(1, to.toString());
            copy.execute();
        }
        return to;
    }

    private static boolean untouched(Connection connection) throws SQLException {
        return pragma(connection, "user_version") == 0 && number(connection, "SELECT count(*) FROM sqlite_master") == 0;
    }

    /** All of the schema in one transaction: a ledger is laid out whole or not at all. */
    private static void layOut(Connection connection) throws SQLException {
        connection.setAutoCommit(false);
        for (String command : LedgerSchema.commands()) {
            run(connection, command);
        }
        run(connection, "PRAGMA application_id=" + APPLICATION);
        run(connection, "PRAGMA user_version=" + FORMAT);
        connection.commit();
        connection.setAutoCommit(true);
    }

    /** @throws InputException if a file is no ledger of this format */
    static void check(Path file, Connection connection) throws SQLException {
        if (pragma(connection, "application_id") != APPLICATION) {
            throw new InputException(file.toString(), "is an SQLite file, but no Keen Fold ledger");
        }
        int version = pragma(connection, "user_version");
        if (version > FORMAT) {
            throw new InputException(
                    file.toString(),
                    "is of ledger format " + version + "; this program reads format " + FORMAT
                            + ", so use the newer program that made it");
        }
        if (version < FORMAT) {
            throw new InputException(
                    file.toString(),
                    "is of ledger format " + version + ", from before the first release; this program reads format "
                            + FORMAT + ": run its plan into a new ledger");
        }
        LedgerSchema.require(file, connection);
    }

    static int pragma(Connection connection, String name) throws SQLException {
        return number(connection, "PRAGMA " + name);
    }

    static int number(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet result = statement.executeQuery(query)) {
            return result.next() ? result.getInt(1) : 0;
        }
    }

    static void run(Connection connection, String command) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(command);
        }
    }

    /** What a failure of SQLite means to who only reads. */
    static InputException unreadable(Path file, SQLException e) {
        String cause = String.valueOf(e.getMessage());
        if (cause.contains("READONLY") || cause.contains("CANTOPEN")) {
            return new InputException(
                    file.toString(),
                    "cannot be opened here: its last writer was interrupted, and to settle that its folder must be"
                            + " writable; copy it with the files beside it (-wal, -journal) to another folder",
                    e);
        }
        return unusable(file, e);
    }

    /** What a failure of SQLite means to who writes. */
    static InputException unusable(Path file, SQLException e) {
        String cause = String.valueOf(e.getMessage());
        if (cause.contains("NOTADB")) {
            return new InputException(
                    file.toString(),
                    "is no ledger, as run and compare make one"
                            + FileLook.of(file).words(),
                    e);
        }
        if (cause.contains("BUSY")) {
            return new InputException(
                    file.toString(),
                    "is the ledger of a shard that is being written, and kept from all others meanwhile; wait until it is"
                            + " done",
                    e);
        }
        // Where no room is left, what SQLite makes first beside a ledger cannot grow.
        if (cause.contains("FULL") || cause.contains("SHMSIZE")) {
            return new InputException(
                    file.toString(), "the disk is full; what was written before is kept: make room and run again", e);
        }
        if (cause.contains("IOERR")) {
            return new InputException(
                    file.toString(),
                    "the disk refused to write or read, or the limit on the size of files (ulimit -f) is reached; what was"
                            + " written before is kept: fix that and run again (" + cause + ")",
                    e);
        }
        if (cause.contains("CORRUPT")) {
            return new InputException(
                    file.toString(),
                    "the ledger is damaged: its pages are inconsistent (" + cause + "); keenfold merge "
                            + ShellWords.quoted(file.toString())
                            + " -o NEW.kfl rescues what is sound, and run does the rest",
                    e);
        }
        if (cause.contains("READONLY") || cause.contains("CANTOPEN")) {
            return new InputException(
                    file.toString(), "cannot be written here; name a file in a folder that you may write to", e);
        }
        return new InputException(
                file.toString(),
                "the ledger cannot be used, and may be damaged: " + cause + "; keenfold merge "
                        + ShellWords.quoted(file.toString())
                        + " -o NEW.kfl rescues what is sound",
                e);
    }
}
