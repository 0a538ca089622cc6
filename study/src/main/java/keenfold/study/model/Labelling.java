package keenfold.study.model;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.data.Table;
import keenfold.core.infer.FinalScore;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Parallel;
import keenfold.io.export.CsvExport;
import keenfold.io.model.ModelFile;
import keenfold.io.model.NewRows;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.TableFormat;
import org.jspecify.annotations.Nullable;

/** Gives new rows labels and the probability of each class, and scores them where their class is there. */
public final class Labelling {
    private static final int MOST_LEVELS = 5;

    /** Up to so many rows scores have intervals. */
    private static final int MOST_DRAWN = 50_000;

    private final ModelFile model;
    private final NewRows rows;
    private final LabelledRows labelled;

    /** @param rows that have the columns of the model */
    public Labelling(ModelFile model, NewRows rows) {
        this.model = model;
        this.rows = rows;
        this.labelled = new LabelledRows(model);
    }

    /**
     * Reads a table of new rows.
     *
     * @throws keenfold.io.InputException if it cannot be read, or lacks a column of the model
     */
    public static Labelling of(ModelFile model, Path file) {
        TableLocation where = TableLocation.of(file.toString(), List.of(Path.of("")));
        return new Labelling(model, NewRows.of(model, where, TableFormat.PLAIN));
    }

    /** Returns what differs from the rows that the model was trained on. */
    public List<Notice> differences() {
        List<Notice> notices = new ArrayList<>();
        if (!rows.additional().isEmpty()) {
            notices.add(Notice.plain(
                            "columns-not-used",
                            "columns that the model does not use: " + String.join(", ", rows.additional()))
                    .with("columns", rows.additional()));
        }
        if (rows.reordered()) {
            notices.add(Notice.plain(
                    "columns-reordered",
                    "the columns stand in another order than in training; they are matched by name"));
        }
        for (Map.Entry<String, Map<String, Integer>> column : rows.unseen().entrySet()) {
            Map<String, Integer> levels = column.getValue();
            int count = levels.values().stream().mapToInt(Integer::intValue).sum();
            notices.add(Notice.of(
                            "unseen-levels",
                            "column \"%s\" has %s%s, which the model was not trained on (%s)",
                            column.getKey(),
                            levels.keySet().stream()
                                    .limit(MOST_LEVELS)
                                    .map(l -> "\"" + l + "\"")
                                    .collect(Collectors.joining(", ")),
                            levels.size() > MOST_LEVELS ? " and " + (levels.size() - MOST_LEVELS) + " more levels" : "",
                            Plural.of(count, "row"))
                    .with("column", column.getKey())
                    .with("levels", List.copyOf(levels.keySet())));
        }
        return notices;
    }

    /**
     * Writes the labels, row by row.
     *
     * @param lines JSON Lines, one object a row, instead of CSV
     * @param beside whether the columns of each row stand beside its prediction
     * @throws keenfold.core.learned.FitFailure if the rows cannot be predicted
     */
    public void write(boolean lines, boolean beside, Writer out) {
        List<String> header = new ArrayList<>(List.of("row", "predicted"));
        model.classes().forEach(c -> header.add("p:" + c));
        if (beside) {
            header.addAll(rows.names());
        }
        if (!lines) {
            CsvExport.table(header, List.of(), out);
        }
        int[] done = {0};
        int classes = model.classes().size();
        rows.each((features, actual, values) -> {
            double[] p = model.predictor().probabilities(features);
            int[] labels = model.predictor().labels(p);
            List<List<String>> table = new ArrayList<>();
            for (int i = 0; i < labels.length; i++) {
                labelled.label(labels[i], p[i * classes + model.predictor().positive()]);
                if (actual[i] >= 0) {
                    labelled.add(actual[i], p, i * classes);
                }
                Row row = new Row(++done[0], labels[i], p, i * classes, beside ? values.get(i) : new String[0]);
                if (lines) {
                    line(row, beside, out);
                } else {
                    table.add(cells(row));
                }
            }
            if (!lines) {
                CsvExport.lines(table, out);
            }
        });
    }

    /** A labelled row: its number, its label, its probabilities from a place on, and its columns where they are wanted. */
    private static final class Row {
        private final int number;
        private final int label;
        private final double[] p;
        private final int from;
        private final @Nullable String[] values;

