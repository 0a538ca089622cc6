package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import keenfold.io.InputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OpeningsTest {
    @TempDir
    private Path folder;

    private Path ledger() throws Exception {
        Path file = folder.resolve("l.kfl");
        try (var connection = LedgerFile.openForWriting(file);
                var statement = connection.createStatement();
                var columns = statement.executeQuery("PRAGMA table_info(dataset)")) {
            StringBuilder names = new StringBuilder();
            StringBuilder values = new StringBuilder();
            while (columns.next()) {
                String name = columns.getString("name");
                boolean number = columns.getString("type").startsWith("INTEGER");
                names.append(names.isEmpty() ? "" : ",")
                        .append('"')
                        .append(name)
                        .append('"');
                values.append(values.isEmpty() ? "" : ",")
                        .append(
                                name.equals("id")
                                        ? "0"
                                        : name.equals("form")
                                                ? "'single'"
                                                : name.equals("name") ? "'bees'" : number ? "1" : "'x'");
            }
            try (var insert = connection.createStatement()) {
                insert.executeUpdate("INSERT INTO dataset (" + names + ") VALUES (" + values + ")");
                insert.executeUpdate("INSERT INTO plan VALUES (1, 'x')");
            }
            Head.seal(connection);
        }
        return file;
    }

    @Test
    void openingsAreKeptInOrderWithTimeAndCandidate() throws Exception {
        Path ledger = ledger();
        assertThat(Openings.of(ledger, "bees")).isEmpty();
        Openings.add(ledger, "bees", "logit/30", Instant.parse("2026-11-28T10:15:30.123Z"));
        assertThat(Openings.add(ledger, "bees", "tree", Instant.parse("2026-11-29T00:00:00Z")))
                .containsExactly(
                        new Openings.Opening("2026-11-28T10:15:30Z", "logit/30"),
                        new Openings.Opening("2026-11-29T00:00:00Z", "tree"))
                .isEqualTo(Openings.of(ledger, "bees"));
        assertThat(Openings.of(ledger, "wasps")).isEmpty();
        assertThat(folder.resolve("l.kfl.lock")).doesNotExist();
    }

    @Test
    void nothingIsMadeWhereThereIsNoLedgerAndNoTwoWrite() throws Exception {
        Path nowhere = folder.resolve("n.kfl");
        assertThatThrownBy(() -> Openings.add(nowhere, "bees", "c", Instant.EPOCH))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("there is no such ledger");
        assertThat(Files.exists(nowhere)).isFalse();
        Path ledger = ledger();
        LedgerLock other = LedgerLock.of(ledger);
        try {
            assertThatThrownBy(() -> Openings.add(ledger, "bees", "c", Instant.EPOCH))
                    .hasMessageContaining("another keenfold is writing");
        } finally {
            other.close();
        }
        assertThat(Openings.of(ledger, "bees")).isEmpty();
    }
}
