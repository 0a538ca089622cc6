package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import keenfold.cli.console.Console;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;

class HelpTest {
    private static String execute(int expected, String... args) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        PrintStream stream = new PrintStream(out, true, StandardCharsets.UTF_8);
        assertThat(Main.execute(stream, stream, args)).isEqualTo(expected);
        return out.toString(StandardCharsets.UTF_8);
    }

    @Test
    void theStaticHelpListsTheCommandsThereAre() {
        PrintStream nowhere = new PrintStream(new ByteArrayOutputStream(), false, StandardCharsets.UTF_8);
        CommandLine line = Keenfold.commandLine(new Console(nowhere, nowhere));
        Set<String> listed = new TreeSet<>();
        Main.help()
                .lines()
                .filter(l -> l.matches("  [a-z]+ {2,}[a-z].*"))
                .forEach(l -> listed.add(l.strip().split(" ", 2)[0]));
        assertThat(listed)
                .isEqualTo(new TreeSet<>(line.getSubcommands().keySet()))
                .isEqualTo(new TreeSet<>(Keenfold.names()));
        assertThat(execute(0)).isEqualTo(Main.help());
        assertThat(Main.help().lines()).allMatch(l -> l.length() <= 100);
    }

    @Test
    void everyCommandExplainsItselfWithin100Columns() {
        for (String command : Keenfold.names()) {
            String help = execute(0, command, "--help");
            assertThat(help).contains("Usage: keenfold " + command);
            assertThat(help.lines()).allMatch(l -> l.length() <= 100);
        }
        assertThat(execute(0, "--version")).contains("keenfold").contains("Java 1");
    }

    /** Each command has examples, in its help too, and a parser takes every one of them. */
    @Test
    void examplesAreCommandLinesThatAreTaken() {
        PrintStream nowhere = new PrintStream(new ByteArrayOutputStream(), false, StandardCharsets.UTF_8);
        Map<String, List<String>> all = Examples.byCommand();
        assertThat(all.keySet()).containsExactlyInAnyOrderElementsOf(Keenfold.names());
        all.forEach((command, lines) -> {
            assertThat(lines).isNotEmpty();
            String help = execute(0, command, "--help");
            for (String line : lines) {
                assertThat(help).contains(line);
                String[] words = Pattern.compile("\"([^\"]*)\"|(\\S+)")
                        .matcher(line)
                        .results()
                        .map(m -> m.group(1) == null ? m.group(2) : m.group(1))
                        .skip(1)
                        .toArray(String[]::new);
                assertThat(words[0]).isEqualTo(command);
                Keenfold.commandLine(new Console(nowhere, nowhere), words).parseArgs(words);
            }
        });
    }

    @Test
    void aWrongCommandLineIsSaidInOneLine() {
        assertThat(execute(2, "scors", "x.kfl")).contains("keenfold: ").contains("see keenfold --help");
        assertThat(execute(2, "compare", "x.csv")).contains("--target");
        assertThat(execute(2, "compare", "x.csv", "--target", "y", "--try", "nearst"))
                .contains("the nearest is \"nearest\"");
        assertThat(execute(2, "compare", "x.csv", "--target", "y", "--folds", "1"))
                .contains("folds = 1");
        assertThat(execute(2, "run", "p.yaml", "-o", "l.kfl", "--threads", "0")).contains("--threads = 0");
        assertThat(execute(2, "export", "l.kfl", "--what", "models")).contains("models");
    }
}
