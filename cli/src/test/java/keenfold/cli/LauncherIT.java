package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The build that {@code ./keenfold} starts when the jar is missing. */
class LauncherIT {
    private static final Path ROOT = Program.DEMO.getParent();

    @TempDir
    private Path folder;

    private void copy(Path from) {
        try {
            Path to = folder.resolve(ROOT.relativize(from).toString());
            Files.createDirectories(to.getParent());
            Files.copy(from, to);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The launcher's own Maven command, on the smallest module that has tests and would be analysed. */
    @Test
    void itCompilesNoTestsAndAnalysesNothing() throws Exception {
        for (String module : List.of("core", "results", "io", "view", "study", "cli", "parquet", "bench")) {
            copy(ROOT.resolve(module).resolve("pom.xml"));
        }
        copy(ROOT.resolve("pom.xml"));
        for (String source :
                List.of("data/Seed.java", "data/RandomSource.java", "data/Checks.java", "data/ValueException.java")) {
            copy(ROOT.resolve("core/src/main/java/keenfold/core").resolve(source));
        }
        Path odd = folder.resolve("core/src/main/java/keenfold/core/data/Odd.java");
        // What the analysis of mvn verify refuses, and a test that no compiler takes.
        Files.writeString(odd, "package keenfold.core.data;\nclass Odd { int f(int a) { return a == a ? 1 : 2; } }\n");
        Path test = folder.resolve("core/src/test/java/keenfold/core/data/OddTest.java");
        Files.createDirectories(test.getParent());
        Files.writeString(test, "no java at all");
        Matcher command = Pattern.compile("mvn (-[^)]*) -pl cli -am package\\)")
                .matcher(Files.readString(ROOT.resolve("keenfold")));
        assertThat(command.find()).isTrue();
        Process maven = new ProcessBuilder(Stream.of(
                                List.of("mvn", "-o"),
                                List.of(command.group(1).split(" ")),
                                List.of("-pl", "core", "package"))
                        .flatMap(List::stream)
                        .toList())
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(maven.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(maven.waitFor()).as(said).isZero();
        assertThat(folder.resolve("core/target/classes/keenfold/core/data/Seed.class"))
                .exists();
        assertThat(folder.resolve("core/target/test-classes")).doesNotExist();
    }
}
