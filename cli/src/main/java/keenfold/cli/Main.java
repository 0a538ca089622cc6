package keenfold.cli;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.StandardOutput;

/** Where the process begins and ends. */
public final class Main {
    private Main() {}

    /** Runs one command and ends the process with its exit code. */
    public static void main(String[] args) {
        // What is written is the same everywhere, also where a library asks for the locale.
        Locale.setDefault(Locale.ROOT);
        StandardOutput out = new StandardOutput();
        PrintStream err = utf8(System.err);
        int code = execute(utf8(new BufferedOutputStream(out)), err, args);
        System.exit(ended(code, out, err));
    }

    /** The exit code, with what became of standard output. */
    static int ended(int code, StandardOutput out, PrintStream err) {
        if (out.reason().isEmpty()) {
            return code;
        }
        err.println(
                "keenfold: standard output: cannot be written: " + out.reason().get());
        err.flush();
        return code == Exit.DONE ? Exit.INPUT : code;
    }

    /** Runs one command; returns its exit code. */
    static int execute(PrintStream out, PrintStream err, String... args) {
        // The help of the whole is plain text: it needs no parser.
        if (args.length == 0 || (args.length == 1 && isHelp(args[0]))) {
            out.print(help());
            out.flush();
            return Exit.DONE;
        }
        try {
            boolean helpOf = args.length == 2 && args[0].equals("help");
            return Keenfold.execute(new Console(out, err), helpOf ? new String[] {args[1], "--help"} : args);
        } catch (OutOfMemoryError e) {
            err.println(
                    "keenfold: out of memory (" + e.getMessage() + "); what a run had finished is kept. Give it more,"
                            + " such as KEENFOLD_JAVA_OPTIONS=-Xmx8g, or fewer --threads");
            err.flush();
            return Exit.INPUT;
        }
    }

    private static boolean isHelp(String word) {
        return word.equals("--help") || word.equals("-h") || word.equals("help");
    }

    static String help() {
        try (InputStream in = Main.class.getResourceAsStream("help.txt")) {
            return in == null ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static PrintStream utf8(OutputStream stream) {
        return new PrintStream(stream, false, StandardCharsets.UTF_8);
    }
}
