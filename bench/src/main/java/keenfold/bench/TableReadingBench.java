package keenfold.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
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

/** Reading 100,000 rows x 20 columns (16 of numbers, 4 of words), against the CSV and number parsers alone. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MILLISECONDS)
@Warmup(iterations = 5, time = 2)
@Measurement(iterations = 7, time = 2)
@Fork(2)
public class TableReadingBench {
    private static final int ROWS = 100_000;
    private static final int NUMBERS = 16;
    private static final int WORDS = 4;

    private Path file = Path.of("");

    /** Writes the table. */
    @Setup
    public void write() throws IOException {
        RandomSource chance = new Seed(1).chance();
        StringBuilder csv = new StringBuilder();
        for (int j = 0; j < NUMBERS + WORDS; j++) {
            csv.append(j == 0 ? "" : ",").append("column_").append(j);
        }
        for (int i = 0; i < ROWS; i++) {
            csv.append('\n');
            for (int j = 0; j < NUMBERS; j++) {
                csv.append(String.format(Locale.ROOT, "%.4f,", 100 * chance.normal()));
            }
            for (int j = 0; j < WORDS; j++) {
                csv.append(j == 0 ? "" : ",").append("level").append(chance.below(8));
            }
        }
        file = Files.createTempFile("keenfold", ".csv");
        Files.writeString(file, csv.append('\n').toString());
    }

    /** Deletes the table. */
    @TearDown
    public void delete() throws IOException {
        Files.delete(file);
    }

    /** The parsers alone: every field is taken, every number parsed. */
    @Benchmark
    public double parsersAlone() throws IOException {
        return Parsers.read(file, NUMBERS);
    }

    /** Typed columns. */
    @Benchmark
    public Object typedColumns() {
        return TableReader.read(TableLocation.of(file), TableFormat.PLAIN);
    }
}
