package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.ledger.table.Opening;
import keenfold.io.table.Fingerprint;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OpeningsTest {
    private static final DataSet HELD = DataSet.of(
            "bees",
            new Table(2, List.of()),
            new Classes(List.of("no", "yes"), 1),
            new int[] {0, 1},
            Optional.empty(),
            new int[] {3, 5});
    private static final Optional<String> ROWS = Optional.of(Fingerprint.ofHeldBack(HELD));

    @TempDir
    private Path folder;

    private Path ledger() throws Exception {
        return ledger("l.kfl");
    }

    private Path ledger(String name) throws Exception {
        Path file = folder.resolve(name);
        try (var connection = LedgerFile.openForWriting(file);
                var statement = connection.createStatement();
                var columns = statement.executeQuery("PRAGMA table_info(dataset)")) {
            StringBuilder names = new StringBuilder();
            StringBuilder values = new StringBuilder();
            while (columns.next()) {
                String column = columns.getString("name");
                boolean number = columns.getString("type").startsWith("INTEGER");
                names.append(names.isEmpty() ? "" : ",")
                        .append('"')
                        .append(column)
                        .append('"');
                values.append(values.isEmpty() ? "" : ",")
                        .append(
                                column.equals("id")
                                        ? "0"
                                        : column.equals("form")
                                                ? "'single'"
                                                : column.equals("name") ? "'bees'" : number ? "1" : "'x'");
            }
            try (var insert = connection.createStatement()) {
                insert.executeUpdate("INSERT INTO dataset (" + names + ") VALUES (" + values + ")");
                insert.executeUpdate("INSERT INTO plan VALUES (1, '', '', 0, 'x')");
            }
            Head.seal(connection);
        }
        return file;
    }

    @Test
    void openingsAreKeptInOrderWithTimeAndCandidate() throws Exception {
        Path ledger = ledger();
        assertThat(Openings.of(ledger, "bees")).isEmpty();
        Openings.add(ledger, "bees", HELD, "logit/30", Instant.parse("2026-11-28T10:15:30.123Z"));
        assertThat(Openings.add(ledger, "bees", HELD, "tree", Instant.parse("2026-11-29T00:00:00Z")))
                .containsExactly(
                        new Opening("2026-11-28T10:15:30.123Z", "bees", ROWS, "logit/30", Optional.empty()),
                        new Opening("2026-11-29T00:00:00Z", "bees", ROWS, "tree", Optional.empty()))
                .isEqualTo(Openings.of(ledger, "bees"));
        assertThat(Openings.of(ledger, "wasps")).isEmpty();
        assertThat(folder.resolve("l.kfl.lock")).doesNotExist();
    }

    @Test
    void theSameRowsAreRememberedFromLedgersBesideOne() throws Exception {
        Path first = ledger("first.kfl");
        Openings.add(first, "bees", HELD, "tree", Instant.parse("2026-11-28T10:00:00Z"));
        Files.writeString(folder.resolve("broken.kfl"), "no ledger");
        Path second = ledger("second.kfl");
        Instant later = Instant.parse("2026-11-29T10:00:00Z");
        assertThat(Openings.add(second, "bees", HELD, "logit", later))
                .extracting(Opening::candidate, Opening::ledger)
                .containsExactly(tuple("tree", Optional.of("first.kfl")), tuple("logit", Optional.empty()));
        // What is taken over twice is still one look, also by a way round.
        Path third = ledger("third.kfl");
        assertThat(Openings.add(third, "bees", HELD, "tree", later)).hasSize(3);
        DataSet others = DataSet.of(
                "bees",
                new Table(2, List.of()),
                new Classes(List.of("no", "yes"), 1),
                new int[] {0, 1},
                Optional.empty(),
                new int[] {3, 6});
        assertThat(Openings.add(ledger("fourth.kfl"), "bees", others, "tree", later))
                .hasSize(1);
    }

    @Test
    void nothingIsMadeWhereThereIsNoLedgerAndNoTwoWrite() throws Exception {
        Path nowhere = folder.resolve("n.kfl");
        assertThatThrownBy(() -> Openings.add(nowhere, "bees", HELD, "c", Instant.EPOCH))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("there is no such ledger");
        assertThat(Files.exists(nowhere)).isFalse();
        Path ledger = ledger();
        LedgerLock other = LedgerLock.of(ledger);
        try {
            assertThatThrownBy(() -> Openings.add(ledger, "bees", HELD, "c", Instant.EPOCH))
                    .hasMessageContaining("another keenfold is writing");
        } finally {
            other.close();
        }
        assertThat(Openings.of(ledger, "bees")).isEmpty();
    }
}
