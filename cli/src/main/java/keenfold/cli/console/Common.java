package keenfold.cli.console;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Option;

/** Options of every command. */
public final class Common {
    @Option(names = "--quiet", description = "print results only, no notices or progress")
    private boolean quiet;

    @Option(names = "--no-color", description = "no emphasis, even on a terminal")
    private boolean noColor;

    @Option(names = "--trace", description = "show where in the program an error occurred")
    private boolean trace;

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "show this help")
    private boolean help;

    boolean quiet() {
        return quiet;
    }

    boolean color() {
        return !noColor && System.getenv("NO_COLOR") == null;
    }

    boolean trace() {
        return trace;
    }

    /** These options as words, for a command that calls others. */
    public List<String> flags() {
        List<String> flags = new ArrayList<>();
        if (quiet) {
            flags.add("--quiet");
        }
        if (noColor) {
            flags.add("--no-color");
        }
        if (trace) {
            flags.add("--trace");
        }
        return flags;
    }

    boolean help() {
        return help;
    }
}
