package keenfold.io;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;

/** What a file looks like, for whoever handed it to a command that wants another kind. */
public final class FileLook {
    private static final int ENOUGH = 512;

    private FileLook() {}

    /** Returns what a file seems to be and where such a file belongs, as "; it looks like ..."; empty if that is not clear. */
    public static String of(Path file) {
        byte[] head;
        try (InputStream in = Files.newInputStream(file)) {
            head = in.readNBytes(ENOUGH);
        } catch (IOException e) {
            return "";
        }
        String text = new String(head, StandardCharsets.ISO_8859_1);
        String name = file.toString().toLowerCase(Locale.ROOT);
        if (text.startsWith("SQLite format 3\0")) {
            return name.endsWith(".kfl")
                    ? "; it looks like a ledger, which scores, contrast, pick, report, draw, export and train read"
                    : "; it looks like a database";
        }
        if (head.length > 1 && (head[0] & 0xff) == 0x1f && (head[1] & 0xff) == 0x8b) {
            return name.endsWith(".kfm")
                    ? "; it looks like a model, which predict, show and export read"
                    : "; it looks like a packed file";
        }
        if (text.matches("(?s)(#[^\n]*\n|\\s)*keenfold: ?1.*")) {
            return "; it looks like a plan, which folds, run and scatter read";
        }
        String first = text.lines().findFirst().orElse("");
        boolean table =
                first.chars().filter(c -> c == ',' || c == ';' || c == '\t').count() > 0 && first.indexOf('\0') < 0;
        return table ? "; it looks like a table, which survey, compare, draft and predict read" : "";
    }
}
