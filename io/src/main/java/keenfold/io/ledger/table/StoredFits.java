package keenfold.io.ledger.table;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.FitDetails;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.io.plan.Plan;

/**
 * The tables of fits, scores and predictions of a ledger, read as fits. What does not agree with its checksum, or cannot be,
 * is an {@link IllegalArgumentException} that says of which fit.
 */
public final class StoredFits {
    /** By the table and not by its index, of which a damaged entry would hide a fit. */
    private static final String FITS = "SELECT fit.*, prediction.probabilities, prediction.labels FROM fit NOT INDEXED"
            + " LEFT JOIN prediction ON prediction.fit = fit.id WHERE purpose = ";

    private static final Comparator<Fit> ORDER = Comparator.comparingInt(Fit::task)
            .thenComparingInt(Fit::candidate)
            .thenComparingInt(Fit::repeat)
            .thenComparingInt(Fit::fold);

    private final Connection connection;
    private final Plan plan;
    private final List<Task> tasks;
    private final Results.Kept kept;

    /** @param tasks of the plan, in order */
    public StoredFits(Connection connection, Plan plan, List<Task> tasks, Results.Kept kept) {
        this.connection = connection;
        this.plan = plan;
        this.tasks = List.copyOf(tasks);
        this.kept = kept;
    }

    /** Returns how many there are by their index: a page that lost some of its rows is not otherwise seen. */
    public int counted() throws SQLException {
        return Rows.number(connection, "SELECT count(*) FROM fit INDEXED BY sqlite_autoindex_fit_1");
    }

    /** Returns how many fits of runs on halves of the rows there are, by their table. */
    public int countOfHalves() throws SQLException {
        return Rows.number(connection, "SELECT count(*) FROM fit NOT INDEXED WHERE purpose = '" + FitRow.HALF + "'");
    }