        Row(int number, int label, double[] p, int from, @Nullable String[] values) {
            this.number = number;
            this.label = label;
            this.p = p;
            this.from = from;
            this.values = values;
        }
    }

    private List<String> cells(Row row) {
        List<String> cells = new ArrayList<>(
                List.of(Integer.toString(row.number), model.classes().get(row.label)));
        for (int c = 0; c < model.classes().size(); c++) {
            cells.add(CsvExport.cell(row.p[row.from + c]));
        }
        for (String value : row.values) {
            cells.add(value == null ? "" : value);
        }
        return cells;
    }

    private void line(Row row, boolean beside, Writer out) {
        try (JsonGenerator json = new JsonFactory()
                .createGenerator(out)
                .disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET)
                .disable(JsonGenerator.Feature.FLUSH_PASSED_TO_STREAM)) {
            json.writeStartObject();
            json.writeNumberField("row", row.number);
            json.writeStringField("predicted", model.classes().get(row.label));
            json.writeObjectFieldStart("p");
            for (int c = 0; c < model.classes().size(); c++) {
                json.writeNumberField(model.classes().get(c), row.p[row.from + c]);
            }
            json.writeEndObject();
            if (beside) {
                json.writeObjectFieldStart("columns");
                for (int j = 0; j < row.values.length; j++) {
                    json.writeStringField(rows.names().get(j), row.values[j]);
                }
                json.writeEndObject();
            }
            json.writeEndObject();
            json.writeRaw('\n');
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Returns how many rows there are. */
    public int rows() {
        return rows.rows();
    }

    /** Returns how many rows got each label, in words; after they were written. */
    public String counts() {
        return labelled.counts();
    }

    /** Returns what is to be known of the labels; after they were written. */
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>();
        if (rows.hasTarget() && rows.unlabelled() > 0) {
            notices.add(Notice.plain(
                            "unlabelled",
                            rows.unlabelled() + " rows have no class that the model knows in column \"" + model.target()
                                    + "\"; they are predicted, but not scored")
                    .with("rows", rows.unlabelled()));
        }
        if (rows() == 0) {
            notices.add(Notice.plain("no-rows", "the table has a header and no rows, so that nothing was predicted"));
        }
        labelled.never().ifPresent(notices::add);
        return notices;
    }

    /** Returns how many rows have their class. */
    public int scorable() {
        return rows.hasTarget() ? labelled.actual().length : 0;
    }

    /** Returns the level of the intervals of scores. */
    public double level() {
        return plan().evidence().level();
    }

    private Plan plan() {
        return PlanReader.kept("plan of the model", model.origin().plan());
    }

    /** Returns the scores on the rows whose class is there, by the metrics of the plan; none of fewer than two rows. */
    public List<FinalScore> scores(Parallel parallel) {
        int n = scorable();
        if (n < 2) {
            return List.of();
        }
        int[] actual = labelled.actual();
        Plan plan = plan();
        List<MetricName> metrics =
                plan.metrics().stream().map(m -> m.withCosts(plan.costs())).toList();
        Classes classes = new Classes(model.classes(), model.predictor().positive());
        DataSet data = DataSet.of(
                "new rows",
                new Table(n, List.of()),
                classes,
                actual,
                Optional.empty(),
                IntStream.rangeClosed(1, n).toArray());
        Outcomes plain =
                Outcomes.of(classes.count(), 0, IntStream.range(0, n).toArray(), actual, labelled.probability());
        Outcomes outcomes = model.predictor().threshold().isPresent()
                ? plain.withThreshold(
                        classes.positive(), model.predictor().threshold().getAsDouble())
                : plain;
        return n <= MOST_DRAWN
                ? FinalScore.of(
                        data,
                        metrics,
                        plan.candidates().get(0),
                        outcomes,
                        plan.evidence(),
                        model.origin().seed(),
                        parallel)
                : metrics.stream()
                        .map(m -> new FinalScore(
                                m.text(),
                                m.bind(classes, data.classCounts()).score(outcomes),
                                Double.NaN,
                                Double.NaN,
                                n))
                        .toList();
    }
}
