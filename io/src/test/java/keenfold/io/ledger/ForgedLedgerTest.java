package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.result.Task;
import keenfold.io.InputException;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.sqlite.SqliteFile;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Ledgers that somebody altered, and whose checksums were made anew: what they say is checked all the same. */
class ForgedLedgerTest {
    private static final int ROWS = 24;

    @TempDir
    private Path folder;

    private Path file;

    @BeforeEach
    void makeLedger() throws IOException {
        StringBuilder csv = new StringBuilder("g,x,kind\n");
        IntStream.range(0, ROWS).forEach(i -> csv.append('G')
                .append(i % 6)
                .append(',')
                .append(i * 7 % 13)
                .append(',')
                .append(i % 2 == 0 ? "a" : "b")
                .append('\n'));
        Files.writeString(folder.resolve("d.csv"), csv.toString());
        Plan plan = PlanReader.parse(
                "p",
                """
                keenfold: 1
                data: [{file: d.csv, target: kind, groups: g}]
                splits: {folds: 3, repeats: 2}
                seed: 3
                metrics: [accuracy]
                candidates: {guess: {classifier: majority}, bayes: {classifier: naive-bayes}}
                """);
        LoadedData loaded = DataReader.read(plan.data().get(0), List.of(folder));
        Task task =
                Task.of(loaded.data(), plan.division().scheme().orElseThrow().divide(loaded.data(), 3), plan.metrics());
        Comparison comparison = new Comparison(List.of(task), plan.candidates(), 3);
        file = folder.resolve("l.kfl");
        try (LedgerWriter writer = LedgerWriter.open(file, plan, List.of(loaded), comparison)) {
            Runner.on(Parallel.of(1)).run(comparison, comparison.units(), writer);
        }
    }

    private void forge(String command, Object... values) throws SQLException {
        LedgerForger.forge(file, command, values);
    }

    @Test
    void aResealedLedgerThatNobodyAlteredIsRead() throws Exception {
        forge("UPDATE fit SET train_seconds = 0.5");
        assertThat(LedgerReader.read(file).results().fits()).hasSize(12);
    }

    static Stream<Arguments> forgeries() {
        int[] huge = new int[ROWS];
        huge[3] = 100_000_000;
        int[] negative = new int[ROWS];
        negative[3] = -7;
        int[] out = new int[ROWS];
        out[0] = 2;
        return Stream.of(
                Arguments.of("UPDATE dataset SET rows = -1", new Object[0]),
                Arguments.of("UPDATE dataset SET rows = 0", new Object[0]),
                Arguments.of("UPDATE dataset SET rows = 2147483647", new Object[0]),
                Arguments.of("UPDATE dataset SET rows = 25", new Object[0]),
                Arguments.of("UPDATE dataset SET positive = 'c'", new Object[0]),
                Arguments.of("UPDATE dataset SET targets = ?", new Object[] {Blobs.ofInts(out)}),
                Arguments.of("UPDATE dataset SET targets = ?", new Object[] {Blobs.ofInts(negative)}),
                Arguments.of("UPDATE dataset SET targets = x''", new Object[0]),
                Arguments.of("UPDATE dataset SET groups = ?", new Object[] {Blobs.ofInts(huge)}),
                Arguments.of("UPDATE dataset SET groups = ?", new Object[] {Blobs.ofInts(negative)}),
                Arguments.of("UPDATE dataset SET source_rows = ?", new Object[] {Blobs.ofInts(negative)}),
                Arguments.of("UPDATE split SET folds = ?", new Object[] {Blobs.ofInts(huge)}),
                Arguments.of("UPDATE split SET folds = ?", new Object[] {Blobs.ofInts(negative)}),
                Arguments.of("DELETE FROM split", new Object[0]),
                Arguments.of("DELETE FROM class WHERE position = 1", new Object[0]),
                Arguments.of("UPDATE class SET label = 'z' WHERE position = 0", new Object[0]),
                Arguments.of("UPDATE plan SET yaml = 'keenfold: 1'", new Object[0]),
                Arguments.of("UPDATE plan SET yaml = replace(yaml, 'd.csv', 'd.csv\nx: [')", new Object[0]),
                Arguments.of("UPDATE about SET value = 'NONE' WHERE key = 'kept'", new Object[0]),
                Arguments.of("UPDATE fit SET fold = -1 WHERE id = 1", new Object[0]),
                Arguments.of("UPDATE fit SET candidate = 77 WHERE id = 1", new Object[0]),
                Arguments.of("UPDATE fit SET repeat = 2147483647 WHERE id = 1", new Object[0]),
                Arguments.of("UPDATE fit SET dataset = -5 WHERE id = 1", new Object[0]),
                Arguments.of("UPDATE prediction SET labels = ? WHERE fit = 1", new Object[] {Blobs.ofInts(huge)}),
                Arguments.of("UPDATE prediction SET probabilities = x'00' WHERE fit = 1", new Object[0]));
    }

