package keenfold.io;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collection;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;

/**
 * Whether a file may be written to. A command never writes to a file that it reads, whatever the path's spelling and
 * wherever links lead, and never puts something else in the place of a ledger or another database. A result of Keen Fold may
 * be replaced by a new one of its kind; any other file only if the user insists.
 */
public final class OutputFile {
    private static final int START = 4096;

    /** What is written, as far as it can be told from how a file begins. */
    public enum Kind {
        /** A plan. */
        PLAN("a plan", text("(?s)(\\s*(#[^\n]*)?\n)*keenfold: ?1\\b.*")),
        /** A model. */
        MODEL("a model", OutputFile::isModel),
        /** A table of one of the exports. */
        TABLE(
                "a table that Keen Fold exported",
                text("(?s)(dataset,(row|candidate|metric|name),|row,predicted,p:|\\{\"row\":1,\"predicted\":).*")),
        /** A model as PMML. */
        PMML("a model in PMML that Keen Fold exported", text("(?s)<\\?xml[^>]*>\\s*<PMML.*extender=\"keenfold\".*")),
        /** A figure. */
        FIGURE(
                "a figure that Keen Fold drew",
                start -> text("(?s)<svg [^>]*data-program=\"keenfold\".*").test(start)
                        || text("(?s).PNG\r\n.*tEXtSoftware\0Keen Fold.*").test(start)),
        /** The page of a report. */
        REPORT("a report of Keen Fold", text("(?s)<!DOCTYPE html>.*<title>[^<]*Keen Fold</title>.*"));

        private final String name;
        private final Predicate<byte[]> begins;

        Kind(String name, Predicate<byte[]> begins) {
            this.name = name;
            this.begins = begins;
        }
    }

    private OutputFile() {}

    /**
     * Refuses an output that must not be written.
     *
     * @param kind what is to be written
     * @param inputs what the command reads
     * @param force whether the user insists
     * @throws InputException if the output is one of the inputs, or is there and may not be replaced
     */
    public static void require(Path output, Kind kind, Collection<Path> inputs, boolean force) {
        requireOther(output, inputs);
        if (!Files.isRegularFile(output)) {
            return;
        }
        byte[] start = start(output);
        if (start.length == 0 || kind.begins.test(start)) {
            return;
        }
        if (text("SQLite format 3\0(?s).*").test(start)) {
            throw new InputException(
                    output.toString(),
                    "is a ledger or another database, which is never replaced by something else; name another file");
        }
        if (!force) {
            throw new InputException(
                    output.toString(),
                    "is there already, and is not " + kind.name + "; name another file, or say --force to replace it");
        }
    }

    /**
     * Refuses an output that is one of the inputs.
     *
     * @throws InputException if it is
     */
    public static void requireOther(Path output, Collection<Path> inputs) {
        for (Path input : inputs) {
            if (same(output, input)) {
                throw new InputException(
                        output.toString(), "is read by this very command; name another file to write to");
            }
        }
    }

    /** Whether two paths lead to one file, or would if it were there. */
    static boolean same(Path a, Path b) {
        try {
            return Files.exists(a) && Files.exists(b)
                    ? Files.isSameFile(a, b)
                    : resolved(a).equals(resolved(b));
        } catch (IOException e) {
            return a.toAbsolutePath().normalize().equals(b.toAbsolutePath().normalize());
        }
    }

    private static Path resolved(Path path) throws IOException {
        Path whole = path.toAbsolutePath().normalize();
        Path folder = whole.getParent();
        return folder != null && Files.isDirectory(folder) ? folder.toRealPath().resolve(whole.getFileName()) : whole;
    }

    private static byte[] start(Path file) {
        try (InputStream in = Files.newInputStream(file)) {
            return in.readNBytes(START);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be replaced: " + Reason.ofReading(e), e);
        }
    }

    private static Predicate<byte[]> text(String form) {
        Pattern pattern = Pattern.compile(form);
        return start ->
                pattern.matcher(new String(start, StandardCharsets.ISO_8859_1)).matches();
    }

    private static boolean isModel(byte[] start) {
        try (InputStream in = new GZIPInputStream(new ByteArrayInputStream(start))) {
            return new String(in.readNBytes(24), StandardCharsets.UTF_8).equals("{\"kind\":\"keenfold-model\"");
        } catch (IOException e) {
            return false;
        }
    }
}
