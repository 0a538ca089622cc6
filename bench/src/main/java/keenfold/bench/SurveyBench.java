package keenfold.bench;

import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import keenfold.core.data.Categories;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.run.Parallel;
import keenfold.core.survey.ColumnAuc;
import keenfold.core.survey.ColumnProfile;
import keenfold.core.survey.Suspicion;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.TearDown;
import org.openjdk.jmh.annotations.Warmup;

/** Surveying 1,000,000 rows x 22 columns (17 of numbers, 5 of words) in a heap of 1 GiB, against the CSV parser alone. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.SingleShotTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 2)
@Measurement(iterations = 5)
@Fork(value = 1, jvmArgsAppend = "-Xmx1g")
public class SurveyBench {
    private static final int ROWS = 1_000_000;
    private static final int NUMBERS = 17;
    private static final int WORDS = 4;

    private Path file = Path.of("");

    /** Writes the table. */
    @Setup
    public void write() throws IOException {
        RandomSource chance = new Seed(2).chance();
        file = Files.createTempFile("keenfold", ".csv");
        try (BufferedWriter csv = Files.newBufferedWriter(file)) {
            for (int j = 0; j < NUMBERS + WORDS; j++) {
                csv.write("x" + j + ",");
            }
            csv.write("y\n");
            for (int i = 0; i < ROWS; i++) {
                for (int j = 0; j < NUMBERS; j++) {
                    csv.write(chance.below(200_000) / 100.0 + ",");
                }
                for (int j = 0; j < WORDS; j++) {
                    csv.write("w" + chance.below(9) + ",");
                }
                csv.write(chance.below(3) == 0 ? "lost\n" : "kept\n");
            }
        }
    }

    /** Deletes the table. */
    @TearDown
    public void delete() throws IOException {
        Files.delete(file);
    }

    /** The CSV parser alone: every field is taken as text, and none is looked at. */
    @Benchmark
    public double parserAlone() throws IOException {
        return Parsers.read(file, 0);
    }

    /** The CSV parser, and the JDK's parser for what is a number. */
    @Benchmark
    public double parsersAlone() throws IOException {
        return Parsers.read(file, NUMBERS);
    }

    /** All that {@code survey --target y} computes. */
    @Benchmark
    public Object survey() {
        ReadTable table = TableReader.readAsItIs(TableLocation.of(file), TableFormat.PLAIN);
        List<ColumnProfile> profiles = Parallel.of(Runtime.getRuntime().availableProcessors())
                .map(
                        table.columns().size(),
                        i -> ColumnProfile.of(table.columns().get(i).column()));
        Optional<Categories> target = table.table().column("y").map(c -> c.match(n -> Categories.of(n.name()), w -> w));
        ColumnAuc auc = ColumnAuc.dividing(target.orElseThrow()).orElseThrow();
        return List.of(
                profiles,
                Suspicion.in(table.table(), profiles, List.of(), target),
                auc.reachedByChance(),
                Parallel.of(Runtime.getRuntime().availableProcessors())
                        .map(
                                table.columns().size(),
                                i -> auc.auc(table.columns().get(i).column())));
    }
}
