package keenfold.cli;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Help.Ansi;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/** Writes what a release has beside the program, from the commands themselves: man pages, and completion for two shells. */
public final class Manual {
    private final CommandLine all;
    private final Map<String, String> meanings = new LinkedHashMap<>();

    private Manual() {
        all = Keenfold.commandLine(new Console(System.out, System.err));
        for (String line : Main.help().lines().toList()) {
            String[] words = line.strip().split(" +", 2);
            if (line.startsWith("  ") && words.length == 2 && Keenfold.names().contains(words[0])) {
                meanings.putIfAbsent(words[0], words[1]);
            }
        }
    }

    /**
     * Writes the files.
     *
     * @param args a folder; {@code man}, {@code bash} and {@code zsh} are made in it
     */
    public static void main(String[] args) throws IOException {
        // The parser sorts options by the letters of the locale.
        Locale.setDefault(Locale.ROOT);
        Manual manual = new Manual();
        Path to = Path.of(args[0]);
        write(to.resolve("man/keenfold.1"), manual.overview());
        for (String name : Keenfold.names()) {
            write(to.resolve("man/keenfold-" + name + ".1"), manual.page(name));
        }
        write(to.resolve("bash/keenfold"), AutoComplete.bash("keenfold", manual.all));
        write(to.resolve("zsh/_keenfold"), manual.zsh());
    }

    private static void write(Path file, String text) throws IOException {
        Files.createDirectories(file.toAbsolutePath().getParent());
        Files.writeString(file, text, StandardCharsets.UTF_8);
    }

    private CommandSpec spec(String name) {
        return Objects.requireNonNull(all.getSubcommands().get(name)).getCommandSpec();
    }

    // Man pages.

    private static String roff(String text) {
        String plain = Ansi.OFF.string(text).replace("\\", "\\e").replace("-", "\\-");
        return plain.lines()
                .map(l -> l.startsWith(".") || l.startsWith("'") ? "\\&" + l : l)
                .collect(Collectors.joining("\n"));
    }

    private static String title(String name) {
        return ".TH \"" + name.toUpperCase(Locale.ROOT) + "\" 1 \"\" \"Keen Fold\" \"Keen Fold\"\n";
    }

    /** Lines as they are, in letters of one width. */
    private static String block(String text) {
        return ".nf\n" + roff(text) + "\n.fi\n";
    }

    private String overview() {
        String also = Keenfold.names().stream()
                .map(n -> ".BR keenfold\\-" + n + " (1)")
                .collect(Collectors.joining(",\n"));
        return title("keenfold")
                + ".SH NAME\nkeenfold \\- compares classifiers on the same folds, tests the differences, picks one\n"
                + ".SH DESCRIPTION\n"
                + block(Main.help().strip())
                + exitStatus()
                + ".SH SEE ALSO\n" + also + "\n";
    }

    private static String exitStatus() {
        StringBuilder text = new StringBuilder(".SH EXIT STATUS\n");
        Exit.meanings().forEach((code, meaning) -> text.append(".TP\n.B ")
                .append(code)
                .append('\n')
                .append(roff(meaning))
                .append('\n'));
        return text.toString();
    }

    private String page(String name) {
        CommandSpec spec = spec(name);
        StringBuilder text = new StringBuilder(title("keenfold-" + name));
        text.append(".SH NAME\nkeenfold\\-")
                .append(name)
                .append(" \\- ")
                .append(roff(meanings.getOrDefault(name, name)));
        text.append("\n.SH SYNOPSIS\n")
                .append(block(spec.commandLine().getHelp().synopsis(0).strip()));
        text.append(".SH DESCRIPTION\n")
                .append(roff(String.join("\n", spec.usageMessage().description())))
                .append('\n');
        if (!spec.positionalParameters().isEmpty()) {
            text.append(".SH ARGUMENTS\n");
            spec.positionalParameters().forEach(p -> text.append(item(p.paramLabel(), described(p.description()))));
        }
        text.append(".SH OPTIONS\n");
        for (OptionSpec o : options(spec)) {
            text.append(item(names(o), described(o.description(), o)));
        }
        String[] footer = spec.usageMessage().footer();
        if (footer.length > 0) {
            String heading = String.format(Locale.ROOT, spec.usageMessage().footerHeading())
                    .strip();
            text.append(".SH ")
                    .append(roff((heading.isEmpty() ? "Notes" : heading)
                            .replaceAll(":$", "")
                            .toUpperCase(Locale.ROOT)))
                    .append('\n')
                    .append(block(String.join("\n", footer)));
        }
        return text + exitStatus() + ".SH SEE ALSO\n.BR keenfold (1)\n";
    }

    private static String item(String name, String text) {
        return ".TP\n.B " + roff(name) + "\n" + roff(text) + "\n";
    }

    private static List<OptionSpec> options(CommandSpec spec) {
        return spec.options().stream().filter(o -> !o.hidden()).toList();
    }

    private static String names(OptionSpec o) {
        String names = String.join(", ", o.names());
        return o.arity().max() == 0 ? names : names + " " + o.paramLabel();
    }

    private static String described(String[] description) {
        return String.join(" ", description);
    }

    private static String described(String[] description, OptionSpec o) {
        return described(description).replace("${COMPLETION-CANDIDATES}", String.join(", ", candidates(o)));
    }

    private static List<String> candidates(OptionSpec o) {
        return o.completionCandidates() == null
                ? List.of()
                : StreamSupport.stream(o.completionCandidates().spliterator(), false)
                        .toList();
    }

    // zsh.

    private String zsh() {
        StringBuilder text =
                new StringBuilder("#compdef keenfold\n\n_keenfold() {\n  local -a commands\n  commands=(\n");
        meanings.forEach((name, meaning) -> text.append("    ")
                .append(quoted(name + ":" + meaning.replace(":", "\\:")))
                .append('\n'));
        text.append(
                """
                  )
                  if (( CURRENT == 2 )); then
                    _describe command commands
                    return
                  fi
                  local command=$words[2]
                  shift words
                  (( CURRENT-- ))
                  case $command in
                """);
        for (String name : Keenfold.names()) {
            text.append("    ").append(name).append(")\n      _arguments -s \\\n");
            for (String spec : arguments(spec(name))) {
                text.append("        ").append(spec).append(" \\\n");
            }
            text.append("        && return\n      ;;\n");
        }
        return text + "  esac\n}\n\n_keenfold \"$@\"\n";
    }

    private static List<String> arguments(CommandSpec spec) {
        List<String> all = new ArrayList<>();
        for (OptionSpec o : options(spec)) {
            String said = described(o.description(), o)
                    .replace("\\", "\\\\")
                    .replace("[", "\\[")
                    .replace("]", "\\]")
                    .replace(":", "\\:");
            for (String option : o.names()) {
                String argument = "";
                if (o.arity().max() > 0) {
                    String label = o.paramLabel().replace(":", "\\:");
                    List<String> values = candidates(o);
                    argument = ":" + label + ":" + (values.isEmpty() ? files(o) : "(" + String.join(" ", values) + ")");
                }
                all.add(quoted("*" + option + "[" + Ansi.OFF.string(said) + "]" + argument));
            }
        }
        for (PositionalParamSpec p : spec.positionalParameters()) {
            all.add(quoted("*:" + p.paramLabel() + ":_files"));
            break;
        }
        return all;
    }

    /** Completes names of files, or nothing. */
    private static String files(OptionSpec o) {
        boolean path =
                o.type() == Path.class || Arrays.asList(o.auxiliaryTypes()).contains(Path.class);
        return path ? "_files" : " ";
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }
}
