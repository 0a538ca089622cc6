package keenfold.study;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import jdk.jshell.JShell;
import jdk.jshell.Snippet;
import jdk.jshell.SnippetEvent;
import jdk.jshell.SourceCodeAnalysis;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Runs the page of examples for programs: each block in order, its output as the page shows it. */
class JavaGuideTest {
    private static final Pattern BLOCK = Pattern.compile("```(\\w+)\n(.*?)```", Pattern.DOTALL);

    private final PrintStream real = System.out;

    private static void evaluate(JShell shell, String source) {
        String rest = source;
        while (!rest.isBlank()) {
            SourceCodeAnalysis.CompletionInfo info = shell.sourceCodeAnalysis().analyzeCompletion(rest);
            assertThat(info.source()).as("not complete: %s", rest).isNotNull();
            for (SnippetEvent event : shell.eval(info.source())) {
                assertThat(shell.diagnostics(event.snippet()).map(d -> d.getMessage(null)))
                        .as(info.source())
                        .isEmpty();
                assertThat(event.exception()).as(info.source()).isNull();
                assertThat(event.status()).as(info.source()).isNotEqualTo(Snippet.Status.REJECTED);
            }
            rest = info.remaining();
        }
    }

    @Test
    void examplesDoWhatThePageSays(@TempDir Path folder) throws IOException {
        Files.copy(Path.of("../demo/swarm.csv"), folder.resolve("swarm.csv"));
        String page = Files.readString(Path.of("../docs/java.md"));
        List<String> shown = new ArrayList<>();
        List<String> printed = new ArrayList<>();
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (JShell shell = JShell.builder().executionEngine("local").build()) {
            shell.addToClasspath(System.getProperty("java.class.path"));
            System.setOut(new PrintStream(bytes, true, StandardCharsets.UTF_8));
            Matcher block = BLOCK.matcher(page);
            while (block.find()) {
                String text = block.group(2);
                switch (block.group(1)) {
                    case "yaml" -> Files.writeString(folder.resolve("swarm.yaml"), text);
                    case "java" -> {
                        evaluate(shell, text.replace("Path.of(\"", "Path.of(\"" + folder + "/"));
                        printed.add(bytes.toString(StandardCharsets.UTF_8));
                        bytes.reset();
                    }
                    case "text" -> {
                        while (shown.size() < printed.size() - 1) {
                            shown.add("");
                        }
                        shown.add(text);
                    }
                    default -> throw new AssertionError("a block of " + block.group(1));
                }
            }
        } finally {
            System.setOut(real);
        }
        assertThat(shown).isEqualTo(printed);
        assertThat(folder.resolve("report/report.html")).exists();
    }
}
