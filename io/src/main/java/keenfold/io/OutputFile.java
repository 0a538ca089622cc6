package keenfold.io;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Collection;
import java.util.regex.Pattern;
import java.util.zip.GZIPInputStream;

/**
 * Whether a file may be written to. A command never writes to a file that it reads, whatever the path's spelling and
 * wherever links lead, and never puts something else in the place of a ledger or another database. A result of Keen Fold may
 * be replaced by a new one of its kind; any other file only if the user insists.
 */
public final class OutputFile {
    private static final int START = 4096;
    private static final int UNPACKED = 64;

    private static final Pattern DATABASE = Pattern.compile("(?s)SQLite format 3\0.*");

    /** What is written, as far as it can be told from how a file begins. */
    public enum Kind {
        /** A plan. */
        PLAN("a plan", "(\\s*(#[^\n]*)?\n)*keenfold: ?1\\b.*"),
        /** A model. */
        MODEL("a model", "\\{\"kind\":\"keenfold-model\".*"),
        /** A table of one of the exports. */
        TABLE(
                "a table that Keen Fold exported",
                "(dataset,(row|candidate|metric|name|rule),|row,predicted,p:|\\{\"row\":1,\"predicted\":).*"),
        /** A model as PMML. */
        PMML("a model in PMML that Keen Fold exported", "<\\?xml[^>]*>\\s*<PMML.*extender=\"keenfold\".*"),
        /** A figure. */
        FIGURE(
                "a figure that Keen Fold drew",
                "(<svg [^>]*data-program=\"keenfold\"|.PNG\r\n.*tEXtSoftware\0Keen Fold|%PDF-.*/Producer \\(Keen Fold\\)).*"),
        /** A methods section, or its references. */
        METHODS(
                "a methods section that Keen Fold wrote",
                "(# Methods\\R\\RWe compared |% the references are in methods\\.bib|% references of a methods section, by Keen"
                        + " Fold).*"),
        /** The page of a report. */
        REPORT("a report of Keen Fold", "<!DOCTYPE html>.*<title>[^<]*Keen Fold</title>.*");

        private final String name;
        private final Pattern form;

        Kind(String name, String form) {
            this.name = name;
            this.form = Pattern.compile(form, Pattern.DOTALL);
        }

        /** Whether a file that begins like this may be one of the kind; an empty one may be any. */
        private boolean begins(String start) {
            return start.isEmpty() || form.matcher(start).matches();
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
        String start = start(output);
        if (kind.begins(start)) {
            return;
        }
        if (DATABASE.matcher(start).matches()) {
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
     * Whether a file is what Keen Fold writes, as far as its beginning tells, or empty.
     *
     * @throws InputException if it cannot be read
     */
    public static boolean is(Path file, Kind kind) {
        return kind.begins(start(file));
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
            return (Files.exists(a) && Files.exists(b))
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

    /** How a file begins, unpacked if it is packed; each byte a character. */
    private static String start(Path file) {
        try (InputStream in = Files.newInputStream(file)) {
            byte[] bytes = in.readNBytes(START);
            boolean packed = bytes.length > 2 && bytes[0] == 0x1F && bytes[1] == (byte) 0x8B;
            return new String(packed ? unpacked(bytes) : bytes, StandardCharsets.ISO_8859_1);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be replaced: " + Reason.ofReading(e), e);
        }
    }

    private static byte[] unpacked(byte[] packed) {
        try (InputStream in = new GZIPInputStream(new ByteArrayInputStream(packed))) {
            return in.readNBytes(UNPACKED);
        } catch (IOException e) {
            return packed;
        }
    }
}
