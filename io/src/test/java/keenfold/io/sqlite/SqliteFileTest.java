package keenfold.io.sqlite;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class SqliteFileTest {
    private static final String ENDLESS =
            "WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c) SELECT count(*) FROM c";

    @TempDir
    private Path folder;

    private Path database(String name, String... commands) throws SQLException {
        Path file = folder.resolve(name);
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.WRITE);
                Statement statement = connection.createStatement()) {
            for (String command : commands) {
                statement.execute(command);
            }
        }
        return file;
    }

    private static String first(Connection connection, String query) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(query)) {
            return row.next() ? row.getString(1) : "";
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "plain.db",
                "c.db?enable_load_extension=true",
                "c.db?synchronous=OFF&mode=memory",
                "mode=memory",
                "a%3Fb.db",
                "half #1.db",
                "a b+c&d=e;f.db",
                "ünïcode.db",
                "file:x.db",
                ":memory:",
                ":resource:x.db"
            })
    void aNameIsANameWhateverItHolds(String name) throws Exception {
        // In the locale C, Java itself has no file of such a name.
        assumeTrue(name.chars().allMatch(c -> c < 128) || "UTF-8".equals(System.getProperty("sun.jnu.encoding")));
        Path file = database(name, "CREATE TABLE t (x)", "INSERT INTO t VALUES (7)");
        try (var there = Files.list(folder)) {
            assertThat(there.map(f -> f.getFileName().toString())).containsExactly(name);
        }
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ)) {
            assertThat(first(connection, "SELECT x FROM t")).isEqualTo("7");
            assertThatThrownBy(() -> first(connection, "SELECT load_extension('./c')"))
                    .hasMessageContaining("not authorized");
        }
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ_UNCHANGING)) {
            assertThat(first(connection, "SELECT x FROM t")).isEqualTo("7");
        }
    }

    @Test
    void whatIsReadIsNeitherChangedNorJoinedByOtherFiles() throws Exception {
        Path file = database("r.db", "CREATE TABLE t (x)");
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ);
                Statement statement = connection.createStatement()) {
            for (String command : List.of("INSERT INTO t VALUES (1)", "PRAGMA user_version=5", "DROP TABLE t")) {
                assertThatThrownBy(() -> statement.execute(command)).hasMessageContaining("READONLY");
            }
            String other = "ATTACH '" + folder.resolve("other.db") + "' AS o";
            assertThatThrownBy(() -> statement.execute(other)).hasMessageContaining("too many attached");
            assertThat(folder.resolve("other.db")).doesNotExist();
        }
    }

    @Test
    void aViewCannotCallWhatHasEffects() throws Exception {
        Path file = database(
                "v.db",
                "CREATE VIEW v AS SELECT load_extension('./c') AS x",
                "CREATE VIEW w AS SELECT zeroblob(1000000000) AS x");
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ)) {
            assertThatThrownBy(() -> first(connection, "SELECT x FROM v"))
                    .hasMessageContaining("unsafe use of load_extension");
            assertThatThrownBy(() -> first(connection, "SELECT length(x || 'a') FROM w"))
                    .hasMessageContaining("too big");
        }
    }

    @Test
    void whatHasNoEndEnds() throws Exception {
        Path file = database("e.db", "CREATE TABLE t (x)");
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ)) {
            SqliteFile.limitSteps(connection, 3_000_000);
            assertThatThrownBy(() -> first(connection, ENDLESS))
                    .isInstanceOfSatisfying(SQLException.class, e -> assertThat(SqliteFile.interrupted(e))
                            .isTrue());
        }
    }

    /** A plain table of so many bytes takes far fewer steps than are allowed. */
    @Test
    void readingAllOfATableIsFarFromTheLimit() throws Exception {
        Path file = database(
                "p.db",
                "CREATE TABLE t (a, b, c)",
                "WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c LIMIT 200000)"
                        + " INSERT INTO t SELECT 1, 2, NULL FROM c");
        try (Connection connection = SqliteFile.open(file, SqliteFile.Access.READ)) {
            SqliteFile.limitSteps(connection, (SqliteFile.stepLimit(file) - SqliteFile.stepLimit(empty())) / 20);
            try (Statement statement = connection.createStatement();
                    ResultSet rows = statement.executeQuery("SELECT * FROM t")) {
                int count = 0;
                while (rows.next()) {
                    count++;
                }
                assertThat(count).isEqualTo(200_000);
            }
        }
    }

    private Path empty() throws Exception {
        return Files.createFile(folder.resolve("empty"));
    }
}
