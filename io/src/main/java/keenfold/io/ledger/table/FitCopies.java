package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** Copies fits, with their scores and predictions, from one ledger to another, as they stand in their rows. */
public final class FitCopies implements AutoCloseable {
    private final Connection into;
    private final PreparedStatement find;
    private final PreparedStatement fit;
    private final PreparedStatement score;
    private final PreparedStatement prediction;
    private final PreparedStatement ownFit;
    private final PreparedStatement ownScores;
    private final PreparedStatement ownPrediction;

    /**
     * A fit that the ledger has already.
     *
     * @param id of its row
     * @param ok whether it did not fail
     */
    public record There(int id, boolean ok) {}

    /** @param into the ledger that fits are written to */
    public FitCopies(Connection into) throws SQLException {
        this.into = into;
        this.find = into.prepareStatement("SELECT id, status FROM fit WHERE purpose = ? AND"
                + " resample = ? AND dataset = ? AND candidate = ? AND repeat = ? AND fold = ?");
        this.fit = into.prepareStatement("INSERT INTO fit (crc, "
                + String.join(", ", Checksum.FIT) + ") VALUES (?, "
                + String.join(", ", java.util.Collections.nCopies(Checksum.FIT.size(), "?")) + ") RETURNING id");
        this.score = into.prepareStatement("INSERT INTO score VALUES (?, ?, ?, ?)");
        this.prediction = into.prepareStatement("INSERT INTO prediction VALUES (?, ?, ?)");
        this.ownFit = into.prepareStatement(FitRow.FIT);
        this.ownScores = into.prepareStatement(FitRow.SCORES);
        this.ownPrediction = into.prepareStatement(FitRow.PREDICTION);
    }

    private void place(PreparedStatement to, FitRow row) throws SQLException {
        to.setString(1, row.purpose);
        to.setInt(2, row.resample);
        to.setInt(3, row.dataSet);
        to.setInt(4, row.candidate);
        to.setInt(5, row.repeat);
        to.setInt(6, row.fold);
    }

    /** Returns the fit of the same place, if it is there. */
    public Optional<There> find(FitRow row) throws SQLException {
        place(find, row);
        try (ResultSet found = find.executeQuery()) {
            return found.next()
                    ? Optional.of(new There(found.getInt(1), found.getString(2).equals("ok")))
                    : Optional.empty();
        }
    }

    /** Reads a fit that is there. */
    public FitRow read(There there) throws SQLException {
        return FitRow.read(there.id, ownFit, ownScores, ownPrediction).orElseThrow();
    }

    /** Takes a fit away. */
    public void forget(There failed) throws SQLException {
        for (String table : List.of("score", "prediction")) {
            Rows.write(into, "DELETE FROM " + table + " WHERE fit = ?", failed.id);
        }
        Rows.write(into, "DELETE FROM fit WHERE id = ?", failed.id);
    }

    /** Writes a fit with its scores and predictions, and with the checksum that they have where it stands now. */
    public void write(FitValues values, FitRow row) throws SQLException {
        fit.setLong(1, values.checksum(row));
        for (int i = 0; i < row.columns.length; i++) {
            fit.setObject(2 + i, row.columns[i]);
        }
        int id;
        try (ResultSet made = fit.executeQuery()) {
            made.next();
            id = made.getInt(1);
        }
        FitTable.write(score, id, row.scores);
        if (row.probabilities.isPresent()) {
            prediction.setInt(1, id);
            prediction.setBytes(2, row.probabilities.get());
            if (row.labels.isPresent()) {
                prediction.setBytes(3, row.labels.get());
            } else {
                prediction.setNull(3, java.sql.Types.BLOB);
            }
            prediction.executeUpdate();
        }
    }

    /** Writes other scores of a fit that is there; its checksum changes with them. */
    public static void rescore(Connection connection, FitValues values, FitRow row) throws SQLException {
        Rows.write(connection, "DELETE FROM score WHERE fit = ?", row.id);
        try (PreparedStatement score = connection.prepareStatement("INSERT INTO score VALUES (?, ?, ?, ?)")) {
            FitTable.write(score, row.id, row.scores);
        }
        Rows.write(connection, "UPDATE fit SET crc = ? WHERE id = ?", values.checksum(row), row.id);
    }

    @Override
    public void close() throws SQLException {
        for (PreparedStatement one : List.of(find, fit, score, prediction, ownFit, ownScores, ownPrediction)) {
            one.close();
        }
    }
}
