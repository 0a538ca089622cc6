package keenfold.io.ledger;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import keenfold.io.InputException;

/**
 * A ledger opened for a change to what it says beside its fits: locked, and whole. Nothing is changed before {@link #commit}.
 */
final class WritableLedger implements AutoCloseable {
    private final LedgerLock lock;
    private final Connection connection;

    private WritableLedger(LedgerLock lock, Connection connection) {
        this.lock = lock;
        this.connection = connection;
    }

    /**
     * Opens a ledger that is there.
     *
     * @throws InputException if it cannot be written, or another program writes to it
     */
    static WritableLedger of(Path file) {
        if (!Files.exists(file)) {
            throw new InputException(file.toString(), "there is no such ledger");
        }
        LedgerLock lock = LedgerLock.of(file);
        try {
            Connection connection = LedgerFile.openForWriting(file);
            try {
                LedgerFile.run(connection, "PRAGMA synchronous=FULL");
                connection.setAutoCommit(false);
                Head.check(file, connection);
                return new WritableLedger(lock, connection);
            } catch (SQLException | RuntimeException e) {
                connection.close();
                throw e;
            }
        } catch (SQLException e) {
            lock.close();
            throw LedgerFile.unusable(file, e);
        } catch (RuntimeException e) {
            lock.close();
            throw e;
        }
    }

    Connection connection() {
        return connection;
    }

    /** Seals the head and makes the change last. */
    void commit() throws SQLException {
        Head.seal(connection);
        connection.commit();
    }

    /** Gives back the space of what was taken away; after {@link #commit}. */
    void giveSpaceBack() throws SQLException {
        connection.setAutoCommit(true);
        LedgerFile.run(connection, "VACUUM");
    }

    @Override
    public void close() throws SQLException {
        try {
            if (!connection.getAutoCommit()) {
                connection.rollback();
                connection.setAutoCommit(true);
            }
            LedgerFile.run(connection, "PRAGMA journal_mode=DELETE");
        } finally {
            connection.close();
            lock.close();
        }
    }
}