    @ParameterizedTest
    @MethodSource("forgeries")
    void whatCannotBeIsRefused(String command, Object[] values) throws Exception {
        forge(command, values);
        assertThatThrownBy(() -> LedgerReader.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageStartingWith(file.toString());
        // What merges it may refuse it, or take what is sound; it never fails otherwise.
        assertThatCode(() -> merged()).doesNotThrowAnyException();
    }

    /** The numbers of one fit are as many as they must be, and no probabilities. */
    @ParameterizedTest
    @CsvSource({
        "NaN, 0, has a probability of NaN",
        "-0.5, 1.5, has a probability of -0.5",
        "1.5, 0, has a probability of 1.5",
        "0.25, 0.25, has a row whose probabilities sum to 0.5",
        "0, Infinity, has a probability of Infinity"
    })
    void whatIsNoProbabilityIsRefused(double first, double second, String why) throws Exception {
        double[] all = new double[ROWS / 3 * 2];
        Arrays.setAll(all, i -> i % 2);
        forge("UPDATE prediction SET probabilities = ? WHERE fit = 1", (Object) Blobs.ofDoubles(all));
        assertThat(LedgerReader.read(file).results().fits()).hasSize(12);
        all[4] = first;
        all[5] = second;
        forge("UPDATE prediction SET probabilities = ? WHERE fit = 1", (Object) Blobs.ofDoubles(all));
        assertThatThrownBy(() -> LedgerReader.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining(why);
    }

    private void merged() {
        try {
            Merger.merge(List.of(file), folder.resolve("m.kfl"));
        } catch (InputException e) {
            assertThat(e.getMessage()).isNotBlank();
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "CREATE VIEW v AS SELECT 1",
                "CREATE TABLE extra (x)",
                "CREATE INDEX i ON fit (crc)",
                "CREATE TRIGGER t AFTER INSERT ON fit BEGIN DELETE FROM score; END",
                "DROP VIEW fold_scores",
                "ALTER TABLE fit ADD COLUMN more TEXT",
                "DROP TABLE opening"
            })
    void anotherSchemaIsRefused(String command) throws Exception {
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute(command);
        }
        assertThatThrownBy(() -> LedgerReader.read(file))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("is no ledger that Keen Fold made");
        assertThatThrownBy(() -> LedgerFile.openForWriting(file)).isInstanceOf(InputException.class);
        assertThatThrownBy(() -> LedgerFile.openSettled(file)).isInstanceOf(InputException.class);
    }

    /** A view without end in the place of a table is met before anything is asked of it. */
    @Test
    void aViewInPlaceOfATableIsRefused() throws Exception {
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("DROP VIEW fold_scores");
            statement.execute("DROP TABLE plan");
            statement.execute("CREATE VIEW plan (id, yaml) AS WITH RECURSIVE c(x) AS"
                    + " (SELECT 1 UNION ALL SELECT x + 1 FROM c) SELECT x, 'keenfold: 1' FROM c");
        }
        assertThatThrownBy(() -> LedgerReader.read(file)).hasMessageContaining("it holds view \"plan\"");
    }

    @Test
    void statisticsThatSqliteKeepsDoNoHarm() throws Exception {
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("ANALYZE");
        }
        assertThat(LedgerReader.read(file).results().fits()).hasSize(12);
    }
}
