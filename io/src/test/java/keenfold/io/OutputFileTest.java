package keenfold.io;

import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.zip.GZIPOutputStream;
import keenfold.io.OutputFile.Kind;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class OutputFileTest {
    @TempDir
    private Path folder;

    private Path input;

    @BeforeEach
    void makeInput() throws IOException {
        input = Files.writeString(folder.resolve("in.csv"), "a,b\n1,2\n");
        Files.createDirectory(folder.resolve("sub"));
        Files.createSymbolicLink(folder.resolve("link.csv"), input);
        Files.createSymbolicLink(folder.resolve("there"), folder);
        Files.createLink(folder.resolve("hard.csv"), input);
    }

    @ParameterizedTest
    @ValueSource(strings = {"in.csv", "./in.csv", "sub/../in.csv", "link.csv", "there/in.csv", "hard.csv"})
    void whatIsReadIsNeverWritten(String spelling) {
        Path output = folder.resolve(spelling);
        for (boolean force : new boolean[] {false, true}) {
            assertThatThrownBy(() -> OutputFile.require(output, Kind.TABLE, List.of(input), force))
                    .hasMessageContaining("is read by this very command");
        }
    }

    /** Neither is there yet: two names of one file are one file all the same. */
    @Test
    void twoNamesOfAFileThatIsNotThereAreOne() {
        assertThatThrownBy(() -> OutputFile.requireOther(
                        folder.resolve("there/new.kfl"), List.of(folder.resolve("sub/../new.kfl"))))
                .hasMessageContaining("is read by this very command");
    }

    private Path file(String name, String text) throws IOException {
        return Files.write(folder.resolve(name), text.getBytes(StandardCharsets.ISO_8859_1));
    }

    private static String packed(String text) throws IOException {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (GZIPOutputStream out = new GZIPOutputStream(bytes)) {
            out.write(text.getBytes(StandardCharsets.UTF_8));
        }
        return bytes.toString(StandardCharsets.ISO_8859_1);
    }

    @Test
    void aResultIsReplacedByOneOfItsKind() throws IOException {
        Object[][] own = {
            {Kind.PLAN, "# drafted\n\nkeenfold: 1\n"},
            {Kind.TABLE, "dataset,row,repeat,fold\nd,1,1,1\n"},
            {Kind.TABLE, "dataset,candidate,repeat,fold,metric,value\n"},
            {Kind.TABLE, "row,predicted,p:no,p:yes\n"},
            {Kind.TABLE, "{\"row\":1,\"predicted\":\"no\"}\n"},
            {Kind.MODEL, packed("{\"kind\":\"keenfold-model\",\"version\":1.0}")},
            {Kind.PMML, "<?xml version=\"1.0\"?><PMML version=\"4.4\"><Header><Extension extender=\"keenfold\""},
            {Kind.FIGURE, "<svg aria-label=\"x\" data-program=\"keenfold\" height=\"3\">"},
            {Kind.FIGURE, "\u0089PNG\r\n\u001a\n....IHDR....tEXtSoftware\0Keen Fold"},
            {Kind.REPORT, "<!DOCTYPE html>\n<head><title>Comparison on hives - Keen Fold</title>"}
        };
        for (Object[] one : own) {
            Path file = file("own", String.valueOf(one[1]));
            for (Kind kind : Kind.values()) {
                if (kind == one[0]) {
                    assertThatCode(() -> OutputFile.require(file, kind, List.of(input), false))
                            .doesNotThrowAnyException();
                } else {
                    assertThatThrownBy(() -> OutputFile.require(file, kind, List.of(input), false))
                            .hasMessageContaining("--force");
                }
            }
        }
    }

    @Test
    void anythingElseIsReplacedByForceAloneAndADatabaseNever() throws IOException {
        Path notes = file("notes.txt", "do not lose me");
        assertThatThrownBy(() -> OutputFile.require(notes, Kind.TABLE, List.of(input), false))
                .hasMessage(
                        notes + ": is there already, and is not a table that Keen Fold exported; name another file, or"
                                + " say --force to replace it");
        assertThatCode(() -> OutputFile.require(notes, Kind.TABLE, List.of(input), true))
                .doesNotThrowAnyException();
        Path database = file("l.kfl", "SQLite format 3\0\u0010\0");
        assertThatThrownBy(() -> OutputFile.require(database, Kind.MODEL, List.of(input), true))
                .hasMessageContaining("is never replaced by something else");
        assertThatCode(() -> OutputFile.require(file("empty", ""), Kind.MODEL, List.of(input), false))
                .doesNotThrowAnyException();
        assertThatCode(() -> OutputFile.require(folder.resolve("new"), Kind.MODEL, List.of(input), false))
                .doesNotThrowAnyException();
    }
}
