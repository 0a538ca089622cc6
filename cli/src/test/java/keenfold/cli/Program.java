package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/** The built program, run in a folder. */
final class Program {
    static final Path ROOT =
            Path.of(System.getProperty("keenfold.root", "..")).toAbsolutePath().normalize();
    static final Path DEMO = ROOT.resolve("demo");

    /** How Java is started for something short: most of a test's time would be code that is compiled and classes that load. */
    static final List<String> OPTIONS = options("-XX:TieredStopAtLevel=1");

    /**
     * Options of this very Java, with those of the archive of classes that the build made; without it, or with one of another
     * jar, classes load.
     */
    static List<String> options(String... own) {
        List<String> all = new ArrayList<>(List.of(
                "-XX:+UseSerialGC",
                "-Xshare:auto",
                "-XX:SharedArchiveFile=" + System.getProperty("keenfold.classes", "none"),
                "-Xlog:disable",
                "-Xlog:all=error:stderr"));
        all.addAll(List.of(own));
        return List.copyOf(all);
    }

    private final Path folder;
    private String java =
            Path.of(System.getProperty("java.home"), "bin", "java").toString();
    private String beside = "";
    private boolean plain = true;
    private String main = "keenfold.cli.Main";
    private final List<String> before = new ArrayList<>();
    private final List<String> options = new ArrayList<>(OPTIONS);

    Program(Path folder) {
        this.folder = folder;
    }

    /** What came of a run. */
    record Outcome(int code, String out, String err) {
        Outcome expect(int expected) {
            assertThat(code).as(err).isEqualTo(expected);
            assertThat(err).doesNotContain("\tat ");
            return this;
        }

        /** What was said on standard error, in one line. */
        String said() {
            return err.replaceAll("\\s+", " ");
        }

        JsonNode json() throws IOException {
            return new ObjectMapper().readTree(out);
        }
    }

    Program with(String otherJava, List<String> otherOptions) {
        plain = false;
        java = otherJava;
        options.clear();
        options.addAll(otherOptions);
        return this;
    }

    /** The files in the folder that were not completed. */
    List<String> unfinished() {
        return Stream.of(Objects.requireNonNull(folder.toFile().list()))
                .filter(name -> name.contains(".part"))
                .toList();
    }

    /** Whether a program is there to be started. */
    static boolean has(String name) {
        return Stream.of(System.getenv().getOrDefault("PATH", "").split(File.pathSeparator, -1))
                .anyMatch(dir -> Files.isExecutable(Path.of(dir, name)));
    }

    /** Puts a part on the class path, behind the program. */
    Program beside(Path part) {
        plain = false;
        beside = File.pathSeparator + part;
        return this;
    }

    /** Starts another class of the tests in its place. */
    Program through(Class<?> other) {
        beside(Path.of(other.getProtectionDomain().getCodeSource().getLocation().getPath()));
        main = other.getName();
        return this;
    }

    /** Puts a command before the program's own, which it is to start. */
    Program under(String... command) {
        plain = false;
        before.addAll(List.of(command));
        return this;
    }

    Process start(Path out, Path err, String... args) throws IOException {
        List<String> command = new ArrayList<>(before);
        command.add(java);
        command.addAll(options);
        command.addAll(List.of("-cp", System.getProperty("keenfold.jar") + beside, main));
        command.addAll(List.of(args));
        return new ProcessBuilder(command)
                .directory(folder.toFile())
                .redirectOutput(out.toFile())
                .redirectError(err.toFile())
                .start();
    }

    /** What a run found, without the seconds: its plan, predictions, folds and scores, one after the other. */
    String exports(String ledger) throws IOException, InterruptedException {
        StringBuilder all = new StringBuilder();
        for (String what : List.of("plan", "predictions", "folds", "scores")) {
            all.append(run("export", ledger, "--what", what).expect(0).out());
        }
        return all.toString();
    }

    Outcome run(String... args) throws IOException, InterruptedException {
        Path out = Files.createTempFile("keenfold", ".out");
        Path err = Files.createTempFile("keenfold", ".err");
        try {
            if (plain) {
                int code = ProgramLoop.in(folder).run(out, err, args);
                return new Outcome(code, Files.readString(out), Files.readString(err));
            }
            Process process = start(out, err, args);
            assertThat(process.waitFor(Until.HANG_SECONDS, TimeUnit.SECONDS))
                    .as("ended in time")
                    .isTrue();
            return new Outcome(process.exitValue(), Files.readString(out), Files.readString(err));
        } finally {
            Files.delete(out);
            Files.delete(err);
        }
    }
}
