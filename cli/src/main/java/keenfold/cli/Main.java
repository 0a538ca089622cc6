package keenfold.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;

/** Where the process begins and ends. */
public final class Main {
    private Main() {}

    /** Runs one command and ends the process with its exit code. */
    public static void main(String[] args) {
        System.exit(execute(utf8(System.out), utf8(System.err), args));
    }

    /** Runs one command; returns its exit code. */
    static int execute(PrintStream out, PrintStream err, String... args) {
        // The help of the whole is plain text: it needs no parser.
        if (args.length == 0 || (args.length == 1 && isHelp(args[0]))) {
            out.print(help());
            out.flush();
            return Exit.DONE;
        }
        return Keenfold.execute(new Console(out, err), args);
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

    private static PrintStream utf8(PrintStream stream) {
        return new PrintStream(stream, false, StandardCharsets.UTF_8);
    }
}
