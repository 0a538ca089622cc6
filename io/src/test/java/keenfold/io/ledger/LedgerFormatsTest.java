package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.zip.GZIPInputStream;
import keenfold.core.infer.contrast.Method;
import keenfold.io.InputException;
import keenfold.io.export.CsvExport;
import keenfold.io.ledger.table.Event;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A ledger of each format that there was, made by a program of its time, with what that program exported of it. */
class LedgerFormatsTest {
    @TempDir
    private Path folder;

    private static byte[] resource(String name) throws IOException {
        try (InputStream in = LedgerFormatsTest.class.getResourceAsStream("formats/" + name)) {
            assertThat(in).as(name).isNotNull();
            return in.readAllBytes();
        }
    }

    private Path ledger(int format) throws IOException {
        Path file = folder.resolve("l.kfl");
        Files.write(file, resource("format-" + format + ".kfl"));
        return file;
    }

    private static String predictions(int format) throws IOException {
        try (InputStream in = LedgerFormatsTest.class.getResourceAsStream(
                        "formats/format-" + format + ".predictions.csv.gz");
                GZIPInputStream plain = new GZIPInputStream(in)) {
            return new String(plain.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    private static void requireSame(int format, LedgerContent content) throws IOException {
        StringWriter predictions = new StringWriter();
        CsvExport.predictions(content.results(), predictions);
        assertThat(predictions.toString()).isEqualTo(predictions(format));
        StringWriter scores = new StringWriter();
        CsvExport.scores(content.results(), scores);
        assertThat(scores.toString().getBytes(StandardCharsets.UTF_8))
                .isEqualTo(resource("format-" + format + ".scores.csv"));
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2, 3})
    void everyFormatIsReadAsItWasWrittenAndLeftAsItIs(int format) throws IOException {
        Path file = ledger(format);
        LedgerContent content = LedgerReader.read(file);
        assertThat(content.format()).isEqualTo(format);
        requireSame(format, content);
        assertThat(LedgerReader.plan(file).note()).contains("a ledger of format " + format);
        assertThat(Openings.of(file, "colonies")).hasSize(1);
        assertThat(LedgerReader.halves(file, false)).hasSize(format == 1 ? 0 : 80);
        assertThat(file).hasBinaryContent(resource("format-" + format + ".kfl"));
    }

    /** Whoever changes an old ledger works on one of this format, and keeps the old file. */
    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void anOldLedgerIsBroughtUpWhenItIsChanged(int format) throws IOException {
        Path file = ledger(format);
        new LedgerEdit(file, Instant.EPOCH).note("older");
        assertThat(folder.resolve("l.format-" + format + ".kfl"))
                .hasBinaryContent(resource("format-" + format + ".kfl"));
        LedgerContent content = LedgerReader.read(file);
        assertThat(content.format()).isEqualTo(LedgerReader.FORMAT);
        requireSame(format, content);
        assertThat(content.history()).extracting(Event::event).contains(Event.UPGRADED, Event.HOLDOUT, Event.NOTE);
    }

    @Test
    void aLinkToAnOldLedgerStaysALink() throws IOException {
        Path file = ledger(2);
        Path link = Files.createSymbolicLink(
                Files.createDirectory(folder.resolve("links")).resolve("k.kfl"), file);
        new LedgerEdit(link, Instant.EPOCH).note("older");
        assertThat(link).isSymbolicLink();
        assertThat(LedgerReader.read(file).format()).isEqualTo(LedgerReader.FORMAT);
        assertThat(folder.resolve("l.format-2.kfl")).hasBinaryContent(resource("format-2.kfl"));
    }

    @ParameterizedTest
    @ValueSource(ints = {1, 2})
    void anOldLedgerIsMadeNewByMerging(int format) throws IOException {
        Path file = ledger(format);
        Path joined = folder.resolve("new.kfl");
        MergeReport report = Merger.merge(List.of(file), joined);
        assertThat(report.parts().get(0).damaged()).isEmpty();
        requireSame(format, LedgerReader.read(joined));
        assertThat(LedgerReader.read(joined).format()).isEqualTo(LedgerReader.FORMAT);
    }

    @Test
    void damageToAnOldLedgerIsSeenAndTheRestIsRescued() throws Exception {
        Path file = ledger(2);
        change(file, "UPDATE score SET value = value + 0.001 WHERE fit = 3 AND metric = 'accuracy'");
        assertThatThrownBy(() -> LedgerReader.read(file))
                .hasMessageContaining("the ledger is damaged")
                .hasMessageContaining("does not agree with its checksum");
        byte[] before = Files.readAllBytes(file);
        assertThatThrownBy(() -> new LedgerEdit(file, Instant.EPOCH).note("n"))
                .hasMessageContaining("the ledger is damaged");
        assertThat(file).hasBinaryContent(before);
        MergeReport report = Merger.merge(List.of(file), folder.resolve("new.kfl"));
        assertThat(report.parts().get(0).damaged()).hasSize(1);
        assertThat(LedgerReader.read(folder.resolve("new.kfl")).results().fits())
                .hasSize(19);
        // What it states beforehand is read in its own way, and may be anything in a stranger's file.
        change(ledger(2), "UPDATE about SET value = 'soon' WHERE key LIKE 'stated %'");
        assertThatThrownBy(() -> Merger.merge(List.of(file), folder.resolve("stated.kfl")))
                .isInstanceOf(InputException.class);
        change(file, "UPDATE class SET label = 'maybe' WHERE position = 0");
        assertThatThrownBy(() -> LedgerReader.read(file))
                .hasMessageContaining("what it says of plan, data and splits does not agree with its checksum");
    }

    /** A plan of an old ledger may use words that plans have no more. */
    @Test
    void aPlanInFormerWordsIsRead() throws Exception {
        Path file = ledger(1);
        change(file, "UPDATE plan SET yaml = replace(yaml, 'margin: 0}', 'margin: 0, method: refit, refit: 20}')");
        change(file, "UPDATE plan SET yaml = replace(yaml, 'rule: one-se', 'rule: not-worse')");
        change(
                file,
                "INSERT INTO fit (purpose, resample, dataset, candidate, repeat, fold, status, message, crc) VALUES"
                        + " ('refit', 3, 0, 0, 0, 0, 'failed', 'why', 0)");
        LedgerContent content = LedgerReader.read(file);
        assertThat(content.plan().rule().label()).isEqualTo("may-be-best");
        assertThat(content.plan().evidence().method()).isEqualTo(Method.PIVOT);
        assertThat(LedgerReader.halves(file, false)).isEmpty();
        requireSame(1, content);
    }

    private static void change(Path file, String command) throws SQLException {
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute(command);
        }
    }
}
