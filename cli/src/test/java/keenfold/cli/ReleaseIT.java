package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import keenfold.cli.console.Console;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The release archive: unpacked by the line of the README, run from another folder. */
class ReleaseIT {
    @TempDir
    private static Path folder;

    private static final Path TARGET = Program.ROOT.resolve("cli/target");

    private record Ended(int code, String out, String err) {}

    private static Ended run(Map<String, String> more, String... words) throws IOException, InterruptedException {
        Path out = Files.createTempFile(folder, "out", "");
        Path err = Files.createTempFile(folder, "err", "");
        ProcessBuilder builder = new ProcessBuilder(words)
                .directory(Files.createDirectories(folder.resolve("elsewhere")).toFile())
                .redirectOutput(out.toFile())
                .redirectError(err.toFile());
        builder.environment().putAll(more);
        int code = builder.start().waitFor();
        return new Ended(code, Files.readString(out), Files.readString(err));
    }

    private static String shell(String line) throws IOException, InterruptedException {
        Ended ended = run(Map.of(), "bash", "-c", line);
        assertThat(ended.code).as(line + "\n" + ended.err).isZero();
        return ended.out;
    }

    private static Path home() {
        return folder.resolve("local");
    }

    @BeforeAll
    static void unpack() throws Exception {
        String line = Files.readString(Program.ROOT.resolve("README.md"))
                .lines()
                .filter(l -> l.startsWith("mkdir -p ~/.local && tar "))
                .findFirst()
                .orElseThrow();
        shell(line.replace("~/.local", home().toString())
                .replace(
                        "keenfold-*-linux-x64",
                        TARGET.resolve("keenfold-[0-9].[0-9].[0-9]").toString()));
    }

    private static List<String> files(Path of) throws IOException {
        try (Stream<Path> all = Files.walk(of)) {
            return all.filter(Files::isRegularFile)
                    .map(f -> of.relativize(f).toString())
                    .sorted()
                    .toList();
        }
    }

    @Test
    void bothArchivesHoldTheSame() throws Exception {
        Path zip;
        try (Stream<Path> all = Files.list(TARGET)) {
            zip = all.filter(f -> f.toString().endsWith(".zip")).findFirst().orElseThrow();
        }
        try (ZipFile file = new ZipFile(zip.toFile())) {
            List<String> entries = file.stream()
                    .filter(e -> !e.isDirectory())
                    .map(ZipEntry::getName)
                    .map(n -> n.substring(n.indexOf('/') + 1))
                    .sorted()
                    .toList();
            assertThat(entries).isEqualTo(files(home()));
            for (String name : List.of("bin/keenfold", "share/man/man1/keenfold.1")) {
                byte[] packed = file.getInputStream(
                                file.getEntry(zip.getFileName().toString().replace(".zip", "/") + name))
                        .readAllBytes();
                assertThat(packed).isEqualTo(Files.readAllBytes(home().resolve(name)));
            }
        }
    }

    /** Each line of the launcher for Windows ends as there, and quotes what may hold a blank. */
    @Test
    void theLauncherForWindowsIsThere() throws Exception {
        String text = Files.readString(home().resolve("bin/keenfold.cmd"));
        assertThat(text.replace("\r\n", "")).doesNotContain("\n", "\r");
        assertThat(text)
                .startsWith("@echo off\r\n")
                .contains(
                        "\"%KEENFOLD_JAVA%\" -Duser.timezone=UTC", "-jar \"%KEENFOLD_JAR%\" %*\r\nexit /b %ERRORLEVEL%")
                .contains("set \"KEENFOLD_JAVA=%JAVA_HOME%\\bin\\java.exe\"");
    }

