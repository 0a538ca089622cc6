package keenfold.io.ledger;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.ledger.table.Checksum;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.sqlite.SqliteFile;

/** Alters ledgers as somebody would who knows how their checksums are made. */
public final class LedgerForger {
    private static final int MOST_VALUES = 256;

    private LedgerForger() {}

    /** Carries out a command on a ledger, and makes all checksums anew. */
    public static void forge(Path ledger, String command, Object... values) throws SQLException {
        forge(ledger, true, command, values);
    }

    /** Carries out a command on what a ledger says beside its fits, and makes the checksum of that anew. */
    public static void forgeHead(Path ledger, String command, Object... values) throws SQLException {
        forge(ledger, false, command, values);
    }

    private static void forge(Path ledger, boolean fits, String command, Object... values) throws SQLException {
        try (Connection connection = SqliteFile.open(ledger, SqliteFile.Access.WRITE)) {
            connection.setAutoCommit(false);
            try (PreparedStatement statement = connection.prepareStatement(command)) {
                for (int i = 0; i < values.length; i++) {
                    statement.setObject(i + 1, values[i]);
                }
                statement.executeUpdate();
            }
            Head.seal(connection);
            if (fits) {
                reseal(connection);
            }
            connection.commit();
        }
    }

    /** Returns numbers as a ledger keeps them. */
    public static byte[] blob(int... values) {
        return Blobs.ofInts(values);
    }

    /** Returns numbers as a ledger keeps them. */
    public static byte[] blob(double... values) {
        return Blobs.ofDoubles(values);
    }

    /** Gives every fit the checksum of what it says now. */
    private static void reseal(Connection connection) throws SQLException {
        List<Integer> ids = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT id FROM fit")) {
            while (row.next()) {
                ids.add(row.getInt(1));
            }
        }
        try (PreparedStatement fit = connection.prepareStatement(FitRow.FIT);
                PreparedStatement scores = connection.prepareStatement(FitRow.SCORES);
                PreparedStatement prediction = connection.prepareStatement(FitRow.PREDICTION);
                PreparedStatement seal = connection.prepareStatement("UPDATE fit SET crc = ? WHERE id = ?")) {
            for (int id : ids) {
                Optional<FitRow> row = FitRow.read(id, fit, scores, prediction);
                if (row.isPresent()) {
                    seal.setLong(1, crc(row.get()));
                    seal.setInt(2, id);
                    seal.executeUpdate();
                }
            }
        }
    }

    /** Predictions have as many values as can be unpacked. */
    private static long crc(FitRow row) {
        byte[] probabilities = row.probabilities.orElse(new byte[0]);
        double[] predictions = new double[0];
        for (int n = MOST_VALUES; n > 0 && predictions.length == 0; n--) {
            try {
                int count = n;
                predictions =
                        Blobs.followed(Blobs.doubles(probabilities, count), row.labels.map(b -> Blobs.ints(b, count)));
            } catch (IllegalArgumentException e) {
                predictions = new double[0];
            }
        }
        return Checksum.ofFit(row.columns, row.scores, predictions);
    }
}
