package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import keenfold.io.ledger.LedgerForger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Slips of the hand, through the built program: they cost a message, and neither data nor a day's work. */
class SlipIT {
    @TempDir
    private Path folder;

    @BeforeEach
    void makeTable() throws IOException {
        Files.writeString(folder.resolve("g.csv"), table(40));
    }

    private static String table(int rows) {
        return "mites,race,lost\n"
                + IntStream.range(0, rows)
                        .mapToObj(i -> i * 7 % 11 + "," + (i % 3 == 0 ? "dark" : "buckfast") + ","
                                + (i * 7 % 11 > 5 ? "yes" : "no") + "\n")
                        .collect(Collectors.joining());
    }

    private Program.Outcome run(String words) throws Exception {
        return new Program(folder).run(words.split(" "));
    }

    private Program.Outcome compare(String... more) throws Exception {
        List<String> words = Stream.concat(
                        Stream.of("compare"),
                        Stream.concat(
                                Arrays.stream(more),
                                Stream.of(
                                        "--target lost --folds 2 --repeats 1 --seed 1 --try majority --try tree --quiet"
                                                .split(" "))))
                .toList();
        return new Program(folder).run(words.toArray(String[]::new));
    }

    @Test
    void aCommaInTheNameOfAFileLosesNothing() throws Exception {
        Files.copy(folder.resolve("g.csv"), folder.resolve("colonies, 2026.csv"));
        Program program = new Program(folder);
        assertThat(program.run(
                                "compare",
                                "colonies, 2026.csv",
                                "--target",
                                "lost",
                                "--folds",
                                "2",
                                "--repeats",
                                "1",
                                "--try",
                                "majority")
                        .expect(0)
                        .said())
                .contains(
                        "the data set of colonies, 2026.csv is called \"colonies-2026\", since a name holds no comma");
        program.run("scores", "colonies-2026.kfl").expect(0);
        program.run("draft", "colonies, 2026.csv", "--target", "lost", "-o", "d.yaml")
                .expect(0);
        program.run("folds", "d.yaml").expect(0);
        program.run("export", "colonies-2026.kfl", "--what", "predictions", "-o", "p, 1.csv")
                .expect(0);
        program.run("adopt", "p, 1.csv", "-o", "adopted.kfl").expect(0);
        program.run("scores", "adopted.kfl").expect(0);
        Files.writeString(
                folder.resolve("q.csv"),
                Files.readString(folder.resolve("p, 1.csv")).replace("colonies-2026,", "\"a, b\","));
        assertThat(program.run("adopt", "q.csv", "-o", "q.kfl").expect(3).said())
                .contains("q.csv: column \"dataset\": name \"a, b\": a name holds no slash, comma");
        assertThat(folder.resolve("q.kfl")).doesNotExist();
        // As an earlier version made it.
        Path old = folder.resolve("colonies-2026.kfl");
        LedgerForger.forgeHead(
                old, "UPDATE plan SET yaml = replace(yaml, 'name: colonies-2026', 'name: \"colonies, 2026\"')");
        LedgerForger.forgeHead(old, "UPDATE dataset SET name = 'colonies, 2026'");
        for (String command : List.of("scores", "pick")) {
            assertThat(program.run(command, "colonies-2026.kfl").expect(0).out())
                    .contains("colonies, 2026");
        }
        program.run("train", "colonies-2026.kfl", "-o", "old.kfm").expect(0);
        program.run("predict", "old.kfm", "g.csv", "-o", "old.csv").expect(0);
    }

