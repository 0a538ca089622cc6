package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Task;
import keenfold.core.split.Splits;
import keenfold.io.table.DataSpec;
import keenfold.io.table.Fingerprint;
import keenfold.io.table.LoadedData;

/** The tables {@code dataset} and {@code class}: rows, classes and groups of each data set, but no values of columns. */
public final class DataSetTable {
    private DataSetTable() {}

    /**
     * A data set of a ledger.
     *
     * @param id of its row, by which fits name it
     * @param place where it stands in the plan in force, from 0; none if it is not in it any more
     * @param plan the version of the plan that says what it is
     * @param named what it is called there
     * @param name what it is called now
     * @param fingerprint of the values of its used columns
     * @param repeats how many the plan asks for; the splits of more may be there
     */
    public record Row(
            int id, OptionalInt place, int plan, String named, String name, String fingerprint, int repeats) {}

    /** Reads all data sets, by id. */
    public static List<Row> read(Connection connection) throws SQLException {
        List<Row> rows = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "SELECT id, place, plan, named, name, fingerprint, repeats FROM dataset ORDER BY id")) {
            while (row.next()) {
                rows.add(new Row(
                        row.getInt(1),
                        Rows.place(row, 2),
                        row.getInt(3),
                        row.getString(4),
                        row.getString(5),
                        row.getString(6),
                        row.getInt(7)));
            }
        }
        return rows;
    }

    /** Reads the fingerprints of the data sets of the plan, in its order. */
    public static List<String> fingerprints(Connection connection) throws SQLException {
        return read(connection).stream()
                .filter(r -> r.place().isPresent())
                .sorted(Comparator.comparingInt(r -> r.place().getAsInt()))
                .map(Row::fingerprint)
                .toList();
    }

    /**
     * Writes a data set with its classes and splits.
     *
     * @param file as the plan names it
     */
    public static void add(Connection connection, Row as, String file, LoadedData loaded, Task task)
            throws SQLException {
        DataSet data = task.data();
        int[] groups = data.groups().map(Categories::codes).orElse(new int[0]);
        int[] counts = data.classCounts();
        Optional<DataSet> heldBack = loaded.heldBack();
        Rows.write(
                connection,
                "INSERT INTO dataset VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                as.id(),
                Rows.orNull(as.place()),
                as.plan(),
                as.named(),
                as.name(),
                file,
                as.fingerprint(),
                data.rows(),
                as.repeats(),
                task.splits().mostFolds(),
                data.classes().positiveLabel(),
                Blobs.ofInts(data.sourceRows()),
                Blobs.ofInts(data.targets()),
                groups.length > 0 ? Blobs.ofInts(groups) : null,
                task.splits().form().label(),
                heldBack.map(h -> Blobs.ofInts(h.sourceRows())).orElse(null),
                heldBack.map(Fingerprint::ofHeldBack).orElse(null));
        for (int c = 0; c < counts.length; c++) {
            Rows.write(
                    connection,
                    "INSERT INTO class VALUES (?, ?, ?, ?)",
                    as.id(),
                    c,
                    data.classes().labels().get(c),
                    counts[c]);
        }
        SplitTables.add(connection, as.id(), task.splits(), 0);
    }

    /**
     * Says of a data set that is there what a new plan says of it.
     *
     * @param as with the place, the version of the plan, the names and the repeats that it has now
     * @param splits those of the plan; further repeats than are there are added
     */
    public static void update(Connection connection, Row as, String file, Splits splits, int repeatsThere)
            throws SQLException {
        Rows.write(
                connection,
                "UPDATE dataset SET place = ?, plan = ?, named = ?, name = ?, file = ?, repeats = ?, folds = ? WHERE id = ?",
                Rows.orNull(as.place()),
                as.plan(),
                as.named(),
                as.name(),
                file,
                as.repeats(),
                splits.mostFolds(),
                as.id());
        extend(connection, as.id(), splits, repeatsThere);
    }

    /** Adds the splits of further repeats than are there, which may belong together in another way. */
    public static void extend(Connection connection, int id, Splits splits, int repeatsThere) throws SQLException {
        if (splits.repeats() > repeatsThere) {
            Rows.write(
                    connection,
                    "UPDATE dataset SET form = ? WHERE id = ?",
                    splits.form().label(),
                    id);
            SplitTables.add(connection, id, splits, repeatsThere);
        }
    }

    /** Says of a data set of which only results were adopted what its table says. */
    public static void describe(Connection connection, int id, LoadedData loaded) throws SQLException {
        Optional<DataSet> heldBack = loaded.heldBack();
        Optional<Categories> groups = loaded.data().groups();
        Rows.write(
                connection,
                "UPDATE dataset SET fingerprint = ?, groups = ?, held_back = ?, held_back_fingerprint = ? WHERE id = ?",
                loaded.fingerprint(),
                groups.map(g -> Blobs.ofInts(g.codes())).orElse(null),
                heldBack.map(h -> Blobs.ofInts(h.sourceRows())).orElse(null),
                heldBack.map(Fingerprint::ofHeldBack).orElse(null),
                id);
    }

    /** Says where a data set stands in a plan, with how many of its repeats. */
    public static void place(Connection connection, int id, int place, int plan, DataSpec spec, int repeats)
            throws SQLException {
        Rows.write(
                connection,
                "UPDATE dataset SET place = ?, plan = ?, named = ?, file = ?, repeats = ? WHERE id = ?",
                place,
                plan,
                spec.name(),
                spec.file(),
                repeats,
                id);
    }

    /** Takes all data sets out of the plan. */
    public static void unplace(Connection connection) throws SQLException {
        Rows.write(connection, "UPDATE dataset SET place = NULL");
    }

    /** Calls a data set otherwise. */
    public static void rename(Connection connection, int id, String name) throws SQLException {
        Rows.write(connection, "UPDATE dataset SET name = ? WHERE id = ?", name, id);
    }

    /** Takes a data set away, its splits and fits included. */
    public static void remove(Connection connection, int id) throws SQLException {
        FitTable.removeOf(connection, "dataset", id);
        for (String table : List.of("class", "split", "side")) {
            Rows.write(connection, "DELETE FROM " + table + " WHERE dataset = ?", id);
        }
        Rows.write(connection, "DELETE FROM dataset WHERE id = ?", id);
    }

    /** Writes down the fingerprint of the rows of a data set that are held back. */
    public static void setHeldBack(Connection connection, String name, String fingerprint) throws SQLException {
        Rows.write(connection, "UPDATE dataset SET held_back_fingerprint = ? WHERE name = ?", fingerprint, name);
    }

    /** Returns the fingerprint of the rows of a data set that are held back, if it is written down. */
    public static Optional<String> heldBack(Connection connection, String name) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("SELECT held_back_fingerprint FROM dataset WHERE name = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                return row.next() ? Optional.ofNullable(row.getString(1)) : Optional.empty();
            }
        }
    }

    /**
     * Reads a data set with its classes and splits, those of further repeats than the plan asks for included.
     *
     * @param name what it is called
     * @param spec what the plan says of it
     * @return empty if there is none of this id
     * @throws IllegalArgumentException if a value is not one that a ledger can hold
     */
    public static Optional<Task> read(
            Connection connection, int id, String name, DataSpec spec, List<MetricName> metrics) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("SELECT * FROM dataset WHERE id = ?")) {
            query.setInt(1, id);
            try (ResultSet row = query.executeQuery()) {
                return row.next() ? Optional.of(task(connection, id, name, row, spec, metrics)) : Optional.empty();
            }
        }
    }

    private static Task task(
            Connection connection, int id, String name, ResultSet row, DataSpec spec, List<MetricName> metrics)
            throws SQLException {
        int rows = row.getInt("rows");
        Checks.that(rows >= 1, "%d rows", rows);
        List<String> labels = labels(connection, id);
        Classes classes = new Classes(labels, labels.indexOf(row.getString("positive")));
        Optional<Categories> groups = Optional.ofNullable(row.getBytes("groups"))
                .map(b -> groups(spec.groups().orElse("group"), Blobs.ints(b, rows)));
        int[] sourceRows = Blobs.ints(blob(row, "source_rows"), rows);
        for (int i = 0; i < rows; i++) {
            Checks.that(
                    sourceRows[i] >= (i == 0 ? 1 : sourceRows[i - 1]),
                    "row %d of the file after row %d",
                    sourceRows[i],
                    i == 0 ? 0 : sourceRows[i - 1]);
        }
        DataSet data = DataSet.of(
                name, new Table(rows, List.of()), classes, Blobs.ints(blob(row, "targets"), rows), groups, sourceRows);
        Splits splits = SplitTables.read(connection, id, rows, row.getString("form"));
        int repeats = row.getInt("repeats");
        Checks.that(repeats >= 1 && repeats <= splits.repeats(), "%d repeats, of %d", repeats, splits.repeats());
        return Task.of(data, splits, metrics);
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
