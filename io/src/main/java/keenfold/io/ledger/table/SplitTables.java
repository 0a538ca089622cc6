package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.split.Splits;

/** The tables {@code split} and {@code side}: partitions by the fold of each row, other splits by the rows of each side. */
public final class SplitTables {
    private SplitTables() {}

    /**
     * Writes the splits of a data set.
     *
     * @param first the first repeat that is written, from 0: those before it are there
     */
    public static void add(Connection connection, int id, Splits splits, int first) throws SQLException {
        for (int r = first; r < splits.repeats(); r++) {
            if (splits.namesSides()) {
                for (int f = 0; f < splits.folds(r); f++) {
                    Rows.write(
                            connection,
                            "INSERT INTO side VALUES (?, ?, ?, ?)",
                            id,
                            r,
                            f,
                            Blobs.ofInts(splits.countsOf(r, f)));
                }
            } else {
                Rows.write(connection, "INSERT INTO split VALUES (?, ?, ?)", id, r, Blobs.ofInts(splits.foldsOf(r)));
            }
        }
    }

    /** Reads the splits of a data set. */
    public static Splits read(Connection connection, int dataset, int rows, String form) throws SQLException {
        List<int[]> repeats = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement("SELECT folds FROM split WHERE dataset = ? ORDER BY repeat")) {
            query.setInt(1, dataset);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    repeats.add(Blobs.ints(row.getBytes(1), rows));
                }
            }
        }
        if (!repeats.isEmpty()) {
            return Splits.elsewhere(repeats.toArray(int[][]::new));
        }
        List<int[]> sides = new ArrayList<>();
        List<Integer> folds = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(
                "SELECT repeat, counts FROM side WHERE dataset = ? ORDER BY repeat, fold")) {
            query.setInt(1, dataset);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    int repeat = row.getInt(1);
                    Checks.that(
                            repeat == folds.size() || repeat == folds.size() - 1,
                            "repeat %d after %d of them",
                            repeat + 1,
                            folds.size());
                    while (folds.size() <= repeat) {
                        folds.add(0);
                    }
                    folds.set(repeat, folds.get(repeat) + 1);
                    sides.add(Blobs.ints(row.getBytes(2), rows));
                }
            }
        }
        int[] perRepeat = folds.stream().mapToInt(Integer::intValue).toArray();
        return Splits.sides(Splits.Form.of(form), perRepeat, sides.toArray(int[][]::new));
    }
}
