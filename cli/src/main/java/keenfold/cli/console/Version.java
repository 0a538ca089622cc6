package keenfold.cli.console;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Properties;
import picocli.CommandLine.IVersionProvider;

/** The version of this program, the commit that it was built from, and the Java that it runs on. */
public final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() {
        return new String[] {"keenfold " + program(), "Java " + Runtime.version()};
    }

    /** Version and commit. */
    private static String program() {
        Properties build = new Properties();
        try (InputStream in = Version.class.getResourceAsStream("build.properties")) {
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
        return build.getProperty("version", "(unpacked)")
                + (known ? " (commit " + commit + (changed ? ", changed since" : "") + ")" : "");
    }
}