    /** Through a link too, as people put programs on their path; nothing is built or written beside it. */
    @Test
    void itRunsFromElsewhere() throws Exception {
        List<String> before = files(home());
        Files.createDirectories(folder.resolve("links"));
        Files.createSymbolicLink(folder.resolve("links/kf"), Path.of("..").resolve("local/bin/keenfold"));
        Ended version = run(Map.of(), folder.resolve("links/kf").toString(), "--version");
        assertThat(version.out)
                .matches("keenfold [0-9.]+ \\(commit [0-9a-f]{7,}(, changed since)?\\)\nJava "
                        + Runtime.version().feature() + ".*\n");
        Files.createDirectories(folder.resolve("elsewhere"));
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("elsewhere/swarm.csv"));
        String survey = shell(home().resolve("bin/keenfold") + " survey swarm.csv --target swarmed --quiet");
        assertThat(survey).contains("swarm.csv", "queen_age");
        assertThat(files(home())).isEqualTo(before);
    }

    /** What runs is what was summed; what it is made of, and under which licences, is said. */
    @Test
    void itsSumsComponentsAndLicencesAreThere() throws Exception {
        assertThat(shell("cd '" + home() + "' && sha256sum --quiet -c share/doc/keenfold/SHA256SUMS && echo sound"))
                .isEqualTo("sound\n");
        assertThat(Files.readString(home().resolve("share/doc/keenfold/SHA256SUMS")))
                .contains("  bin/keenfold\n", "  lib/keenfold/keenfold.jar\n", "  share/man/man1/keenfold-run.1\n");
        var components = new ObjectMapper()
                .readTree(home().resolve("share/doc/keenfold/components.json").toFile());
        assertThat(components.get("bomFormat").asText()).isEqualTo("CycloneDX");
        List<String> names = components.findValuesAsText("name");
        assertThat(names).contains("sqlite-jdbc", "picocli", "fastcsv").doesNotContain("jline-native", "junit-jupiter");
        try (ZipFile jar =
                new ZipFile(home().resolve("lib/keenfold/keenfold.jar").toFile())) {
            List<String> entries = jar.stream().map(ZipEntry::getName).toList();
            assertThat(entries)
                    .contains(
                            "META-INF/licences/Apache-2.0.txt",
                            "META-INF/licences/BSD.txt",
                            "META-INF/licences/LGPL-2.1.txt",
                            "META-INF/licences/MIT.txt")
                    .noneMatch(e -> e.matches("org/jline/.*[^/]") && !e.startsWith("org/jline/utils/WCWidth"));
            assertThat(entries.stream()
                            .filter(e -> e.matches("org/sqlite/native/.*sqlitejdbc.*"))
                            .map(e -> e.replaceAll("org/sqlite/native/(.*)/.*", "$1")))
                    .containsExactlyInAnyOrder(
                            "Linux/x86_64",
                            "Linux/aarch64",
                            "Linux-Musl/x86_64",
                            "Linux-Musl/aarch64",
                            "Mac/x86_64",
                            "Mac/aarch64",
                            "Windows/x86_64",
                            "Windows/aarch64");
        }
    }

    /** What the archive leaves out of its libraries, the progress bar does not miss. */
    @Test
    void aRunShowsItsBarOnATerminal() throws Exception {
        Path there = Files.createDirectories(folder.resolve("elsewhere"));
        Files.writeString(
                there.resolve("bar.yaml"),
                "keenfold: 1\ndata: [{file: '" + Program.DEMO.resolve("swarm.csv") + "', target: swarmed}]\n"
                        + "splits: {folds: 2, repeats: 2}\nseed: 1\ncandidates: {g: {classifier: majority}}\n");
        Ended run = run(
                Map.of("KEENFOLD_TERMINAL_ERR", "1"),
                home().resolve("bin/keenfold").toString(),
                "run",
                "bar.yaml",
                "-o",
                "bar.kfl");
        assertThat(run.code).as(run.err).isZero();
        assertThat(run.err).contains("fitted 100% [=").contains("4/4 units");
    }

    /** Names of files are opened whatever the locale; figures in the terminal are then drawn with what it shows. */
    @Test
    void aNameWithOtherLettersIsOpenedInTheLocaleC() throws Exception {
        String survey =
                shell("cp '" + Program.DEMO.resolve("swarm.csv") + "' \"$(printf 'st\\303\\266cke.csv')\" && LC_ALL=C '"
                        + home().resolve("bin/keenfold") + "' survey \"$(printf 'st\\303\\266cke.csv')\" --quiet");
        assertThat(survey).startsWith("st\u00F6cke.csv: 96 rows").contains("queen_age");
    }

    @Test
    void itSaysWhatIsMissing() throws Exception {
        Ended none = run(
                Map.of("JAVA_HOME", "/nowhere"), home().resolve("bin/keenfold").toString(), "--version");
        assertThat(none.code).isEqualTo(3);
        assertThat(none.err).contains("there is no Java here", "17 or newer");
    }

    private static String page(String name) throws IOException {
        return Files.readString(home().resolve("share/man/man1/" + name + ".1"), StandardCharsets.UTF_8)
                .replace("\\-", "-");
    }

    @Test
    void eachCommandHasAPageWithAllOfItsOptions() throws Exception {
        String overview = page("keenfold");
        for (String command : Keenfold.names()) {
            assertThat(overview).contains("keenfold-" + command + " (1)");
            String page = page("keenfold-" + command);
            assertThat(page).contains(".SH NAME\nkeenfold-" + command + " - ").contains(".SH SYNOPSIS", ".SH OPTIONS");
            Keenfold.commandLine(new Console(System.out, System.err), command)
                    .getSubcommands()
                    .get(command)
                    .getCommandSpec()
                    .options()
                    .forEach(o -> assertThat(page).contains(String.join(", ", o.names())));
        }
        if (run(Map.of(), "sh", "-c", "command -v groff").code == 0) {
            assertThat(shell("groff -man -Tutf8 -ww -P-c -P-b -P-u "
                            + home().resolve("share/man/man1/keenfold-predict.1") + " 2>&1"))
                    .contains("PREDICT", "OPTIONS")
                    .doesNotContain("warning");
        }
    }

    private static List<String> completed(String... words) throws Exception {
        String last = Arrays.stream(words).map(w -> "'" + w + "'").collect(Collectors.joining(" "));
        return List.of(shell("compopt() { :; }; source " + home().resolve("share/bash-completion/completions/keenfold")
                        + "; COMP_WORDS=(" + last + "); COMP_CWORD=" + (words.length - 1)
                        + "; _complete_keenfold; printf '%s\\n' \"${COMPREPLY[@]}\"")
                .strip()
                .split("\n", -1));
    }

    @Test
    void shellsComplete() throws Exception {
        assertThat(completed("keenfold", "pre")).containsExactly("predict");
        assertThat(new TreeSet<>(completed("keenfold", ""))).containsAll(Keenfold.names());
        assertThat(completed("keenfold", "export", "--what", "pm")).containsExactly("pmml");
        assertThat(completed("keenfold", "train", "--ru")).containsExactly("--rule");
        String zsh = Files.readString(home().resolve("share/zsh/site-functions/_keenfold"));
        assertThat(zsh).startsWith("#compdef keenfold\n");
        List<String> cases = new ArrayList<>();
        zsh.lines()
                .filter(l -> l.matches(" {4}[a-z]+\\)"))
                .forEach(l -> cases.add(l.strip().replace(")", "")));
        assertThat(cases).containsExactlyElementsOf(Keenfold.names());
        if (run(Map.of(), "sh", "-c", "command -v zsh").code == 0) {
            shell("zsh -n " + home().resolve("share/zsh/site-functions/_keenfold"));
        }
    }

    /** The list names every library, and each licence that it names is there as text. */
    @Test
    void licencesAreThere() throws Exception {
        Path licences = home().resolve("share/doc/keenfold/licences");
        List<String> listed = Files.readAllLines(licences.resolve("THIRD-PARTY.txt")).stream()
                .filter(l -> l.contains(" - http"))
                .toList();
        assertThat(listed).hasSizeGreaterThan(15);
        Map<String, String> texts =
                Map.of("Apache", "Apache-2.0.txt", "MIT", "MIT.txt", "Lesser", "LGPL-2.1.txt", "BSD", "BSD.txt");
        for (String library : listed) {
            String kind = texts.keySet().stream()
                    .filter(library::contains)
                    .findFirst()
                    .orElseThrow();
            assertThat(licences.resolve(texts.get(kind))).as(library).isNotEmptyFile();
        }
        assertThat(licences.resolve("sqlite-jdbc")).isDirectory();
        assertThat(licences.resolve("DejaVuSans-LICENCE.txt")).isNotEmptyFile();
        assertThat(home().resolve("share/doc/keenfold/guide.md")).isNotEmptyFile();
    }
}
