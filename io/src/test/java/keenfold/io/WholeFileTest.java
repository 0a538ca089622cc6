package keenfold.io;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WholeFileTest {
    @TempDir
    private Path folder;

    private List<String> names() throws IOException {
        try (var there = Files.list(folder)) {
            return there.map(f -> f.getFileName().toString()).sorted().toList();
        }
    }

    @Test
    void aFileOfTheUsersCalledPartIsLeftAlone() throws IOException {
        Files.writeString(folder.resolve("a.csv.part"), "mine");
        Path victim = Files.writeString(folder.resolve("victim"), "mine too");
        Files.createSymbolicLink(folder.resolve("b.csv.part"), victim);
        WholeFile.text(folder.resolve("a.csv"), "1");
        WholeFile.text(folder.resolve("b.csv"), "2");
        assertThat(folder.resolve("a.csv.part")).hasContent("mine");
        assertThat(victim).hasContent("mine too");
        assertThat(names()).containsExactly("a.csv", "a.csv.part", "b.csv", "b.csv.part", "victim");
    }

    @Test
    void whatIsNotCompleteHasANameThatNobodyForesaw() throws IOException {
        List<String> seen = new ArrayList<>();
        for (int i = 0; i < 2; i++) {
            WholeFile.text(folder.resolve("a.csv"), out -> {
                seen.addAll(names().stream().filter(n -> n.endsWith(".part")).toList());
                out.write("x");
            });
        }
        assertThat(seen)
                .hasSize(2)
                .doesNotHaveDuplicates()
                .allMatch(n -> n.matches("\\.a\\.csv\\.[0-9a-f]{16}\\.part"));
        assertThat(names()).containsExactly("a.csv");
    }

    @Test
    void aNameAsLongAsTheSystemTakesIsWritten() throws IOException {
        String name = "a".repeat(245) + ".csv";
        WholeFile.text(folder.resolve(name), "x");
        assertThat(names()).containsExactly(name);
    }

    @Test
    void whoMayReadAFileStaysTheSame() throws IOException {
        assumeTrue(Files.getFileStore(folder).supportsFileAttributeView("posix"));
        Path file = Files.writeString(folder.resolve("secret.csv"), "old");
        Path link = Files.createSymbolicLink(folder.resolve("link.csv"), file);
        for (String mode : List.of("rw-------", "rw-r-----", "rwxr-xr-x")) {
            Files.setPosixFilePermissions(file, PosixFilePermissions.fromString(mode));
            WholeFile.text(link, out -> {
                for (String part : names()) {
                    if (part.endsWith(".part")) {
                        assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(folder.resolve(part))))
                                .isEqualTo(mode);
                    }
                }
                out.write("new");
            });
            assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                    .isEqualTo(mode);
            assertThat(link).isSymbolicLink();
            assertThat(file).hasContent("new");
        }
    }

    @Test
    void whatFailsLeavesNothing() throws IOException {
        Path file = Files.writeString(folder.resolve("a.csv"), "old");
        assertThatThrownBy(() -> WholeFile.text(file, out -> {
                    out.write("half");
                    throw new IllegalStateException("enough");
                }))
                .hasMessage("enough");
        assertThat(names()).containsExactly("a.csv");
        assertThat(file).hasContent("old");
    }
}
