package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import keenfold.io.ledger.LedgerForger;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * What SECURITY.md promises, for every command and every kind of file that may come from somebody else: no program is
 * started, nothing is written but what the command line names, and nothing is shown that a terminal would obey.
 */
class ForeignFilesIT {
    private static final String EVIL = "\u001B]0;owned\u0007\u001B[2J\u202Eevil\u200B";

    @TempDir
    private static Path folder;

    private static Program program() {
        return new Program(folder);
    }

    @BeforeAll
    static void makeFiles() throws Exception {
        String rows = IntStream.range(0, 40)
                .mapToObj(i -> i * 7 % 11 + ",=" + EVIL + i % 3 + "," + (i * 7 % 11 > 5 ? "yes" : "no" + EVIL))
                .collect(Collectors.joining("\n"));
        Files.writeString(folder.resolve("evil.csv"), "mites,ra" + EVIL + "ce,lost\n" + rows + "\n");
        Files.writeString(folder.resolve("mark.sh"), "touch '" + folder.resolve("marker") + "'; exit 3\n");
        String plan =
                """
                keenfold: 1
                note: "%s"
                data: [{file: evil.csv, target: lost, positive: yes}]
                splits: {folds: 2, repeats: 2}
                seed: 1
                metrics: [accuracy, log-loss]
                candidates:
                  guess: {classifier: majority}
                  bush: {classifier: tree, depth: 2}
                """
                        .formatted("\\e]0;owned\\a\\e[2J\\u202Eevil");
        Files.writeString(folder.resolve("evil.yaml"), plan);
        String programs = plan
                + "  mine: {classifier: command, run: [sh, mark.sh]}\n"
                + "  both: {classifier: vote, members: [bush, mine]}\n"
                + "  piled: {classifier: stack, members: [bush, both]}\n";
        Files.writeString(folder.resolve("programs.yaml"), programs);
        program().run("run", "evil.yaml", "-o", "evil.kfl").expect(0);
        // The ledger of somebody whose programs worked: their fits are those of the tree.
        program().run("run", "programs.yaml", "-o", "programs.kfl", "--allow-commands");
        Files.delete(folder.resolve("marker"));
        LedgerForger.forge(folder.resolve("programs.kfl"), "DELETE FROM fit WHERE status = 'failed'");
        program()
                .run("train", "evil.kfl", "--candidate", "bush", "-o", "good.kfm")
                .expect(0);
        byte[] model = Files.readAllBytes(folder.resolve("good.kfm"));
        try (var in = new GZIPInputStream(new ByteArrayInputStream(model));
                var bytes = new ByteArrayOutputStream()) {
            String json = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            try (var out = new GZIPOutputStream(bytes)) {
                out.write(json.replace(
                                "\"candidate\":\"bush\"",
                                "\"candidate\":\"\\u001b[2Jbush\\u202e\\n\\nnotice: all is well\"")
                        .getBytes(StandardCharsets.UTF_8));
            }
            Files.write(folder.resolve("evil.kfm"), bytes.toByteArray());
        }
        program()
                .run("export", "evil.kfl", "--what", "predictions", "-o", "evil-predictions.csv")
                .expect(0);
        program()
                .run("export", "evil.kfl", "--what", "scores", "-o", "evil-scores.csv")
                .expect(0);
    }

    private static List<String> command(String words) {
        return List.of(words.split(" "));
    }

    /** Commands, with the files that they may make. */
    static Stream<List<List<String>>> commands() {
        return Stream.of(
                        "survey evil.csv --target lost >",
                        "draft evil.csv --target lost -o new.yaml > new.yaml",
                        "compare evil.csv --target lost --folds 2 --repeats 1 --seed 1 --try majority --try tree -o new.kfl >"
                                + " new.kfl",
                        "predict good.kfm evil.csv -o new.csv > new.csv",
                        "adopt evil-predictions.csv -o new.kfl > new.kfl",
                        "adopt evil-scores.csv -o new.kfl > new.kfl",
                        "folds evil.yaml >",
                        "folds programs.yaml --repeat 1 --fold 1 >",
                        "run evil.yaml -o new.kfl > new.kfl",
                        "run programs.yaml -o new.kfl >",
                        "scatter programs.yaml --shards 2 -o new >",
                        "train evil.yaml --candidate bush -o new.kfm > new.kfm",
                        "train programs.yaml --candidate mine -o new.kfm >",
                        "train programs.yaml --candidate both -o new.kfm >",
                        "train programs.yaml --candidate piled -o new.kfm >",
                        "scores evil.kfl >",
                        "scores evil.kfl --by class >",
                        "scores evil.kfl --confusion >",
                        "scores programs.kfl --by column >",
                        "contrast evil.kfl >",
                        "contrast evil.kfl --by class --metric recall >",
                        "pick evil.kfl >",
                        "report programs.kfl --columns -o new --draws 200 > new",
                        "draw evil.kfl --figure confusion >",
                        "draw programs.kfl --figure columns >",
                        "draw programs.kfl --figure columns --candidate both >",
                        "draw programs.kfl --figure columns --candidate piled -o new.svg >",
                        "export programs.kfl --what fits -o new.csv > new.csv",
                        "export programs.kfl --what plan -o new.yaml > new.yaml",
                        "train programs.kfl --candidate mine -o new.kfm >",
                        "train programs.kfl --candidate both -o new.kfm >",
                        "train programs.kfl --candidate piled -o new.kfm >",
                        "train evil.kfl -o new.kfm > new.kfm",
                        "merge programs.kfl -o new.kfl > new.kfl",
                        "show evil.kfm >",
                        "show evil.kfm --figure new.svg > new.svg",
                        "export evil.kfm --what pmml -o new.xml >",
                        "export good.kfm --what pmml -o new.xml >",
                        "predict evil.kfm evil.csv -o new.csv > new.csv")
                .map(line -> line.split(" *> *", -1))
                .map(parts -> List.of(command(parts[0]), parts[1].isEmpty() ? List.<String>of() : command(parts[1])));
    }

