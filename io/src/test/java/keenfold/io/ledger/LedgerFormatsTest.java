package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import keenfold.io.InputException;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Ledgers of other formats than this program's are refused, by what reads and by what writes. */
class LedgerFormatsTest {
    @TempDir
    private Path folder;

    private Path ledger(int format) throws IOException, SQLException {
        Path file = folder.resolve("l.kfl");
        Files.deleteIfExists(file);
        LedgerFile.openForWriting(file).close();
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA journal_mode=DELETE");
            statement.execute("PRAGMA user_version=" + format);
        }
        return file;
    }

    @Test
    void aLedgerOfAnEarlierFormatIsRefusedAndLeftAsItIs() throws Exception {
        for (int format = 1; format < LedgerFile.FORMAT; format++) {
            Path file = ledger(format);
            byte[] before = Files.readAllBytes(file);
            String wanted =
                    "is of ledger format " + format + ", from before the first release; this program reads format "
                            + LedgerFile.FORMAT + ": run its plan into a new ledger";
            assertThatThrownBy(() -> LedgerReader.read(file))
                    .isInstanceOf(InputException.class)
                    .hasMessageContaining(wanted);
            assertThatThrownBy(() -> LedgerReader.plan(file)).hasMessageContaining(wanted);
            assertThatThrownBy(() -> Openings.of(file, "d")).hasMessageContaining(wanted);
            assertThatThrownBy(() -> new LedgerEdit(file, Instant.EPOCH).note("n"))
                    .hasMessageContaining(wanted);
            assertThatThrownBy(() -> Merger.merge(List.of(file), folder.resolve("m.kfl")))
                    .hasMessageContaining(wanted);
            assertThat(file).hasBinaryContent(before);
            assertThat(folder.resolve("m.kfl")).doesNotExist();
        }
    }

    @Test
    void aNewerFormatIsRefused() throws Exception {
        Path file = ledger(LedgerFile.FORMAT + 1);
        assertThatThrownBy(() -> LedgerReader.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("use the newer program that made it");
    }
}