    @Test
    void noCommandWritesToWhatItReads() throws Exception {
        compare("g.csv", "-o", "l.kfl").expect(0);
        run("train l.kfl -o m.kfm --quiet").expect(0);
        Files.createSymbolicLink(folder.resolve("link.kfl"), Path.of("l.kfl"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                "keenfold: 1\ndata: [{file: g.csv, target: lost}]\n"
                        + "splits: {folds: 2, repeats: 1}\nseed: 1\ncandidates: {g: {classifier: majority}}\n");
        Files.copy(folder.resolve("g.csv"), folder.resolve("other.csv"));
        for (String words : List.of(
                "export l.kfl --what scores -o l.kfl",
                "export l.kfl --what scores -o ./link.kfl --force",
                "draw l.kfl --figure means -o l.svg.kfl/../l.kfl",
                "export m.kfm --what pmml -o m.kfm --force",
                "predict m.kfm g.csv -o g.csv",
                "predict m.kfm g.csv -o m.kfm --force",
                "train l.kfl -o g.csv --force",
                "train l.kfl -o l.kfl --force",
                "folds plan.yaml -o g.csv --force",
                "folds plan.yaml -o plan.yaml --force",
                "run plan.yaml -o plan.yaml",
                "run plan.yaml -o g.csv",
                "run plan.yaml -o n.kfl --status g.csv",
                "adopt g.csv -o g.csv",
                "compare g.csv --target lost --save-plan g.csv --force",
                "compare g.csv --target lost -o g.csv",
                // Not read, but the user's all the same.
                "export l.kfl --what scores -o other.csv",
                "train l.kfl -o other.csv",
                "predict m.kfm g.csv -o other.csv",
                "folds plan.yaml -o other.csv",
                "run plan.yaml -o other.csv",
                "run plan.yaml -o n.kfl --status other.csv",
                "compare g.csv --target lost --save-plan other.csv",
                "compare g.csv --target lost -o other.csv",
                "predict m.kfm g.csv -o l.kfl --force")) {
            byte[][] before = contents();
            Program.Outcome outcome = run(words);
            assertThat(outcome.code()).as(words + "\n" + outcome.err()).isIn(2, 3);
            assertThat(contents()).as(words).isDeepEqualTo(before);
        }
        run("export l.kfl --what scores -o other.csv --force").expect(0);
        run("export l.kfl --what folds -o other.csv").expect(0);
        assertThat(Files.readString(folder.resolve("other.csv"))).startsWith("dataset,row,repeat,fold\n");
    }

    private byte[][] contents() throws IOException {
        byte[][] contents = new byte[5][];
        int i = 0;
        for (String name : List.of("g.csv", "l.kfl", "m.kfm", "plan.yaml", "other.csv")) {
            contents[i++] = Files.readAllBytes(folder.resolve(name));
        }
        return contents;
    }

    @Test
    void aFolderOfTheUsersIsNotWrittenInto() throws Exception {
        compare("g.csv", "-o", "l.kfl").expect(0);
        Files.createDirectories(folder.resolve("figures"));
        Files.createDirectories(folder.resolve("tables"));
        Files.writeString(folder.resolve("tables/scores.csv"), "hive,score\n1,2\n");
        assertThat(run("report l.kfl -o .").expect(3).said())
                .contains("is there already and holds what no report made (scores.csv)");
        assertThat(folder.resolve("tables/scores.csv")).hasContent("hive,score\n1,2\n");
        Files.writeString(folder.resolve("report.html"), "mine");
        assertThat(run("report l.kfl -o . --page-only").expect(3).said()).contains("and is not a report of Keen Fold");
        assertThat(folder.resolve("report.html")).hasContent("mine");
        run("report l.kfl -o new --draws 200 --page-only").expect(0);
        run("report l.kfl -o new --draws 200 --page-only").expect(0);
        Files.writeString(
                folder.resolve("plan.yaml"),
                "keenfold: 1\ndata: [{file: g.csv, target: lost}]\n" + "candidates: {g: {classifier: majority}}\n");
        assertThat(run("scatter plan.yaml --shards 2 -o figures/..").expect(3).said())
                .contains("name another folder");
        Files.delete(folder.resolve("plan.yaml"));
    }

    /** The page is written last: what a report leaves that was killed before is completed by the next one. */
    @Test
    void anInterruptedReportIsCompleted() throws Exception {
        compare("g.csv", "-o", "l.kfl").expect(0);
        run("report l.kfl -o half --draws 200").expect(0);
        Path page = folder.resolve("half/report.html");
        byte[] whole = Files.readAllBytes(page);
        Files.delete(page);
        Files.createFile(folder.resolve("half/tables/.scores.csv.0123456789abcdef.part"));
        run("report l.kfl -o half --draws 200").expect(0);
        assertThat(page).hasBinaryContent(whole);
    }

    /** The plan that a ledger keeps names its data as they are found from where it stands. */
    @Test
    void dataAreFoundFromTheLedgersFolder() throws Exception {
        Files.createDirectories(folder.resolve("d/deep"));
        Files.move(folder.resolve("g.csv"), folder.resolve("d/g.csv"));
        for (String ledger : List.of("d/x.kfl", "d/deep/y.kfl", "z.kfl")) {
            compare("d/g.csv", "-o", ledger).expect(0);
            run("train " + ledger + " -o m-" + ledger.replace('/', '-') + ".kfm")
                    .expect(0);
            compare("d/g.csv", "-o", ledger).expect(0);
        }
        new Program(folder.resolve("d")).run("train", "x.kfl", "-o", "m.kfm").expect(0);
    }

    @Test
    void whatIsNoFileOfItsKindIsSaidSo() throws Exception {
        Path whole = folder.resolve("whole.csv.gz");
        try (GZIPOutputStream out = new GZIPOutputStream(Files.newOutputStream(whole))) {
            out.write(table(4000).getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        byte[] packed = Files.readAllBytes(whole);
        Files.write(folder.resolve("cut.csv.gz"), Arrays.copyOf(packed, packed.length / 2));
        assertThat(run("survey cut.csv.gz").expect(3).said())
                .contains("cut.csv.gz: cannot be read: it ends too early: its compressed data are cut short");
        assertThat(run("scores .").expect(3).said()).contains(".: is a folder: expected a ledger");
        assertThat(run("run g.csv -o x.kfl").expect(3).said())
                .contains("g.csv: is no plan: a plan is YAML that begins with \"keenfold: 1\"");
        assertThat(new ProcessBuilder("mkfifo", folder.resolve("pipe").toString())
                        .start()
                        .waitFor())
                .isZero();
        for (String words :
                List.of("survey pipe", "scores pipe", "show pipe", "run pipe -o x.kfl", "adopt pipe -o x.kfl")) {
            assertThat(run(words).expect(3).said()).as(words).contains("pipe: is a pipe or a device");
        }
        assertThat(run("survey pipe").said()).contains("standard input, which is named -");
    }

    /** What is done is said when it takes longer than a second; what has no end is refused before. */
    @Test
    void aLongSilenceIsBroken() throws Exception {
        // A table that does not come: it is handed over once the waiting was said.
        Path said = folder.resolve("said");
        Process waiting = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-cp",
                        System.getProperty("keenfold.jar"),
                        "keenfold.cli.Main",
                        "survey",
                        "-")
                .directory(folder.toFile())
                .redirectOutput(folder.resolve("shown").toFile())
                .redirectError(said.toFile())
                .start();
        Until.holds("that it waits is said", () -> Files.readString(said).matches("(?s)reading .*: \\d+ s\\R.*"));
        try (OutputStream table = waiting.getOutputStream()) {
            table.write("a,b\n1,2\n".getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        assertThat(Until.ended(waiting)).isTrue();
        assertThat(waiting.exitValue()).isZero();
        Files.writeString(
                folder.resolve("wide.csv"),
                "name,x,lost\n"
                        + IntStream.range(0, 30_000)
                                .mapToObj(i ->
                                        "n" + i * 7919 % 29_000 + "," + i % 13 + "," + (i % 2 == 0 ? "yes\n" : "no\n"))
                                .collect(Collectors.joining()));
        Program small = new Program(folder)
                .with(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        List.of("-Xmx600m", "-XX:+UseSerialGC"));
        String[] words =
                "compare wide.csv --target lost --folds 2 --repeats 1 --try naive-bayes --try logistic --seed 1"
                        .split(" ");
        assertThat(small.run(words).expect(3).said())
                .contains(
                        "wide, column \"name\": has 29000 levels, each of which becomes a column for \"logistic\": 7.0 GB")
                .contains("--leave-out 'name'");
        assertThat(folder.resolve("wide.kfl")).doesNotExist();
    }

    /** A run that SIGTERM ends leaves nothing of the rows behind, and programs of the user's end with it. */
    @Test
    void afterASignalNothingOfTheRowsStays() throws Exception {
        Path temporary = Files.createDirectory(folder.resolve("tmp"));
        Files.writeString(folder.resolve("slow.sh"), "sleep 300\n");
        Files.writeString(
                folder.resolve("plan.yaml"),
                "keenfold: 1\ndata: [{file: \"-\", name: piped, target: lost}]\nsplits: {folds: 2, repeats: 1}\nseed: 1\n"
                        + "candidates: {mine: {classifier: command, run: [sh, slow.sh]}}\n");
        Process process = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-Djava.io.tmpdir=" + temporary,
                        "-cp",
                        System.getProperty("keenfold.jar"),
                        "keenfold.cli.Main",
                        "run",
                        "plan.yaml",
                        "-o",
                        "l.kfl",
                        "--allow-commands")
                .directory(folder.toFile())
                .redirectInput(folder.resolve("g.csv").toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("out").toFile())
                .start();
        try {
            Until.holds("three files of rows", () -> holding(temporary).size() >= 3);
            process.destroy();
            assertThat(Until.ended(process)).isTrue();
            assertThat(process.exitValue()).isEqualTo(143);
        } finally {
            process.destroyForcibly();
        }
        assertThat(holding(temporary)).isEmpty();
        assertThat(temporary.toFile().list()).noneMatch(name -> name.startsWith("keenfold"));
    }

    /** The files below a folder that hold rows of the table. */
    private static List<Path> holding(Path of) throws IOException {
        try (Stream<Path> all = Files.walk(of)) {
            return all.filter(p -> {
                        try {
                            return Files.isRegularFile(p)
                                    && Files.size(p) < 100_000
                                    && Files.readString(p, java.nio.charset.StandardCharsets.ISO_8859_1)
                                            .contains("buckfast");
                        } catch (IOException e) {
                            return false;
                        }
                    })
                    .toList();
        } catch (java.io.UncheckedIOException e) {
            return List.of();
        }
    }

    @Test
    void aSpreadsheetStartsNoFormula() throws Exception {
        Files.writeString(
                folder.resolve("f.csv"),
                Files.readString(folder.resolve("g.csv")).replace("yes", "=SUM(A1:A9)"));
        compare("f.csv", "-o", "f.kfl").expect(0);
        assertThat(run("export f.kfl --what predictions").expect(0).out()).contains(",=SUM(A1:A9),");
        assertThat(run("export f.kfl --what predictions --for spreadsheet")
                        .expect(0)
                        .out())
                .contains(",'=SUM(A1:A9),")
                .doesNotContain(",=SUM(A1:A9),");
        run("train f.kfl -o f.kfm --quiet").expect(0);
        assertThat(run("predict f.kfm f.csv --with-columns --for spreadsheet --quiet")
                        .expect(0)
                        .out())
                .contains(",'=SUM(A1:A9)\n");
        assertThat(run("export f.kfl --what plan --for spreadsheet").expect(2).said())
                .contains("plan is no table");
    }
}
