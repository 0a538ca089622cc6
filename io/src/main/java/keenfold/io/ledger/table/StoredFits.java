package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;

/**
 * The tables of fits, scores and predictions of a ledger, read as fits. What does not agree with its checksum, or cannot be,
 * is an {@link IllegalArgumentException} that says of which fit.
 */
public final class StoredFits {
    private static final Comparator<Fit> ORDER = Comparator.comparingInt(Fit::task)
            .thenComparingInt(Fit::candidate)
            .thenComparingInt(Fit::repeat)
            .thenComparingInt(Fit::fold);

    private final Connection connection;
    private final TestedRows tested;

    /** @param tested which rows fits were tested on */
    public StoredFits(Connection connection, TestedRows tested) {
        this.connection = connection;
        this.tested = tested;
    }

    /** Which fits are wanted, and how the reader numbers their data sets and candidates. */
    public interface Places {
        /** What is not wanted. */
        int NOWHERE = -1;

        /**
         * Returns the number of a data set, by its id and a repeat of it.
         *
         * @throws IllegalArgumentException if there is none of this id, or no such repeat
         */
        int dataSet(int id, int repeat);

        /**
         * Returns the number of a candidate, by its id.
         *
         * @throws IllegalArgumentException if there is none of this id
         */
        int candidate(int id);
    }

    /** Takes fits as they stand in their rows. */
    public interface Taker {
        /** Takes one; its values have not been looked at. */
        void take(FitRow row) throws SQLException;
    }

    /** Returns how many there are by their index: a page that lost some of its rows is not otherwise seen. */
    public int counted() throws SQLException {
        return Rows.number(connection, "SELECT count(*) FROM fit INDEXED BY sqlite_autoindex_fit_1");
    }

    /** Returns how many there are by their table. */
    public int count() throws SQLException {
        return Rows.number(connection, "SELECT count(*) FROM fit NOT INDEXED WHERE purpose IN ('cv', 'half')");
    }

    /** Returns fits of runs on halves of the rows; which rows those were follows from the seed. */
    public List<HalfFit> ofHalves(Places places) throws SQLException {
        List<HalfFit> halves = new ArrayList<>();
        each(FitRow.HALF, row -> {
            int t = places.dataSet(row.dataSet, 0);
            int c = places.candidate(row.candidate);
            if (t >= 0 && c >= 0) {
                halves.add(new HalfFit(row.resample, fit(row, t, c)));
            }
        });
        halves.sort(Comparator.comparingInt(HalfFit::half).thenComparing(HalfFit::fit, ORDER));
        return halves;
    }

    /** Returns the fits of the splits, in the reader's order. */
    public List<Fit> ofSplits(Places places) throws SQLException {
        List<Fit> fits = new ArrayList<>();
        each(FitRow.RUN, row -> {
            int t = places.dataSet(row.dataSet, row.repeat);
            int c = places.candidate(row.candidate);
            if (t >= 0 && c >= 0) {
                fits.add(fit(row, t, c));
            }
        });
        fits.sort(ORDER);
        return fits;
    }

    /** Hands over all fits of a purpose, by id. */
    private void each(String purpose, Taker taker) throws SQLException {
        each(purpose, Integer.MIN_VALUE, Integer.MAX_VALUE, taker);
    }

    /** Hands over the fits of a purpose whose ids are within bounds, by id. */
    public void each(String purpose, int from, int to, Taker taker) throws SQLException {
        try (Statement one = connection.createStatement();
                Statement other = connection.createStatement();
                ResultSet row = one.executeQuery(fits(purpose, from, to));
                ResultSet score = other.executeQuery(scores(purpose, from, to))) {
            boolean more = score.next();
            while (row.next()) {
                int id = row.getInt("id");
                List<StoredScore> scores = new ArrayList<>();
                while (more && score.getInt(1) <= id) {
                    if (score.getInt(1) == id) {
                        scores.add(FitRow.score(score, 2));
                    }
                    more = score.next();
                }
                taker.take(FitRow.of(row, scores));
            }
        }
    }

    /** By the table and not by its index, of which a damaged entry would hide a fit. */
    private static String fits(String purpose, int from, int to) {
        return "SELECT fit.*, prediction.probabilities, prediction.labels FROM fit NOT INDEXED LEFT JOIN prediction ON"
                + " prediction.fit = fit.id WHERE purpose = '" + purpose + "' AND fit.id BETWEEN " + from + " AND " + to
                + " ORDER BY fit.id";
    }

    /** The cross join keeps scores in the order in which they lie. */
    private static String scores(String purpose, int from, int to) {
        return "SELECT fit.id, side, metric, value FROM score CROSS JOIN fit ON fit.id = score.fit WHERE purpose = '"
                + purpose + "' AND score.fit BETWEEN " + from + " AND " + to + " ORDER BY score.fit, side, metric";
    }

    /**
     * Reads the values of a fit.
     *
     * @throws IllegalArgumentException if they do not agree with its checksum, or cannot be what a fit says
     */
    public FitValues values(FitRow row) {
        try {
            return FitValues.of(row, tested.task(row), tested.of(row));
        } catch (IllegalArgumentException | IndexOutOfBoundsException e) {
            throw new IllegalArgumentException(place(row) + ": " + e.getMessage(), e);
        }
    }

    private Fit fit(FitRow row, int t, int c) {
        FitValues values = values(row);
        try {
            return values.fit(t, c);
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException(place(row) + " " + e.getMessage(), e);
        }
    }

    private static String place(FitRow row) {
        return String.format(
                java.util.Locale.ROOT,
                "fit of candidate %d, repeat %d, fold %d",
                row.candidate + 1,
                row.repeat + 1,
                row.fold + 1);
    }
}
