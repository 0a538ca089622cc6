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
import keenfold.core.data.Checks;
import keenfold.core.data.ValueException;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;

/**
 * The tables of fits, scores and predictions of a ledger, read as fits. What does not agree with its checksum, or cannot be,
 * is an {@link IllegalArgumentException} that says of which fit.
 */
public final class StoredFits {
    /** By data set, candidate, repeat and fold; in one method, since a million fits are compared twenty million times. */
    private static final Comparator<Fit> ORDER = (a, b) -> {
        if (a.task() != b.task()) {
            return Integer.compare(a.task(), b.task());
        }
        if (a.candidate() != b.candidate()) {
            return Integer.compare(a.candidate(), b.candidate());
        }
        return a.repeat() != b.repeat() ? Integer.compare(a.repeat(), b.repeat()) : Integer.compare(a.fold(), b.fold());
    };

    /** How many fits are decoded at a time. */
    private static final int BATCH = 512;

    /** More of them would wait for the database. */
    private static final int DECODERS = 2;

    /** So many scores are looked at to know the metrics. */
    private static final int MANY = 10_000;

    /** A ledger of more metrics is not what it seems. */
    private static final int MOST_NUMBERED = 64;

    private final Connection connection;
    private final TestedRows tested;
    private Optional<List<String>> metrics = Optional.empty();

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
        List<FitRow> batch = new ArrayList<>();
        int threads = Math.min(DECODERS, Runtime.getRuntime().availableProcessors());
        try (Parallel.Ahead<List<Fit>> decoded = Parallel.of(threads).ahead(fits::addAll)) {
            each(FitRow.RUN, row -> {
                batch.add(row);
                if (batch.size() == BATCH) {
                    List<FitRow> full = List.copyOf(batch);
                    decoded.add(() -> fits(full, places));
                    batch.clear();
                }
            });
            decoded.add(() -> fits(batch, places));
            decoded.finish();
        }
        fits.sort(ORDER);
        return fits;
    }

    private List<Fit> fits(List<FitRow> rows, Places places) {
        List<Fit> fits = new ArrayList<>(rows.size());
        for (FitRow row : rows) {
            int t = places.dataSet(row.dataSet, row.repeat);
            int c = places.candidate(row.candidate);
            if (t >= 0 && c >= 0) {
                fits.add(fit(row, t, c));
            }
        }
        return fits;
    }

    /** Hands over all fits of a purpose, by id. */
    private void each(String purpose, Taker taker) throws SQLException {
        each(purpose, Integer.MIN_VALUE, Integer.MAX_VALUE, taker);
    }

    /** Hands over the fits of a purpose whose ids are within bounds, by id. */
    public void each(String purpose, int from, int to, Taker taker) throws SQLException {
        List<String> metrics = metrics();
        try (Statement one = connection.createStatement();
                PreparedStatement other = connection.prepareStatement(scores(metrics.size(), purpose, from, to));
                ResultSet row = one.executeQuery(fits(purpose, from, to));
                ResultSet score = results(other, metrics)) {
            boolean more = score.next();
            FitRow.Places places = new FitRow.Places(row);
            while (row.next()) {
                int id = row.getInt(places.id);
                List<StoredScore> scores = new ArrayList<>();
                while (more && score.getInt(1) <= id) {
                    if (score.getInt(1) == id) {
                        scores.add(score(score, metrics));
                    }
                    more = score.next();
                }
                taker.take(FitRow.of(row, places, scores));
            }
        }
    }

    /** By the table and not by its index, of which a damaged entry would hide a fit. */
    private static String fits(String purpose, int from, int to) {
        return "SELECT fit.*, prediction.probabilities, prediction.labels FROM fit NOT INDEXED LEFT JOIN prediction ON"
                + " prediction.fit = fit.id WHERE purpose = '" + purpose + "' AND fit.id BETWEEN " + from + " AND " + to
                + " ORDER BY fit.id";
    }

    /**
     * Sides and metrics come by number, since texts take longer to hand over than all else of a score; those of no number as
     * they are. Of few fits among many, scores of the others are left out by a join, whose cross keeps scores in the order in
     * which they lie; of the fits of the run, which are most, finding each score's fit would take longer than the scores.
     */
    private static String scores(int metrics, String purpose, int from, int to) {
        StringBuilder number = new StringBuilder("CASE metric");
        for (int m = 0; m < metrics; m++) {
            number.append(" WHEN ? THEN ").append(m);
        }
        String known = metrics == 0 ? "-1" : number.append(" ELSE -1 END").toString();
        String few = purpose.equals(FitRow.RUN)
                ? " WHERE "
                : " CROSS JOIN fit ON fit.id = score.fit WHERE purpose = '" + purpose + "' AND ";
        return "SELECT score.fit, CASE side WHEN '" + StoredScore.TEST + "' THEN 0 WHEN '" + StoredScore.TRAIN
                + "' THEN 1 ELSE -1 END, " + known
                + ", value, side, metric FROM score" + few + "score.fit BETWEEN " + from + " AND " + to
                + " ORDER BY score.fit, score.side, score.metric";
    }

    private static ResultSet results(PreparedStatement statement, List<String> metrics) throws SQLException {
        for (int m = 0; m < metrics.size(); m++) {
            statement.setString(m + 1, metrics.get(m));
        }
        return statement.executeQuery();
    }

    private static StoredScore score(ResultSet row, List<String> metrics) throws SQLException {
        int side = row.getInt(2);
        int metric = row.getInt(3);
        double value = row.getDouble(4);
        double known = value == 0 && row.wasNull() ? Double.NaN : value;
        return new StoredScore(
                side < 0 ? String.valueOf(row.getString(5)) : side == 0 ? StoredScore.TEST : StoredScore.TRAIN,
                metric < 0 ? String.valueOf(row.getString(6)) : metrics.get(metric),
                known);
    }

    /** The metrics of the first scores, which are all of them as a rule. */
    private List<String> metrics() throws SQLException {
        if (metrics.isPresent()) {
            return metrics.get();
        }
        List<String> names = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT DISTINCT metric FROM (SELECT metric FROM score LIMIT "
                        + MANY + ") ORDER BY metric LIMIT " + MOST_NUMBERED)) {
            while (row.next()) {
                names.add(String.valueOf(row.getString(1)));
            }
        }
        metrics = Optional.of(List.copyOf(names));
        return names;
    }

    /**
     * Reads the values of a fit.
     *
     * @throws IllegalArgumentException if they do not agree with its checksum, or cannot be what a fit says
     */
    public FitValues values(FitRow row) {
        try {
            return FitValues.of(row, tested.task(row), tested.of(row));
        } catch (ValueException e) {
            throw Checks.wrong(place(row) + ": " + e.getMessage(), e);
        }
    }

    private Fit fit(FitRow row, int t, int c) {
        FitValues values = values(row);
        try {
            return values.fit(t, c);
        } catch (ValueException e) {
            throw Checks.wrong(place(row) + " " + e.getMessage(), e);
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
