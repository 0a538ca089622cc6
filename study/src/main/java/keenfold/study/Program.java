package keenfold.study;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Properties;

/** This program. */
public final class Program {
    private Program() {}

    /** Returns its name, version, and the commit that it was built from, if it is known. */
    public static String version() {
        Properties build = new Properties();
        try (InputStream in = Program.class.getResourceAsStream("build.properties")) {
            if (in != null) {
                build.load(in);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        String commit = build.getProperty("commit", "");
        // Built outside a repository, the name of the property stands there still.
        boolean known = commit.matches("[0-9a-f]+");
        boolean changed = build.getProperty("changed", "").equals("true");
        return "keenfold " + build.getProperty("version", "(unpacked)")
                + (known ? " (commit " + commit + (changed ? ", changed since" : "") + ")" : "");
    }

    /** Returns the version of the Java that it runs on. */
    public static String java() {
        return "Java " + Runtime.version();
    }
}
