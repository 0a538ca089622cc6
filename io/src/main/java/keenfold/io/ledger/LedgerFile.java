package keenfold.io.ledger;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Properties;
import keenfold.io.InputException;
import keenfold.io.NativeSqlite;

/** Opening, checking and laying out the database file of a ledger. */
final class LedgerFile {
    /** "KFLD": tells a ledger from other SQLite files. */
    static final int APPLICATION = 0x4B464C44;

    static final int FORMAT = 1;

    private LedgerFile() {}

    static Connection openForReading(Path file) {
        if (!Files.exists(file)) {
            throw new InputException(
                    file.toString(), "there is no such ledger; \"keenfold run PLAN -o LEDGER\" makes one");
        }
        try {
            settle(file);
            return check(file, connect(file, true));
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + e.getMessage(), e);
        } catch (SQLException e) {
            throw unusable(file, e);
        }
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
        try {
            boolean fresh = !Files.exists(file) || Files.size(file) == 0;
            Connection connection = connect(file, false);
            if (fresh || untouched(connection)) {
                layOut(connection);
            }
            check(file, connection);
            run(connection, shared ? "PRAGMA locking_mode=EXCLUSIVE" : "PRAGMA journal_mode=WAL");
            if (shared) {
                run(connection, "PRAGMA journal_mode=TRUNCATE");
            }
            run(connection, shared ? "PRAGMA synchronous=FULL" : "PRAGMA synchronous=NORMAL");
            return connection;
        } catch (SQLException e) {
            throw unusable(file, e);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be opened: " + e.getMessage(), e);
        }
    }

    /** Rolls back what a killed writer of a shard left half written: who only reads may not do that. */
    private static void settle(Path file) throws IOException, SQLException {
        Path journal = file.resolveSibling(file.getFileName() + "-journal");
        if (Files.exists(journal) && Files.size(journal) > 0 && Files.isWritable(file)) {
            LedgerLock held = LedgerLock.of(file);
            try {
                openSettled(file).close();
            } finally {
                held.close();
            }
        }
    }

    /** Opens a ledger that nobody writes, and settles what an interrupted writer left: its journal is rolled back. */
    static Connection openSettled(Path file) throws SQLException {
        Connection connection = check(file, connect(file, false));
        LedgerFile.number(connection, "SELECT count(*) FROM plan");
        return connection;
    }

    private static Connection connect(Path file, boolean readOnly) throws SQLException {
        NativeSqlite.prepare();
        Properties properties = new Properties();
        if (readOnly) {
            properties.setProperty("open_mode", "1");
        }
        properties.setProperty("busy_timeout", "10000");
        return DriverManager.getConnection("jdbc:sqlite:" + file.toAbsolutePath(), properties);
    }

    private static boolean untouched(Connection connection) throws SQLException {
        return pragma(connection, "user_version") == 0 && number(connection, "SELECT count(*) FROM sqlite_master") == 0;
    }

    /** All of the schema in one transaction: a ledger is laid out whole or not at all. */
    private static void layOut(Connection connection) throws SQLException {
        connection.setAutoCommit(false);
        for (String command : schema().replaceAll("(?m)^--.*$", "").split(";", -1)) {
            if (!command.isBlank()) {
                run(connection, command);
            }
        }
        run(connection, "PRAGMA application_id=" + APPLICATION);
        run(connection, "PRAGMA user_version=" + FORMAT);
        connection.commit();
        connection.setAutoCommit(true);
    }

    static String schema() {
        try (InputStream in = LedgerFile.class.getResourceAsStream("schema.sql")) {
            if (in == null) {
                throw new IllegalStateException("schema.sql is not in the jar");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static Connection check(Path file, Connection connection) throws SQLException {
        int version = pragma(connection, "user_version");
        if (pragma(connection, "application_id") != APPLICATION) {
            connection.close();
            throw new InputException(file.toString(), "is an SQLite file, but no Keen Fold ledger");
        }
        if (version > FORMAT) {
            connection.close();
            throw new InputException(
                    file.toString(),
                    "is of ledger format " + version + "; this program reads up to " + FORMAT
                            + ", so use the newer program that made it");
        }
        return connection;
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

    static InputException unusable(Path file, SQLException e) {
        String cause = String.valueOf(e.getMessage());
        if (cause.contains("NOTADB")) {
            return new InputException(file.toString(), "is no ledger (not an SQLite file)", e);
        }
        if (cause.contains("BUSY")) {
            return new InputException(
                    file.toString(),
                    "is the ledger of a shard that is being written, and kept from all others meanwhile; wait until it is"
                            + " done",
                    e);
        }
        if (cause.contains("FULL")) {
            return new InputException(
                    file.toString(), "the disk is full; what was written before is kept: make room and run again", e);
        }
        if (cause.contains("READONLY") || cause.contains("CANTOPEN")) {
            return new InputException(
                    file.toString(), "cannot be written here; name a file in a folder that you may write to", e);
        }
        return new InputException(file.toString(), "the ledger cannot be used: " + cause, e);
    }
}
