package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The pages that lead through a job, done: each command in turn, and each line that is shown found in what came out. */
class GuideIT {
    private static final Pattern BLOCK = Pattern.compile("(?ms)^```(sh|text)\\n(.*?)^```$");

    @TempDir
    private Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"docs/guide.md", "docs/paper.md"})
    void thePageIsTrue(String page) throws Exception {
        // The commands of the guide with the jar that was built, in the place of the release's program.
        Path bin = Files.createDirectories(folder.resolve("bin"));
        Path program = bin.resolve("keenfold");
        Files.writeString(
                program,
                "#!/bin/sh\nexec '" + Path.of(System.getProperty("java.home"), "bin", "java")
                        + "' '" + String.join("' '", Program.OPTIONS) + "' -Duser.timezone=UTC -cp '"
                        + System.getProperty("keenfold.jar")
                        + "' keenfold.cli.Main \"$@\"\n");
        assertThat(program.toFile().setExecutable(true)).isTrue();
        String guide = Files.readString(Program.ROOT.resolve(page));
        List<String> shown = new ArrayList<>();
        StringBuilder script = new StringBuilder("set -eu\nPATH='" + bin + "':$PATH\n");
        Matcher blocks = BLOCK.matcher(guide);
        int count = 0;
        while (blocks.find()) {
            if (blocks.group(1).equals("sh")) {
                script.append("exec > '")
                        .append(folder.resolve("out" + count++))
                        .append("' 2>&1\n");
                script.append(blocks.group(2));
                shown.add("");
            } else {
                shown.set(shown.size() - 1, blocks.group(2));
            }
        }
        assertThat(count).isGreaterThan(5);
        Process bash = new ProcessBuilder("bash", "-c", script.toString())
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .redirectOutput(folder.resolve("rest").toFile())
                .start();
        int code = bash.waitFor();
        for (int i = 0; i < count && Files.exists(folder.resolve("out" + i)); i++) {
            String out = Files.readString(folder.resolve("out" + i));
            assertThat(code == 0 || Files.exists(folder.resolve("out" + (i + 1))))
                    .as(out)
                    .isTrue();
            for (String line : shown.get(i).lines().toList()) {
                assertThat(out).as("block %d of %s", i + 1, page).contains(line);
            }
        }
        assertThat(code).isZero();
    }
}