    /** Returns fits of runs on halves of the rows; which rows those were follows from the seed. */
    public List<HalfFit> ofHalves() throws SQLException {
        Optional<KFold> scheme =
                plan.division().scheme().filter(KFold.class::isInstance).map(KFold.class::cast);
        String purpose = "'" + FitRow.HALF + "'";
        List<HalfFit> halves = new ArrayList<>();
        if (scheme.isEmpty() || Rows.number(connection, "SELECT count(*) FROM fit WHERE purpose = " + purpose) == 0) {
            return halves;
        }
        int repeats = 1 + Rows.number(connection, "SELECT max(repeat) FROM fit WHERE purpose = " + purpose);
        // A number that somebody wrote into the file must not decide how much is allocated.
        Checks.that(repeats <= Halving.MOST_REPEATS, "a fit is of repeat %d of a half", repeats);
        Map<Integer, double[]> scores = scores("test", FitRow.HALF);
        Map<List<Integer>, int[][][]> testRows = new HashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(FITS + purpose)) {
            while (row.next()) {
                int number = row.getInt("resample");
                Task task = taskOf(row, repeats);
                int[] test = testRows.computeIfAbsent(
                                List.of(row.getInt("dataset"), number),
                                k -> Halves.testRows(
                                        task, scheme.get(), repeats, plan.seed().orElse(0L), number))[
                        row.getInt("repeat")][row.getInt("fold")];
                halves.add(new HalfFit(number, fit(row, task, test, scores, Map.of())));
            }
        }
        halves.sort(Comparator.comparingInt(HalfFit::half).thenComparing(HalfFit::fit, ORDER));
        return halves;
    }

    /** Returns the fits of the splits, in plan order. */
    public List<Fit> ofSplits() throws SQLException {
        Map<Integer, double[]> scores = scores("test", FitRow.RUN);
        Map<Integer, double[]> trainScores = scores("train", FitRow.RUN);
        Map<List<Integer>, int[]> testRows = new HashMap<>();
        boolean scoresOnly = kept == Results.Kept.SCORES;
        List<Fit> fits = new ArrayList<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(FITS + "'" + FitRow.RUN + "'")) {
            while (row.next()) {
                int t = row.getInt("dataset");
                int r = row.getInt("repeat");
                int f = row.getInt("fold");
                Task task = taskOf(row, 0);
                int[] test = scoresOnly
                        ? new int[0]
                        : testRows.computeIfAbsent(
                                List.of(t, r, f),
                                k -> task.splits().at(r, f).test().toArray());
                fits.add(fit(row, task, test, scores, trainScores));
            }
        }
        fits.sort(ORDER);
        return fits;
    }

    private Map<Integer, double[]> scores(String side, String purpose) throws SQLException {
        Map<Integer, double[]> scores = new HashMap<>();
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("SELECT fit, metric, value, dataset FROM score JOIN fit"
                        + " ON fit.id = score.fit WHERE side = '" + side + "' AND purpose = '" + purpose + "'")) {
            while (row.next()) {
                int t = row.getInt(4);
                if (t < 0 || t >= tasks.size()) {
                    // The fit will be found to be damaged.
                    continue;
                }
                List<Metric> metrics = tasks.get(t).metrics();
                String name = row.getString(2);
                double value = row.getDouble(3);
                double known = row.wasNull() ? Double.NaN : value;
                double[] own = scores.computeIfAbsent(row.getInt(1), k -> new double[metrics.size()]);
                for (int m = 0; m < own.length; m++) {
                    if (metrics.get(m).name().equals(name)) {
                        own[m] = known;
                    }
                }
            }
        }
        return scores;
    }

    private Fit fit(
            ResultSet row, Task task, int[] test, Map<Integer, double[]> scores, Map<Integer, double[]> trainScores)
            throws SQLException {
        int candidate = row.getInt("candidate");
        int repeat = row.getInt("repeat");
        int fold = row.getInt("fold");
        String place = place(row);
        double[] own = scores.getOrDefault(row.getInt("id"), new double[0]);
        double[] ownTrain = trainScores.getOrDefault(row.getInt("id"), new double[0]);
        boolean ok = "ok".equals(row.getString("status"));
        if (ok && own.length != task.metrics().size()) {
            throw new IllegalArgumentException(place + " has no scores");
        }
        if (DoubleStream.concat(DoubleStream.of(own), DoubleStream.of(ownTrain)).anyMatch(Double::isInfinite)) {
            throw new IllegalArgumentException(place + " has a score that is infinite");
        }
        int kept = task.data().classes().count() - 1;
        double[] stored = new double[0];
        Optional<int[]> labels = Optional.empty();
        if (ok) {
            byte[] blob = Optional.ofNullable(row.getBytes("probabilities")).orElseThrow(() -> damaged(place));
            try {
                stored = Blobs.doubles(blob, test.length * kept);
                labels = Optional.ofNullable(row.getBytes("labels")).map(b -> Blobs.ints(b, test.length));
                Checks.that(DoubleStream.of(stored).allMatch(Double::isFinite), "a probability is not finite");
                Checks.that(
                        labels.stream().flatMapToInt(IntStream::of).allMatch(c -> c >= 0 && c <= kept),
                        "a label is none of the classes");
            } catch (IllegalArgumentException e) {
                throw damaged(place);
            }
        }
        if (Checksum.ofFit(Checksum.columns(row), own, Blobs.followed(stored, labels), ownTrain)
                != row.getLong("crc")) {
            throw damaged(place);
        }
        Fit.Times times = new Fit.Times(
                number(row, "train_seconds"),
                number(row, "train_cpu_seconds"),
                number(row, "predict_seconds"),
                number(row, "predict_cpu_seconds"));
        double stands = number(row, "threshold");
        double size = number(row, "size");
        if (Double.isInfinite(stands) || Double.isInfinite(size) || size < 0) {
            throw new IllegalArgumentException(place + " has a size or a threshold that cannot be");
        }
        OptionalDouble threshold = Double.isNaN(stands) ? OptionalDouble.empty() : OptionalDouble.of(stands);
        int columns = row.getInt("columns");
        columns = row.wasNull() ? -1 : columns;
        FitDetails making = new FitDetails(
                Optional.ofNullable(row.getString("chosen")).orElse(""), row.getBoolean("shared"), threshold, columns);
        Optional<Fit.Result> result = Optional.empty();
        if (ok) {
            int[] actual = task.data().targets(test);
            double[] all = whole(stored, kept + 1);
            Outcomes plain = labels.isPresent()
                    ? Outcomes.of(kept + 1, fold, test, actual, all, labels.get())
                    : Outcomes.of(kept + 1, fold, test, actual, all);
            Outcomes outcomes = threshold.isPresent()
                    ? plain.withThreshold(task.data().classes().positive(), threshold.getAsDouble())
                    : plain;
            result = Optional.of(new Fit.Result(outcomes, own, ownTrain));
        }
        return new Fit(
                row.getInt("dataset"), candidate, repeat, fold, times, size, result, row.getString("message"), making);
    }

    private static String place(ResultSet row) throws SQLException {
        return String.format(
                java.util.Locale.ROOT,
                "fit of candidate %d, repeat %d, fold %d",
                row.getInt("candidate") + 1,
                row.getInt("repeat") + 1,
                row.getInt("fold") + 1);
    }

    /**
     * Returns the data set of a fit; one whose place is nowhere in the plan is damaged.
     *
     * @param ofHalf how often a half was run, for fits of one; 0 for fits of the run itself
     */
    private Task taskOf(ResultSet row, int ofHalf) throws SQLException {
        int t = row.getInt("dataset");
        int repeat = row.getInt("repeat");
        boolean known = t >= 0
                && t < tasks.size()
                && row.getInt("candidate") >= 0
                && row.getInt("candidate") < plan.candidates().size()
                && repeat >= 0
                && repeat < (ofHalf > 0 ? ofHalf : tasks.get(t).splits().repeats())
                && row.getInt("resample") >= 0
                && row.getInt("fold") >= 0
                && row.getInt("fold") < tasks.get(t).splits().folds(ofHalf > 0 ? 0 : repeat);
        if (!known) {
            throw damaged(place(row));
        }
        return tasks.get(t);
    }

    /** A number, NaN where there is none. */
    private static double number(ResultSet row, String column) throws SQLException {
        double value = row.getDouble(column);
        return row.wasNull() ? Double.NaN : value;
    }

    /** Adds each row's last probability: what the others leave, as when the fit was made. */
    private static double[] whole(double[] stored, int classes) {
        int kept = classes - 1;
        double[] all = new double[stored.length / kept * classes];
        for (int i = 0, at = 0; at < all.length; at += classes) {
            double left = 1;
            for (int c = 0; c < kept; c++) {
                all[at + c] = stored[i];
                left -= stored[i++];
            }
            all[at + kept] = left > 0 ? left : 0;
        }
        return all;
    }

    private static IllegalArgumentException damaged(String what) {
        return new IllegalArgumentException(what + " does not agree with its checksum");
    }
}
