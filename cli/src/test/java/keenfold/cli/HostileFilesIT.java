package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import keenfold.io.sqlite.NativeLibrary;
import keenfold.io.sqlite.SqliteFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Files as they come, through the built program: each odd one is refused or noticed, with its place. */
class HostileFilesIT {
    static {
        // The same copy as the program's: a process that loads two of them can end at once.
        NativeLibrary.load();
    }

    @TempDir
    private static Path folder;

    private static byte[] utf8(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    /** Forty good rows, into which a row, or a value, is put at line 22. */
    private static String good(String line22) {
        return "mites,race,lost\n"
                + IntStream.range(0, 20).mapToObj(i -> i + ".5,dark,no\n").collect(Collectors.joining())
                + line22
                + IntStream.range(0, 20).mapToObj(i -> i + ".25,buckfast,yes\n").collect(Collectors.joining());
    }

    private static Arguments file(String kind, byte[] content, int code, String... said) {
        return Arguments.of(kind, content, code, List.of(said));
    }

    static Stream<Arguments> files() {
        List<Arguments> files = new ArrayList<>();
        files.add(file("ragged", utf8(good("1,dark\n")), 3, "x.csv, line 22: 2 fields: expected 3"));
        files.add(file("doubled-name", utf8("a,b,a\n1,2,3\n"), 3, "x.csv, line 1: two columns are called \"a\""));
        files.add(file("blank-name", utf8("a,,c\n1,2,3\n"), 3, "x.csv, line 1: column 2 has no name"));
        files.add(file(
                "latin-1",
                good("1,dünkel,no\n").getBytes(StandardCharsets.ISO_8859_1),
                3,
                "x.csv, line 22: not valid UTF-8",
                "--encoding"));
        files.add(file("utf-16", good("").getBytes(Charset.forName("UTF-16")), 3, "x.csv, line 1: the file is UTF-16"));
        files.add(file("nul", utf8(good("1,da\0rk,no\n")), 3, "x.csv, line 22, column \"race\"", "NUL"));
        files.add(file(
                "open-quote",
                utf8(good("1,dark,\"no\n")),
                3,
                "x.csv, line 22: a quotation mark is opened in this line"));
        files.add(file(
                "open-quote-within", utf8(good("1,\"dark,no\n")), 3, "x.csv, line 22: 2 fields", "quotation marks"));
        files.add(file(
                "huge-field",
                utf8(good("1," + "z".repeat(20_000) + ",no\n")),
                0,
                "x.csv, line 22",
                "20000 characters"));
        files.add(file(
                "vast-field",
                utf8(good("1,\"" + "z".repeat(20_000_000) + "\",no\n")),
                3,
                "x.csv, in or after line 22: a field cannot be read"));
        files.add(file(
                "many-columns",
                utf8(IntStream.range(0, 3000).mapToObj(i -> "c" + i).collect(Collectors.joining(",")) + ",lost\n"
                        + ("1,".repeat(3000) + "no\n" + "2,".repeat(3000) + "yes\n").repeat(10)),
                0,
                "x.csv, line 1: 3001 columns"));
        files.add(file(
                "thousands",
                utf8("mites,race,lost\n"
                        + IntStream.range(10, 50)
                                .mapToObj(i -> "\"1,0" + i + "\",dark," + (i % 2 == 0 ? "no\n" : "yes\n"))
                                .collect(Collectors.joining())),
                3,
                "x.csv, line 2, column \"mites\"",
                "not plainly written"));
        files.add(file(
                "decimal-comma",
                utf8(good("").replace(',', ';').replace('.', ',')),
                3,
                "x.csv, line 2, column \"mites\"",
                "--decimal"));
        for (String java : List.of("1d", "0x1p3", "1_000", "1f", "Infinity", "-inf")) {
            files.add(file(
                    "only-java-" + java,
                    utf8(good(java + ",dark,no\n")),
                    0,
                    "x.csv, line 22, column \"mites\": \"" + java + "\" is a word among 40 numbers"));
        }
        files.add(file("overflow", utf8(good("1e999,dark,no\n")), 3, "x.csv, line 22, column \"mites\"", "too large"));
        files.add(file(
                "mixed-ends",
                utf8(good("1,dark,no\r\n")),
                0,
                "x.csv, line 22: ends otherwise than the lines before it"));
        files.add(file(
                "stray-word",
                utf8(good("many,dark,no\n")),
                0,
                "x.csv, line 22, column \"mites\": \"many\" is a word among 40 numbers, so that the column is read as"
                        + " categories"));
        files.add(file(
                "formula",
                utf8(good("1,=SUM(A1:A9),no\n")),
                0,
                "x.csv, line 22, column \"race\"",
                "looks like a formula"));
        files.add(file(
                "markup",
                utf8(good("1,<script>alert(1)</script>,no\n")),
                0,
                "x.csv, line 22, column \"race\"",
                "holds markup"));
        files.add(file("escape", utf8(good("1,\u001B[2Jdark,no\n")), 0, "x.csv, line 22", "control characters"));
        files.add(file(
                "lines-in-field", utf8(good("1,\"da\nrk\",no\n")), 0, "x.csv, line 22", "goes over several lines"));
        files.add(file("empty", utf8(""), 3, "x.csv: the file is empty"));
        files.add(file("zip", utf8("PK\u0003\u0004rest"), 3, "x.csv: is a ZIP archive or a spreadsheet"));
        files.add(file("json-list", utf8("[{\"a\": 1}]"), 3, "x.csv, line 1: a JSON list"));
        files.add(file("json-nested", utf8("{\"a\": 1}\n{\"a\": [2]}\n"), 3, "x.csv, line 2, column \"a\"", "spread"));
        files.add(
                file("json-broken", utf8("{\"a\": 1}\n{\"a\": }\n"), 3, "x.csv, line 2, character 7: not valid JSON"));
        files.add(file("json-doubled", utf8("{\"a\": 1, \"a\": 2}\n"), 3, "x.csv, line 1, character", "Duplicate"));
        files.add(file("parquet", utf8("PAR1rest"), 3, "x.csv: is a Parquet file", "docs/parquet.md"));
        return files.stream();
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("files")
    void anOddFileIsRefusedOrNoticedWithItsPlace(String kind, byte[] content, int code, List<String> said)
            throws Exception {
        Files.write(folder.resolve("x.csv"), content);
        Program.Outcome outcome = new Program(folder)
                .run(
                        "compare",
                        "x.csv",
                        "--target",
                        "lost",
                        "--folds",
                        "2",
                        "--repeats",
                        "1",
                        "--try",
                        "majority",
                        "-o",
                        kind + ".kfl")
                .expect(code);
        said.forEach(s -> assertThat(outcome.said()).contains(s));
        assertThat(outcome.out() + outcome.err()).doesNotContain("\u001B");
        // A look at the same file never fails for what a column holds, and shows where.
        if (code == 0) {
            assertThat(new Program(folder).run("survey", "x.csv").expect(0).said())
                    .contains(said.get(0));
        }
    }

    @Test
    void theSameTableInEveryFormatGivesTheSameSurvey() throws Exception {
        String csv = good("7,\"say \"\"hi\"\"\",\n-1e-3,,yes\n");
        Files.writeString(folder.resolve("same.csv"), csv);
        Files.writeString(folder.resolve("semi.csv"), csv.replace(',', ';').replace('.', ','));
        Files.writeString(folder.resolve("tab.tsv"), csv.replace(',', '\t'));
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(packed)) {
            gzip.write(utf8(csv));
        }
        Files.write(folder.resolve("same.csv.gz"), packed.toByteArray());
        StringBuilder json = new StringBuilder();
        try (Connection db = SqliteFile.open(folder.resolve("same.db"), SqliteFile.Access.WRITE);
                Statement sql = db.createStatement()) {
            sql.execute("CREATE TABLE colonies (mites REAL, race TEXT, lost TEXT)");
            sql.execute("CREATE TABLE other (x)");
            for (String line : csv.lines().skip(1).toList()) {
                String[] v = line.replace("\"say \"\"hi\"\"\"", "say 'hi'").split(",", -1);
                json.append("{\"mites\": ").append(v[0].startsWith("-") ? "-0.001" : v[0]);
                json.append(v[1].isEmpty() ? "" : ", \"race\": \"" + v[1].replace("'", "\\\"") + "\"");
                json.append(", \"lost\": ")
                        .append(v[2].isEmpty() ? "null" : "\"" + v[2] + "\"")
                        .append("}\n");
                String race = v[1].isEmpty() ? "NULL" : "'" + v[1].replace("'", "\"") + "'";
                sql.execute("INSERT INTO colonies VALUES (" + v[0] + ", " + race + ", "
                        + (v[2].isEmpty() ? "NULL" : "'" + v[2] + "'") + ")");
            }
        }
        Files.writeString(folder.resolve("same.jsonl"), json);
        String expected = survey("same.csv");
        assertThat(survey("tab.tsv")).isEqualTo(expected);
        assertThat(survey("same.csv.gz")).isEqualTo(expected);
        assertThat(survey("same.jsonl")).isEqualTo(expected);
        assertThat(survey("same.db#colonies")).isEqualTo(expected);
        assertThat(survey("same.db#SELECT mites, race, lost FROM colonies")).isEqualTo(expected);
        assertThat(survey("semi.csv", "--decimal", ",")).isEqualTo(expected);
        Path out = folder.resolve("stdin.out");
        Process piped = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-jar",
                        System.getProperty("keenfold.jar"),
                        "survey",
                        "-",
                        "--csv")
                .redirectInput(folder.resolve("same.csv.gz").toFile())
                .redirectOutput(out.toFile())
                .start();
        assertThat(piped.waitFor()).isZero();
        assertThat(Files.readString(out)).isEqualTo(expected);
        assertThat(new Program(folder).run("survey", "same.db").expect(3).said())
                .contains("a database of 2 tables; say which one: FILE#TABLE, TABLE one of colonies, other");
        assertThat(new Program(folder).run("survey", "same.db#colony").expect(3).said())
                .contains("there is no table \"colony\"; the nearest is \"colonies\"");
        assertThat(new Program(folder).run("survey", "same.csv#t").expect(3).said())
                .contains("is no SQLite file");
        assertThat(new Program(folder)
                        .run("survey", "same.db#SELECT nothing")
                        .expect(3)
                        .said())
                .contains("the database cannot be read");
    }

    private static String survey(String file, String... more) throws Exception {
        List<String> args = new ArrayList<>(List.of("survey", file, "--csv"));
        args.addAll(List.of(more));
        return new Program(folder).run(args.toArray(String[]::new)).expect(0).out();
    }
}
