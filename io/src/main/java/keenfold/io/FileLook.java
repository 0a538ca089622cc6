package keenfold.io;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;

/** What a file looks like, for whoever handed it to a command that wants another kind. */
public enum FileLook {
    /** A ledger. */
    LEDGER("it looks like a ledger, which scores, contrast, pick, report, draw, export and train read"),
    /** Another database. */
    DATABASE("it looks like a database"),
    /** A trained model. */
    MODEL("it looks like a model, which predict, show and export read"),
    /** Another file packed with gzip. */
    PACKED("it looks like a packed file"),
    /** A plan. */
    PLAN("it looks like a plan, which folds, run and scatter read"),
    /** Delimited text. */
    TABLE("it looks like a table, which survey, compare, draft and predict read"),
    /** None of these, or unreadable. */
    UNCLEAR("");

    private static final int ENOUGH = 512;

    private final String words;

    FileLook(String words) {
        this.words = words;
    }

    /** Returns what it is and where such a file belongs, to go on with behind a complaint; empty if that is not clear. */
    public String words() {
        return words.isEmpty() ? "" : "; " + words;
    }

    /** Looks at the beginning of a file. */
    public static FileLook of(Path file) {
        byte[] head;
        try (InputStream in = Files.newInputStream(file)) {
            head = in.readNBytes(ENOUGH);
        } catch (IOException e) {
            return UNCLEAR;
        }
        String text = new String(head, StandardCharsets.ISO_8859_1);
        String name = file.toString().toLowerCase(Locale.ROOT);
        if (text.startsWith("SQLite format 3\0")) {
            return name.endsWith(".kfl") ? LEDGER : DATABASE;
        }
        if (text.startsWith("\u001f\u008b")) {
            return name.endsWith(".kfm") ? MODEL : PACKED;
        }
        if (text.lines().anyMatch(l -> l.matches("keenfold: ?1\\s*"))) {
            return PLAN;
        }
        String first = text.lines().findFirst().orElse("");
        return first.indexOf('\0') < 0 && first.matches(".*[,;\t].*") ? TABLE : UNCLEAR;
    }
}
