package keenfold.io.sqlite;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.Statement;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WriteAheadLogTest {
    private static final int FRAME = 24 + 4096;

    @TempDir
    private Path folder;

    private Path file;
    private Path log;

    /** A database and the log of several transactions, as a killed writer leaves them. */
    @BeforeEach
    void leaveLog() throws Exception {
        Path live = folder.resolve("live.db");
        file = folder.resolve("d.db");
        log = folder.resolve("d.db-wal");
        try (Connection connection = SqliteFile.open(live, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA journal_mode=WAL");
            statement.execute("CREATE TABLE t (x)");
            for (int i = 0; i < 10; i++) {
                statement.execute("INSERT INTO t VALUES (zeroblob(3000))");
            }
            Files.copy(live, file);
            Files.copy(folder.resolve("live.db-wal"), log);
        }
        assertThat(Files.size(log)).isGreaterThan(32 + 6 * FRAME);
    }

    private void turnBit(long at) throws Exception {
        try (RandomAccessFile bytes = new RandomAccessFile(log.toFile(), "rw")) {
            bytes.seek(at);
            int b = bytes.read();
            bytes.seek(at);
            bytes.write(b ^ 4);
        }
    }

    @Test
    void aSoundLogIsSound() throws Exception {
        assertThat(WriteAheadLog.isCutShort(file)).isFalse();
        Files.delete(log);
        assertThat(WriteAheadLog.isCutShort(file)).isFalse();
    }

    @Test
    void aBitThatTurnedAnywhereButInTheLastPageIsSeen() throws Exception {
        byte[] sound = Files.readAllBytes(log);
        long last = sound.length - FRAME;
        for (long at : new long[] {2, 9, 17, 26, 32 + 1, 32 + 18, 32 + 100, 32 + 2 * FRAME + 4000, last - 1}) {
            turnBit(at);
            assertThat(WriteAheadLog.isCutShort(file)).as("byte %d", at).isTrue();
            Files.write(log, sound);
        }
    }

    /** A writer that is killed, or a disk that is full, leaves the last page half written: that is no damage. */
    @Test
    void aLogThatEndsWithHalfAPageIsSound() throws Exception {
        byte[] sound = Files.readAllBytes(log);
        Files.write(log, java.util.Arrays.copyOf(sound, sound.length - 1000));
        assertThat(WriteAheadLog.isCutShort(file)).isFalse();
    }

    /** A log that was begun anew is shorter than the old one, whose pages stand behind it. */
    @Test
    void pagesOfAnOlderLogDoNotCount() throws Exception {
        Path live = folder.resolve("again.db");
        Files.copy(file, live);
        try (Connection connection = SqliteFile.open(live, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA journal_mode=WAL");
            for (int i = 0; i < 6; i++) {
                statement.execute("CREATE TABLE IF NOT EXISTS u" + i + " (x)");
            }
            statement.execute("PRAGMA wal_checkpoint(RESTART)");
            statement.execute("CREATE TABLE v (x)");
            Files.copy(live, file, StandardCopyOption.REPLACE_EXISTING);
            Files.copy(folder.resolve("again.db-wal"), log, StandardCopyOption.REPLACE_EXISTING);
        }
        assertThat(Files.size(log)).isGreaterThan(32 + 4 * FRAME);
        assertThat(WriteAheadLog.isCutShort(file)).isFalse();
    }
}
