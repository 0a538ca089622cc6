package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.spy;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Comparison;
import keenfold.core.run.FitSink;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.Unit;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.io.export.CsvExport;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.ledger.table.Event;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class LedgerTest {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

    @TempDir
    private Path folder;

    private Plan plan;
    private List<LoadedData> data;
    private Comparison comparison;

    @BeforeEach
    void makeComparison() throws IOException {
        StringBuilder csv = new StringBuilder("g,x,z,kind\n");
        IntStream.range(0, 48).forEach(i -> csv.append('G')
                .append(i % 8)
                .append(',')
                .append(i * 7 % 13)
                .append(',')
                .append(i % 3 == 0 ? "u" : "v")
                .append(',')
                .append("abc".charAt((i * 7 % 13 + i % 2) % 3))
                .append('\n'));
        Files.writeString(folder.resolve("d.csv"), csv.toString());
        plan = PlanReader.parse(
                "p",
                """
                keenfold: 1
                data: [{file: d.csv, target: kind, groups: g}]
                splits: {folds: 4, repeats: 2}
                seed: 3
                metrics: [accuracy, auc, precision]
                candidates:
                  guess: {classifier: majority}
                  near: {classifier: nearest, neighbours: {vary: [1, 5]}}
                  bayes: {classifier: naive-bayes}
                """);
        data = List.of(DataReader.read(plan.data().get(0), List.of(folder)));
        comparison = comparison(data.get(0));
    }

    private Comparison comparison(LoadedData loaded) {
        Task task =
                Task.of(loaded.data(), plan.division().scheme().orElseThrow().divide(loaded.data(), 3), plan.metrics());
        return new Comparison(List.of(task), plan.candidates(), 3);
    }

    private Path file() {
        return folder.resolve("l.kfl");
    }

    private void run(int most) {
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            List<Unit> missing = writer.missing();
            Runner.on(Parallel.of(2)).run(comparison, missing.subList(0, Math.min(most, missing.size())), writer);
        }
    }

    private String exported() {
        return exported(file());
    }

    private static String exported(Path file) {
        StringWriter out = new StringWriter();
        LedgerContent content = LedgerReader.read(file);
        CsvExport.predictions(content.results(), out);
        CsvExport.scores(content.results(), out);
        CsvExport.folds(content.results(), out);
        return out.toString();
    }

    @Test
    void whatIsReadIsWhatWasRun() {
        run(Integer.MAX_VALUE);
        LedgerContent content = LedgerReader.read(file());
        assertThat(content.expected()).isEqualTo(32);
        List<Fit> direct = new ArrayList<>();
        Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, fits) -> direct.addAll(fits));
        assertThat(content.results().fits()).hasSize(32);
        for (Fit fit : direct) {
            Fit read = content.results().fits().stream()
                    .filter(f ->
                            f.candidate() == fit.candidate() && f.repeat() == fit.repeat() && f.fold() == fit.fold())
                    .findFirst()
                    .orElseThrow();
            assertThat(read.size()).isEqualTo(fit.size());
            assertThat(read.result().orElseThrow().scores())
                    .containsExactly(fit.result().orElseThrow().scores());
            for (int i = 0; i < fit.result().orElseThrow().outcomes().size(); i++) {
                for (int c = 0; c < 3; c++) {
                    assertThat(read.result().orElseThrow().outcomes().probability(i, c))
                            .isEqualTo(fit.result().orElseThrow().outcomes().probability(i, c));
                }
            }
        }
        assertThat(content.results()
                        .tasks()
                        .get(0)
                        .data()
                        .groups()
                        .orElseThrow()
                        .levels())
                .hasSize(8);
        assertThat(folder.resolve("l.kfl-wal")).doesNotExist();
        assertThat(folder.resolve("l.kfl.lock")).doesNotExist();
    }

    /** Where a fit has taken all memory, the writer may meet its end first: it waits until the fit has let go. */
    @Test
    void memoryThatComesBackLosesNothing() {
        run(Integer.MAX_VALUE);
        String calm = exported();
        AtomicInteger met = new AtomicInteger();
        try (LedgerWriter writer = LedgerWriter.open(folder.resolve("tight.kfl"), plan, data, comparison)) {
            Runner.on(Parallel.of(1))
                    .run(
                            comparison,
                            comparison.units(),
                            (unit, fits) -> writer.accept(
                                    unit,
                                    fits.stream()
                                            .map(fit -> withoutMemory(fit, met))
                                            .toList()));
        }
        assertThat(met).hasValue(2);
        assertThat(exported(folder.resolve("tight.kfl"))).isEqualTo(calm);
    }

    /** The same fit, of which twice no copy can be made for lack of memory. */
    private static Fit withoutMemory(Fit fit, AtomicInteger met) {
        Fit.Result result = fit.result().orElseThrow();
        Outcomes scarce = spy(result.outcomes());
        doAnswer(call -> {
                    if (fit.fold() == 2 && met.get() < 2) {
                        met.incrementAndGet();
                        throw new OutOfMemoryError("Java heap space");
                    }
                    return call.callRealMethod();
                })
                .when(scarce)
                .probability(anyInt(), anyInt());
        return fit.withResult(Optional.of(new Fit.Result(scarce, result.scores(), result.trainScores())));
    }

    @Test
    void aRunGoesOnWhereItStoppedAndEndsTheSame() {
        run(Integer.MAX_VALUE);
        String undisturbed = exported();
        file().toFile().delete();
        run(5);
        assertThat(LedgerReader.read(file()).results().fits().size()).isLessThan(32);
        run(7);
        run(Integer.MAX_VALUE);
        assertThat(exported()).isEqualTo(undisturbed);
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            assertThat(writer.missing()).isEmpty();
        }
    }

    @Test
    void failedFitsAreKeptAndCanBeRepeated() {
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            Runner.on(Parallel.of(1)).run(comparison, comparison.units(), (unit, fits) -> {
                List<Fit> changed = fits.stream()
                        .map(f -> unit.number() == 1 && f.candidate() == 2
                                ? new Fit(
                                        0, 2, f.repeat(), f.fold(), f.times(), Double.NaN, Optional.empty(), "bad luck")
                                : f)
                        .toList();
                writer.accept(unit, changed);
            });
        }
        LedgerContent content = LedgerReader.read(file());
        assertThat(content.failed()).isEqualTo(1);
        StringWriter out = new StringWriter();
        CsvExport.fits(content.results(), out);
        assertThat(out.toString()).contains("d,near/5,1,1,failed,").contains(",bad luck,,no\n");
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            assertThat(writer.missing()).isEmpty();
            assertThat(writer.forgetFailed()).isEqualTo(1);
            assertThat(writer.missing()).hasSize(1);
            Runner.on(Parallel.of(1)).run(comparison, writer.missing(), writer);
        }
        String repeated = exported();
        file().toFile().delete();
        run(Integer.MAX_VALUE);
        assertThat(repeated).isEqualTo(exported());
    }

    /** A shard's writer that is killed in the middle of writing a page leaves its journal; who reads next rolls it back. */
    @Test
    void aJournalThatWasLeftIsRolledBackBeforeReading() throws Exception {
        run(Integer.MAX_VALUE);
        String before = exported();
        Path live = folder.resolve("live.kfl");
        Files.copy(file(), live);
        try (Connection writer = SqliteFile.open(live, SqliteFile.Access.WRITE)) {
            LedgerFile.run(writer, "PRAGMA journal_mode=TRUNCATE");
            // So that pages reach the file before the transaction ends.
            LedgerFile.run(writer, "PRAGMA cache_size=2");
            LedgerFile.run(writer, "PRAGMA cache_spill=2");
            writer.setAutoCommit(false);
            LedgerFile.run(writer, "UPDATE score SET value = 0.123");
            LedgerFile.run(writer, "UPDATE prediction SET probabilities = zeroblob(300)");
            LedgerFile.run(writer, "UPDATE fit SET crc = 5");
            // What a machine that loses its power would find.
            Files.copy(live, file(), StandardCopyOption.REPLACE_EXISTING);
            Files.copy(folder.resolve("live.kfl-journal"), folder.resolve("l.kfl-journal"));
            writer.rollback();
        }
        assertThat(folder.resolve("l.kfl-journal")).isNotEmptyFile();
        assertThat(Files.readAllBytes(file())).isNotEqualTo(Files.readAllBytes(live));
        assertThat(exported()).isEqualTo(before);
    }

    @Test
    void otherSeedFoldsOrDataAreRefusedWithWhatDiffers() throws IOException {
        run(3);
        String said = PlanWriter.write(plan);
        Plan seeded = PlanReader.parse("p", said.replace("seed: 3", "seed: 4"));
        assertThatThrownBy(() -> LedgerWriter.open(file(), seeded, data, comparison))
                .hasMessageContaining("its fits derive from seed 3, and the plan says 4")
                .hasMessageContaining("name a new ledger for this plan, such as -o " + folder.resolve("l-2.kfl"));
        Plan folded = PlanReader.parse("p", said.replace("folds: 4", "folds: 3"));
        Task task = Task.of(
                data.get(0).data(),
                folded.division().scheme().orElseThrow().divide(data.get(0).data(), 3),
                plan.metrics());
        assertThatThrownBy(() ->
                        LedgerWriter.open(file(), folded, data, new Comparison(List.of(task), plan.candidates(), 3)))
                .hasMessageContaining("the splits of data set \"d\" are not those that the ledger was made with")
                .hasMessageContaining("folds: 4")
                .hasMessageContaining("folds: 3");
        Files.writeString(
                folder.resolve("d.csv"),
                Files.readString(folder.resolve("d.csv")).replace("G7,", "G6,"));
        LoadedData changed = DataReader.read(plan.data().get(0), List.of(folder));
        assertThatThrownBy(() -> LedgerWriter.open(file(), plan, List.of(changed), comparison(changed)))
                .hasMessageContaining("data set \"d\" has changed since the ledger was made");
        // The refused attempts let go of the lock, and change nothing.
        run(2);
        assertThat(LedgerReader.read(file()).plan()).isEqualTo(plan);
    }

    /** Fits of halves land as they are made, are read back with the rows they were tested on, and are done once. */
    @Test
    void fitsOfHalvesComeBackAsTheyWereMade() {
        run(Integer.MAX_VALUE);
        KFold scheme = (KFold) plan.division().scheme().orElseThrow();
        Halves halves = new Halves(comparison, scheme, new Halving(1, 2));
        List<HalfFit> made = new ArrayList<>();
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            for (int n = 0; n < 2; n++) {
                int number = n;
                List<Unit> missing = writer.missing(n, 2, u -> true);
                assertThat(missing).hasSize(2 * 4 * 3);
                FitSink sink = writer.half(n);
                Runner.on(Parallel.of(2)).run(halves.half(n), missing.subList(0, n == 0 ? 24 : 5), (unit, fits) -> {
                    sink.accept(unit, fits);
                    fits.forEach(f -> made.add(halves.ofWhole(number, f)));
                });
            }
        }
        try (LedgerWriter writer = LedgerWriter.open(file(), plan, data, comparison)) {
            assertThat(writer.missing(0, 2, u -> true)).isEmpty();
            assertThat(writer.missing(1, 2, u -> true)).hasSize(24 - 5);
            assertThat(writer.missing()).isEmpty();
        }
        Results results = LedgerReader.read(file()).results();
        assertThat(results.fits()).hasSize(32);
        List<HalfFit> halved = LedgerReader.halves(file(), false);
        assertThat(halved).hasSameSizeAs(made);
        for (HalfFit read : halved) {
            Fit direct = made.stream()
                    .filter(h -> h.half() == read.half())
                    .map(HalfFit::fit)
                    .filter(f -> f.candidate() == read.fit().candidate()
                            && f.repeat() == read.fit().repeat()
                            && f.fold() == read.fit().fold())
                    .findFirst()
                    .orElseThrow();
            assertThat(read.fit()
                            .result()
                            .orElseThrow()
                            .outcomes()
                            .predictsAs(direct.result().orElseThrow().outcomes()))
                    .isTrue();
            assertThat(read.fit().making().columns())
                    .isEqualTo(direct.making().columns())
                    .isPositive();
        }
        // What somebody writes into the file does not decide how much memory is taken.
        try (Connection connection = SqliteFile.open(file(), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("UPDATE fit SET repeat = 2000000000 WHERE id = (SELECT max(id) FROM fit)");
        } catch (SQLException e) {
            throw new AssertionError(e);
        }
        assertThatThrownBy(() -> LedgerReader.halves(file(), false))
                .hasMessageContaining("is of a split that is not there");
    }

    /** How results are read may change; which fits are made may not. */
    @Test
    void anotherWayOfReadingIsThePlansOwnAffair() {
        run(3);
        Plan wider = PlanReader.parse(
                "p",
                PlanWriter.write(plan).replace("level: 0.95", "level: 0.9").replace("rule: one-se", "rule: fold-se"));
        assertThat(wider.evidence().level()).isEqualTo(0.9);
        LedgerWriter.open(file(), wider, data, comparison).close();
        Plan kept = LedgerReader.read(file()).plan();
        assertThat(kept.evidence().level()).isEqualTo(0.9);
        assertThat(kept.rule().label()).isEqualTo("fold-se");
        assertThat(LedgerReader.history(file()).events())
                .extracting(Event::event, Event::details)
                .contains(tuple("pick changed", "{rule: fold-se}"));
    }

    @Test
    void aSecondWriterIsRefused() {
        try (LedgerWriter first = LedgerWriter.open(file(), plan, data, comparison)) {
            assertThat(first.missing()).isNotEmpty();
            assertThatThrownBy(() -> LedgerWriter.open(file(), plan, data, comparison))
                    .hasMessageContaining("another keenfold is writing to this ledger");
        }
    }

    private void change(String command) throws Exception {
        try (Connection connection = SqliteFile.open(file(), SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA ignore_check_constraints = ON");
            statement.execute(command);
        }
    }

    @Test
    void damageIsFoundByChecksum() throws Exception {
        run(Integer.MAX_VALUE);
        change("UPDATE score SET value = value + 0.001 WHERE fit = 3 AND metric = 'accuracy'");
        assertThatThrownBy(() -> LedgerReader.read(file())).hasMessageContaining("does not agree with its checksum");
    }

    /** So many that several threads decode them: all there, in order, with the scores of their own predictions. */
    @Test
    void manyFitsAreReadInOrderAndDamageInTheMiddleIsFound() throws Exception {
        Ledgers many = new Ledgers(folder);
        many.run("many.kfl", Ledgers.PLAN.replace("repeats: 2", "repeats: 200").replace("trees: 5", "trees: 1"));
        LedgerContent content = LedgerReader.read(many.file("many.kfl"));
        List<Fit> fits = content.results().fits();
        assertThat(fits).hasSize(1600);
        for (int i = 0; i < fits.size(); i++) {
            Fit fit = fits.get(i);
            assertThat(List.of(fit.candidate(), fit.repeat(), fit.fold())).containsExactly(i / 400, i / 2 % 200, i % 2);
            Fit.Result result = fit.result().orElseThrow();
            List<Metric> metrics = content.results().tasks().get(0).metrics();
            for (int m = 0; m < metrics.size(); m++) {
                assertThat(result.score(m)).isEqualTo(metrics.get(m).score(result.outcomes()));
            }
        }
        for (String damage : List.of("value = value + 0.001", "metric = 'made-up'")) {
            Files.copy(many.file("many.kfl"), file(), StandardCopyOption.REPLACE_EXISTING);
            change("UPDATE score SET " + damage + " WHERE fit = 1100 AND metric = 'accuracy'");
            assertThatThrownBy(() -> LedgerReader.read(file()))
                    .hasMessageContaining("fit of candidate")
                    .hasMessageContaining("does not agree with its checksum");
        }
    }

    @Test
    void whatSaysWhatWasRunHasAChecksumToo() throws Exception {
        run(Integer.MAX_VALUE);
        for (String change : List.of(
                "UPDATE dataset SET positive = 'b'",
                "UPDATE class SET label = 'd' WHERE position = 2",
                "UPDATE split SET folds = (SELECT folds FROM split WHERE repeat = 1) WHERE repeat = 0",
                "UPDATE plan SET yaml = replace(yaml, 'seed: 3', 'seed: 4')",
                "UPDATE about SET value = 'SCORES' WHERE key = 'kept'",
                "DELETE FROM candidate WHERE id = 1")) {
            byte[] before = Files.readAllBytes(file());
            change(change);
            assertThatThrownBy(() -> LedgerReader.read(file()))
                    .as(change)
                    .hasMessageContaining("what it says of plan, data and splits does not agree with its checksum");
            assertThatThrownBy(() -> LedgerWriter.open(file(), plan, data, comparison))
                    .hasMessageContaining("does not agree with its checksum");
            assertThatThrownBy(() -> Merger.merge(List.of(file()), folder.resolve("m.kfl")))
                    .hasMessageContaining("nothing can be rescued");
            Files.write(file(), before);
        }
        for (String change : List.of(
                "UPDATE fit SET fold = 77 WHERE id = 3",
                "UPDATE fit SET candidate = -1 WHERE id = 3",
                "UPDATE fit SET train_seconds = 9 WHERE id = 3",
                "UPDATE fit SET purpose = 'cw' WHERE id = 3",
                "UPDATE score SET metric = 'f1' WHERE fit = 3 AND metric = 'auc'")) {
            byte[] before = Files.readAllBytes(file());
            change(change);
            assertThatThrownBy(() -> LedgerReader.read(file())).as(change).hasMessageContaining("is damaged");
            MergeReport report = Merger.merge(List.of(file()), folder.resolve("m.kfl"));
            assertThat(report.parts().get(0).damaged()).as(change).hasSize(1);
            assertThat(report.fits()).isEqualTo(31);
            Files.delete(folder.resolve("m.kfl"));
            Files.write(file(), before);
        }
    }

    @Test
    void foreignNewerAndBrokenFilesAreRefused() throws Exception {
        assertThatThrownBy(() -> LedgerReader.read(file())).hasMessageContaining("there is no such ledger");
        Files.createFile(file());
        assertThatThrownBy(() -> LedgerReader.read(file())).hasMessageContaining("its run ended before it had begun");
        Files.writeString(file(), "this is no database, but it is long enough to be looked at as one".repeat(20));
        assertThatThrownBy(() -> LedgerReader.read(file()))
                .hasMessageContaining("is no ledger, as run and compare make one");
        Files.delete(file());
        change("CREATE TABLE other (x)");
        assertThatThrownBy(() -> LedgerReader.read(file())).hasMessageContaining("no Keen Fold ledger");
        Files.delete(file());
        run(1);
        change("PRAGMA user_version = 99");
        assertThatThrownBy(() -> LedgerReader.read(file())).hasMessageContaining("ledger format 99");
    }

    @Test
    void blobsComeBackAsTheyWere() {
        int[] ints = {0, -1, Integer.MAX_VALUE, 7};
        double[] doubles = {0.1, -0.0, Double.MIN_VALUE, 1e300};
        assertThat(Blobs.ints(Blobs.ofInts(ints), 4)).containsExactly(ints);
        assertThat(Blobs.doubles(Blobs.ofDoubles(doubles), 4)).containsExactly(doubles);
        assertThatThrownBy(() -> Blobs.doubles(Blobs.ofDoubles(doubles), 5)).hasMessageContaining("damaged bytes");
        assertThatThrownBy(() -> Blobs.ints(new byte[] {1, 2, 3}, 2)).hasMessageContaining("damaged bytes");
    }
}
