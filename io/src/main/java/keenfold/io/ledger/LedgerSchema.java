package keenfold.io.ledger;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import keenfold.io.InputException;

/**
 * The tables of a ledger. A file that has others is not read: a view in place of a table could compute for ever, a trigger
 * could change what is written.
 */
final class LedgerSchema {
    private LedgerSchema() {}

    /** Returns the commands that lay out a ledger. */
    static List<String> commands() {
        return Arrays.stream(text("schema.sql").replaceAll("(?m)^--.*$", "").split(";", -1))
                .map(String::strip)
                .filter(c -> !c.isEmpty())
                .toList();
    }

    private static String text(String name) {
        try (InputStream in = LedgerSchema.class.getResourceAsStream(name)) {
            if (in == null) {
                throw new IllegalStateException(name + " is not in the jar");
            }
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    /**
     * Compares the schema of a file with that of a ledger.
     *
     * @throws InputException if anything is missing, or there besides; what SQLite itself adds (statistics of ANALYZE) does
     *     not count
     */
    static void require(Path file, Connection connection) throws SQLException {
        Set<String> missing = new HashSet<>(commands());
        List<String> foreign = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT type, name, sql FROM sqlite_master")) {
            while (row.next()) {
                String type = String.valueOf(row.getString(1));
                String name = String.valueOf(row.getString(2));
                String sql = String.valueOf(row.getString(3));
                boolean own = missing.remove(sql)
                        || (type.equals("index") && name.startsWith("sqlite_autoindex_"))
                        || (type.equals("table") && name.matches("sqlite_stat[14]"));
                if (!own) {
                    foreign.add(type + " \"" + name + "\"");
                }
            }
        }
        if (!missing.isEmpty() || !foreign.isEmpty()) {
            throw new InputException(
                    file.toString(),
                    "is no ledger that Keen Fold made: "
                            + (foreign.isEmpty()
                                    ? "a table is missing or was altered"
                                    : "it holds " + foreign.get(0) + ", which no ledger has")
                            + (foreign.size() > 1 ? ", and " + (foreign.size() - 1) + " more" : "")
                            + "; views and tables of your own belong into another database, to which a ledger can be"
                            + " attached");
        }
    }
}
