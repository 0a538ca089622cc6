package keenfold.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Examples of each command, for its help and its manual page. */
final class Examples {
    private Examples() {}

    /** Returns the lines of each command. */
    static Map<String, List<String>> byCommand() {
        Map<String, List<String>> all = new LinkedHashMap<>();
        List<String> lines = new ArrayList<>();
        for (String line : text().lines().toList()) {
            if (line.startsWith(" ")) {
                lines.add(line);
            } else {
                lines = new ArrayList<>();
                all.put(line, lines);
            }
        }
        return all;
    }

    /** Puts the examples below the help of each command that a parser knows. */
    static void addTo(picocli.CommandLine parser) {
        Map<String, List<String>> all = byCommand();
        parser.getSubcommands().forEach((name, command) -> {
            var usage = command.getCommandSpec().usageMessage();
            List<String> lines = new ArrayList<>(List.of(usage.footer()));
            if (lines.isEmpty()) {
                usage.footerHeading("%nExamples:%n");
            } else {
                lines.add("");
                lines.add("Examples:");
            }
            all.getOrDefault(name, List.of()).forEach(l -> lines.add(l.replace("%", "%%")));
            usage.footer(lines.toArray(String[]::new));
        });
    }

    private static String text() {
        try (InputStream in = Examples.class.getResourceAsStream("examples.txt")) {
            if (in == null) {
                throw new IllegalStateException("examples.txt is not in the jar");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
