package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The release with a Java of its own: unpacked in another place, run where there is no other Java. */
class RuntimeIT {
    private static final Path TARGET = Program.ROOT.resolve("cli/target");

    @TempDir
    private static Path folder;

    private static Path home = Path.of("");

    private record Ended(int code, String out, String err) {}

    private static Ended run(Map<String, String> environment, List<String> words) throws Exception {
        Path out = Files.createTempFile(folder, "out", "");
        Path err = Files.createTempFile(folder, "err", "");
        ProcessBuilder builder = new ProcessBuilder(words)
                .directory(folder.toFile())
                .redirectOutput(out.toFile())
                .redirectError(err.toFile());
        builder.environment().clear();
        builder.environment().putAll(environment);
        int code = builder.start().waitFor();
        return new Ended(code, Files.readString(out), Files.readString(err));
    }

    /** Starts the program with nothing on the path but what the launcher needs. */
    private static Ended keenfold(String options, String... words) throws Exception {
        Path launcher = home.resolve("bin/keenfold");
        return run(
                Map.of("PATH", folder.resolve("tools").toString(), "KEENFOLD_JAVA_OPTIONS", options),
                Stream.concat(Stream.of(launcher.toString()), Arrays.stream(words))
                        .toList());
    }

    /** The newest JDK of this machine that can make such a runtime. */
    private static Optional<Path> jdk() throws IOException {
        Path all = Path.of("/usr/lib/jvm");
        if (!Files.isDirectory(all)) {
            return Optional.empty();
        }
        try (Stream<Path> homes = Files.list(all)) {
            return homes.filter(h -> Files.isExecutable(h.resolve("bin/jlink")))
                    .filter(h -> version(h) >= 25)
                    .max(Comparator.comparingInt(RuntimeIT::version));
        }
    }

    private static int version(Path jdk) {
        try {
            return Files.readAllLines(jdk.resolve("release")).stream()
                    .filter(l -> l.startsWith("JAVA_VERSION="))
                    .mapToInt(l -> Integer.parseInt(l.replaceAll("^[^0-9]*([0-9]+).*", "$1")))
                    .findFirst()
                    .orElse(0);
        } catch (IOException e) {
            return 0;
        }
    }

    @BeforeAll
    static void unpack() throws Exception {
        Optional<Path> jdk = jdk();
        Assumptions.assumeTrue(jdk.isPresent(), "no JDK of 25 or newer");
        Path archive;
        try (Stream<Path> all = Files.list(TARGET)) {
            archive = all.filter(f -> f.getFileName().toString().matches("keenfold-[0-9.]+\\.tar\\.gz"))
                    .findFirst()
                    .orElseThrow();
        }
        Path made = folder.resolve("made");
        String script = Program.ROOT.resolve("cli/src/release/runtime.sh").toString();
        Map<String, String> environment = new HashMap<>(System.getenv());
        environment.put("KEENFOLD_REHEARSAL", "keenfold.cli.Main scores --help");
        Ended ended = run(
                environment,
                List.of(script, archive.toString(), jdk.orElseThrow().toString(), made.toString()));
        assertThat(ended.code).as(ended.err).isZero();
        assertThat(made.resolve("Containerfile")).content().contains("ADD ${RELEASE} /opt/");
        Path place = Files.createDirectories(folder.resolve("another place"));
        String line = "cd made && sha256sum --quiet -c keenfold-*-SHA256SUMS && tar -xzf keenfold-*-linux-*.tar.gz -C '"
                + place + "'";
        Ended unpacked = run(System.getenv(), List.of("sh", "-c", line));
        assertThat(unpacked.code).as(unpacked.err).isZero();
        try (Stream<Path> one = Files.list(place)) {
            home = one.findFirst().orElseThrow();
        }
        Path tools = Files.createDirectories(folder.resolve("tools"));
        for (String tool : List.of("sh", "dirname", "readlink", "cat")) {
            Ended which = run(System.getenv(), List.of("sh", "-c", "command -v " + tool));
            Files.createSymbolicLink(tools.resolve(tool), Path.of(which.out.strip()));
        }
    }

    @Test
    void itDoesTheJobWhereThereIsNoOtherJava() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Ended compared = keenfold(
                "",
                "compare",
                "swarm.csv",
                "--target",
                "swarmed",
                "--try",
                "nearest neighbours=3,5",
                "--try",
                "majority",
                "--repeats",
                "2",
                "--folds",
                "3",
                "--quiet");
        assertThat(compared.code).as(compared.err).isZero();
        assertThat(compared.out).contains("each candidate against", "nearest/5");
        assertThat(compared.err).isEmpty();
        Ended drawn = keenfold("", "draw", "swarm.kfl", "--figure", "means", "-o", "means.png", "--draws", "200");
        assertThat(drawn.code).as(drawn.err).isZero();
        assertThat(folder.resolve("means.png")).isNotEmptyFile();
        assertThat(keenfold("", "report", "swarm.kfl", "-o", "page", "--draws", "200").code)
                .isZero();
        // Encodings that the smallest runtime would not have.
        byte[] table = Files.readString(Program.DEMO.resolve("swarm.csv"))
                .replace("changeable", "\u66c7\u308a")
                .getBytes(Charset.forName("Shift_JIS"));
        Files.write(folder.resolve("other.csv"), table);
        assertThat(keenfold("", "survey", "other.csv", "--encoding", "Shift_JIS").out)
                .contains("\u66c7\u308a");
    }

    /** Classes are mapped from the archive that lies in it, wherever it was unpacked. */
    @Test
    void itsClassesAreMapped() throws Exception {
        Ended help = keenfold("-Xlog:class+load:file=loaded.txt", "scores", "--help");
        assertThat(help.code).as(help.err).isZero();
        List<String> loaded = Files.readAllLines(folder.resolve("loaded.txt"));
        for (String name : List.of("keenfold.cli.Main ", "picocli.CommandLine ")) {
            assertThat(loaded).anyMatch(l -> l.contains(name) && l.contains("shared objects file"));
        }
        assertThat(loaded.stream().filter(l -> l.contains(" java.")).filter(l -> l.contains("shared objects file")))
                .hasSizeGreaterThan(400);
        String overview = Files.readString(home.resolve("lib/keenfold/help.txt"));
        assertThat(keenfold("", "--help").out)
                .isEqualTo(overview)
                .isEqualTo(keenfold("").out)
                .contains("compare");
        assertThat(keenfold("", "help", "scores").out).isEqualTo(help.out);
        assertThat(home.resolve("share/man/man1/keenfold.1")).isNotEmptyFile();
        assertThat(home.resolve("bin/keenfold.cmd")).doesNotExist();
        String sums = "cd '" + home + "' && sha256sum --quiet -c share/doc/keenfold/SHA256SUMS";
        assertThat(run(System.getenv(), List.of("sh", "-c", sums)).code).isZero();
    }
}