    private static Set<String> names() {
        return new TreeSet<>(
                Set.of(java.util.Objects.requireNonNull(folder.toFile().list())));
    }

    @ParameterizedTest
    @MethodSource("commands")
    void nothingIsStartedNothingElseIsWrittenAndNothingIsObeyed(List<List<String>> one) throws Exception {
        Set<String> before = names();
        Program.Outcome outcome = program().run(one.get(0).toArray(String[]::new));
        Set<String> made = names();
        made.removeAll(before);
        assertThat(folder.resolve("marker")).as("a program was started").doesNotExist();
        assertThat(outcome.code()).as(outcome.err()).isIn(0, 3, 4);
        assertThat(made).as(outcome.err()).isEqualTo(Set.copyOf(one.get(1)));
        for (String text : List.of(outcome.out(), outcome.err())) {
            assertThat(text.codePoints()
                            .filter(c -> c != '\n'
                                    && (Character.isISOControl(c) || Character.getType(c) == Character.FORMAT))
                            .mapToObj(Integer::toHexString))
                    .as(text)
                    .isEmpty();
            assertThat(text.lines()).as("a line of the stranger's").noneMatch(l -> l.startsWith("notice: all is well"));
        }
        for (String name : made) {
            delete(folder.resolve(name));
        }
    }

    private static void delete(Path path) throws IOException {
        try (Stream<Path> all = Files.walk(path)) {
            for (Path each : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
                Files.delete(each);
            }
        }
    }

    /** The name of a database is a name: it switches nothing on, in a plan, on the command line or as an output. */
    @Test
    void optionsInTheNameOfADatabaseAreNone() throws Exception {
        Path odd = folder.resolve("names");
        Files.createDirectory(odd);
        Program there = new Program(odd);
        String name = "c.db?enable_load_extension=true";
        Files.copy(folder.resolve("evil.kfl"), odd.resolve(name));
        String query = name + "#select 1 as x, load_extension('./c') as lost";
        Files.writeString(
                odd.resolve("p.yaml"),
                "keenfold: 1\ndata: [{file: \"" + query
                        + "\", target: lost}]\ncandidates: {g: {classifier: majority}}\n");
        for (String[] command :
                new String[][] {{"folds", "p.yaml"}, {"survey", query}, {"run", "p.yaml", "-o", "l.kfl"}}) {
            assertThat(there.run(command).expect(3).said())
                    .contains("the database cannot be read")
                    .contains("not authorized");
        }
        there.run("merge", "../evil.kfl", "-o", "a.kfl?synchronous=OFF").expect(0);
        assertThat(there.run("scores", "a.kfl?synchronous=OFF").expect(0).out()).contains("guess");
        assertThat(odd.resolve("a.kfl")).doesNotExist();
    }

    /** A view that never ends is met, in a table that is named and in one that is found. */
    @Test
    void aTableWithoutEndEnds() throws Exception {
        Path file = folder.resolve("endless.db");
        try (var connection = keenfold.io.sqlite.SqliteFile.open(file, keenfold.io.sqlite.SqliteFile.Access.WRITE);
                var statement = connection.createStatement()) {
            statement.execute("CREATE VIEW v AS WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c)"
                    + " SELECT x, count(*) AS lost FROM c");
        }
        assertThat(program().run("survey", "endless.db#v").expect(3).said())
                .contains("does far more work than a file of this size holds data");
        assertThat(program().run("survey", "endless.db").expect(3).said()).contains("and may have no end");
        Files.delete(file);
    }
}
