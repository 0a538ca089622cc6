package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.core.run.result.Task;
import keenfold.io.plan.Plan;
import keenfold.io.table.LoadedData;

/** The tables {@code dataset} and {@code class}: rows, classes and groups of each data set, but no values of columns. */
public final class DataSetTable {
    private DataSetTable() {}

    /** Reads the fingerprints of the data sets, in the order of the plan. */
    public static List<String> fingerprints(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT fingerprint FROM dataset ORDER BY id")) {
            List<String> fingerprints = new ArrayList<>();
            while (row.next()) {
                fingerprints.add(row.getString(1));
            }
            return fingerprints;
        }
    }

    /**
     * Writes a data set with its classes and splits.
     *
     * @param file as the plan names it
     */
    public static void add(Connection connection, int id, String file, LoadedData loaded, Task task)
            throws SQLException {
        DataSet data = task.data();
        int[] groups = data.groups().map(Categories::codes).orElse(new int[0]);
        try (PreparedStatement row =
                connection.prepareStatement("INSERT INTO dataset VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)")) {
            Rows.set(
                    row,
                    id,
                    data.name(),
                    file,
                    loaded.fingerprint(),
                    data.rows(),
                    task.splits().repeats(),
                    task.splits().mostFolds(),
                    data.classes().positiveLabel(),
                    Blobs.ofInts(data.sourceRows()),
                    Blobs.ofInts(data.targets()));
            if (groups.length > 0) {
                row.setBytes(11, Blobs.ofInts(groups));
            }
            row.setString(12, task.splits().form().label());
            if (loaded.heldBack().isPresent()) {
                int[] heldBack = loaded.heldBack().get().sourceRows();
                row.setBytes(13, Blobs.ofInts(heldBack));
            }
            row.executeUpdate();
        }
        int[] counts = data.classCounts();
        for (int c = 0; c < counts.length; c++) {
            Rows.write(
                    connection,
                    "INSERT INTO class VALUES (?, ?, ?, ?)",
                    id,
                    c,
                    data.classes().labels().get(c),
                    counts[c]);
        }
        SplitTables.add(connection, id, task.splits());
    }

    /**
     * Reads a data set with its classes and splits.
     *
     * @return empty if there is none of this number
     * @throws IllegalArgumentException if a value is not one that a ledger can hold
     */
    public static Optional<Task> read(Connection connection, int id, Plan plan) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("SELECT * FROM dataset WHERE id = ?")) {
            query.setInt(1, id);
            try (ResultSet row = query.executeQuery()) {
                return row.next() ? Optional.of(task(connection, id, row, plan)) : Optional.empty();
            }
        }
    }

    private static Task task(Connection connection, int id, ResultSet row, Plan plan) throws SQLException {
        int rows = row.getInt("rows");
        Checks.that(rows >= 1, "%d rows", rows);
        Checks.that(
                plan.data().get(id).name().equals(row.getString("name")),
                "it is called \"%s\", and \"%s\" in the plan",
                row.getString("name"),
                plan.data().get(id).name());
        List<String> labels = labels(connection, id);
        Classes classes = new Classes(labels, labels.indexOf(row.getString("positive")));
        Optional<Categories> groups = Optional.ofNullable(row.getBytes("groups"))
                .map(b -> groups(plan.data().get(id).groups().orElse("group"), Blobs.ints(b, rows)));
        int[] sourceRows = Blobs.ints(blob(row, "source_rows"), rows);
        for (int i = 0; i < rows; i++) {
            Checks.that(
                    sourceRows[i] > (i == 0 ? 0 : sourceRows[i - 1]),
                    "row %d of the file after row %d",
                    sourceRows[i],
                    i == 0 ? 0 : sourceRows[i - 1]);
        }
        DataSet data = DataSet.of(
                row.getString("name"),
                new Table(rows, List.of()),
                classes,
                Blobs.ints(blob(row, "targets"), rows),
                groups,
                sourceRows);
        return Task.of(data, SplitTables.read(connection, id, rows, row.getString("form")), plan.metrics());
    }

    private static byte[] blob(ResultSet row, String column) throws SQLException {
        return Optional.ofNullable(row.getBytes(column)).orElse(new byte[0]);
    }

    /** Reads the classes of a data set, in order. */
    public static List<String> labels(Connection connection, int dataset) throws SQLException {
        List<String> labels = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement("SELECT label FROM class WHERE dataset = ? ORDER BY position")) {
            query.setInt(1, dataset);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    labels.add(row.getString(1));
                }
            }
        }
        return labels;
    }

    /** Groups by number: their names are not kept. */
    private static Categories groups(String name, int[] codes) {
        int most = IntStream.of(codes).max().orElse(0);
        Checks.that(most < codes.length, "group %d of %d rows", most, codes.length);
        int width = Integer.toString(most).length();
        return Categories.ofCodes(
                name,
                IntStream.rangeClosed(0, most)
                        .mapToObj(i -> String.format(java.util.Locale.ROOT, "%0" + width + "d", i))
                        .toList(),
                codes);
    }
}
