package keenfold.io.sqlite;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.sqlite.ProgressHandler;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteConfig.Pragma;

/**
 * Opens SQLite databases, which may have been made by somebody else to do harm.
 *
 * <ul>
 *   <li>The path is handed over as a URI of which every unusual character is escaped: nothing in a file's name is an option.
 *   <li>Extensions cannot be loaded, and functions with side effects cannot be called from a view or trigger
 *       ({@code trusted_schema}).
 *   <li>What is opened to be read is opened read-only, and cannot attach other files.
 *   <li>A value has at most {@value #LONGEST_VALUE} bytes.
 *   <li>What is read of a file has a limit of steps, so that a query or view without end ends: see {@link #stepLimit}.
 * </ul>
 *
 * <p>SQLite's own limit on memory has no effect in the driver's build of it. Memory is bounded by the length of a value and
 * by the steps: what is sorted goes to temporary files.
 */
public final class SqliteFile {
    /** What a file is opened for. */
    public enum Access {
        /** To be read; somebody else may write it meanwhile. */
        READ,
        /** To be read where nobody can write it: without locks. */
        READ_UNCHANGING,
        /** To be read and written; it is made if it is not there. */
        WRITE
    }

    /** The most bytes of one value. */
    public static final int LONGEST_VALUE = 1 << 28;

    private static final long FREE_STEPS = 300_000_000;
    private static final long STEPS_A_BYTE = 200;
    private static final int STRIDE = 1_000_000;

    private SqliteFile() {}

    /**
     * Opens a database.
     *
     * @throws SQLException if it cannot be opened
     */
    public static Connection open(Path file, Access access) throws SQLException {
        NativeLibrary.load();
        SQLiteConfig config = new SQLiteConfig();
        config.setReadOnly(access != Access.WRITE);
        config.enableLoadExtension(false);
        config.setBusyTimeout(10_000);
        config.setPragma(Pragma.LIMIT_LENGTH, Integer.toString(LONGEST_VALUE));
        if (access != Access.WRITE) {
            config.setPragma(Pragma.LIMIT_ATTACHED, "0");
        }
        String place = uri(file) + (access == Access.READ_UNCHANGING ? "?immutable=1" : "");
        Connection connection = config.createConnection("jdbc:sqlite:" + place);
        try (Statement statement = connection.createStatement()) {
            statement.execute("PRAGMA trusted_schema=OFF");
            statement.execute("PRAGMA cell_size_check=ON");
            return connection;
        } catch (SQLException | RuntimeException e) {
            connection.close();
            throw e;
        }
    }

    /**
     * Makes a database in memory.
     *
     * @throws SQLException if it cannot be made
     */
    public static Connection inMemory() throws SQLException {
        NativeLibrary.load();
        return DriverManager.getConnection("jdbc:sqlite::memory:");
    }

    /** The path as a URI in which nothing but letters, digits and slashes is left as it is. */
    static String uri(Path file) {
        StringBuilder uri = new StringBuilder("file:");
        String path = file.toAbsolutePath().toString().replace(java.io.File.separatorChar, '/');
        // A drive's letter (C:/...) follows a slash in a URI.
        if (!path.startsWith("/")) {
            uri.append('/');
        }
        for (byte b : path.getBytes(StandardCharsets.UTF_8)) {
            boolean plain = (b >= 'a' && b <= 'z')
                    || (b >= 'A' && b <= 'Z')
                    || (b >= '0' && b <= '9')
                    || b == '/'
                    || b == '.'
                    || b == '-'
                    || b == '_';
            if (plain) {
                uri.append((char) b);
            } else {
                uri.append(String.format(java.util.Locale.ROOT, "%%%02X", b & 0xFF));
            }
        }
        return uri.toString();
    }

    /**
     * Returns how many steps of SQLite's virtual machine may be done to read something of a file: about a hundred times
     * what reading all of its cells once takes, and a few seconds' worth at the least.
     */
    public static long stepLimit(Path file) throws IOException {
        return FREE_STEPS + STEPS_A_BYTE * Files.size(file);
    }

    /** Interrupts whatever the connection does when it has done so many steps in all. */
    public static void limitSteps(Connection connection, long most) throws SQLException {
        ProgressHandler.setHandler(connection, STRIDE, new ProgressHandler() {
            private long left = most / STRIDE;

            @Override
            protected int progress() {
                left--;
                return left < 0 ? 1 : 0;
            }
        });
    }

    /** Whether a failure is that of {@link #limitSteps}. */
    public static boolean interrupted(SQLException e) {
        return String.valueOf(e.getMessage()).contains("INTERRUPT");
    }
}
