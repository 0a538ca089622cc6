package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A short run of the {@link Fuzzer}, and all that a long one ever found. */
class FuzzTest {
    /** Each file is named KIND-WHAT, KIND being one of {@link FuzzedFiles.Kind}. */
    private static final Path CORPUS = Path.of("src/test/resources/fuzz");

    /** {@code -Dkeenfold.fuzz.cases=20000 -Dkeenfold.fuzz.seed=4} makes the run a long one. */
    private static final int CASES = Integer.getInteger("keenfold.fuzz.cases", 300);

    private static final long SEED = Long.getLong("keenfold.fuzz.seed", 20_261_129L);

    @TempDir
    private static Path folder;

    private static Fuzzer fuzzer;

    @BeforeAll
    static void makeFuzzer() throws IOException, SQLException {
        fuzzer = new Fuzzer(folder);
    }

    @Test
    void whatNobodySoundWroteIsMetWithWords() throws IOException {
        List<String> wrong = new ArrayList<>();
        for (int i = 0; i < CASES; i++) {
            int number = i;
            fuzzer.look(SEED, i).ifPresent(w -> wrong.add("case " + number + ": " + w));
        }
        assertThat(wrong).isEmpty();
    }

    @Test
    void whatWasOnceFoundStaysMended() throws IOException {
        List<String> wrong = new ArrayList<>();
        try (Stream<Path> all = Files.list(CORPUS)) {
            for (Path file : all.sorted().toList()) {
                String name = file.getFileName().toString();
                FuzzedFiles.Kind kind = FuzzedFiles.Kind.valueOf(
                        name.substring(0, name.indexOf('-')).toUpperCase(Locale.ROOT));
                fuzzer.look(kind, file).ifPresent(w -> wrong.add(name + ": " + w));
            }
        }
        assertThat(wrong).isEmpty();
    }
}
