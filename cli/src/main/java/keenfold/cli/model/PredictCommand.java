package keenfold.cli.model;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.TableUse;
import keenfold.cli.console.Threads;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Table;
import keenfold.core.infer.FinalScore;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.export.CsvExport;
import keenfold.io.model.ModelFile;
import keenfold.io.model.NewRows;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.TableFormat;
import keenfold.view.text.NumberFormats;
import keenfold.view.text.Wrap;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Labels new rows. */
@Command(
        name = "predict",
        description =
                "Gives new rows a label and the probability of each class, after checking that their columns agree"
                        + " with the model's; scores them too if their class is there.")
public final class PredictCommand implements Callable<Integer> {
    private static final int MOST_LEVELS = 5;
    private static final int LEAST_TOLD = 20;
    private static final double NOT_FAR = 0.2;

    /** Up to so many rows scores have intervals. */
    private static final int MOST_DRAWN = 50_000;

    private final Console console;

    @Parameters(index = "0", paramLabel = "MODEL", description = "a file that train wrote")
    private Path model = Path.of("");

    @Spec
    private CommandSpec command;

    @Parameters(
            index = "1",
            paramLabel = "DATA",
            description = "delimited text with a line of column names, or JSON Lines, perhaps gzipped; FILE.db#TABLE of"
                    + " SQLite; - for standard input")
    private String data = "";

    @Option(names = "--separator", paramLabel = "C", description = "between fields: , ; | or tab (found by itself)")
    private Optional<String> separator = Optional.empty();

    @Option(names = "--encoding", paramLabel = "NAME", description = "of the text, such as windows-1252 (UTF-8)")
    private Optional<String> encoding = Optional.empty();

    @Option(
            names = {"-o", "--output"},
            paramLabel = "FILE",
            description = "write to a file instead of standard output")
    private Optional<Path> output = Optional.empty();

    @Option(names = "--jsonl", description = "JSON Lines, one object a row, instead of CSV")
    private boolean lines;

    @Option(names = "--with-columns", description = "the columns of each row beside its prediction")
    private boolean beside;

    @Option(
            names = "--strict",
            description =
                    "refuse additional columns, columns in another order, and levels that the model was not trained on")
    private boolean strict;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private TableUse use = new TableUse();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public PredictCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() throws IOException {
        if (lines && !use.isExact()) {
            throw new ParameterException(command.commandLine(), "--for spreadsheet: --jsonl is no table");
        }
        ModelFile trained = ModelFile.read(model);
        TableLocation where = TableLocation.of(data, List.of(Path.of("")));
        output.ifPresent(o -> replacing.require(o, OutputFile.Kind.TABLE, List.of(model, where.file())));
        console.doing("reading " + data, common);
        NewRows rows = NewRows.of(trained, where, format());
        List<String> notices = compared(rows);
        if (strict && !notices.isEmpty()) {
            throw new InputException(where.shown(), String.join("; ", notices) + " (--strict)");
        }
        console.doing("predicting " + data, common);
        Kept kept = new Kept(trained);
        try {
            if (output.isPresent()) {
                WholeFile.text(output.get(), out -> write(trained, rows, kept, use.writer(out)));
                console.say(
                        "wrote " + rows.rows() + " predictions to " + output.get() + ": "
                                + kept.labelled(trained.classes()),
                        common);
            } else {
                Writer out = use.writer(new BufferedWriter(console.writer()));
                write(trained, rows, kept, out);
                out.flush();
            }
        } catch (FitFailure e) {
            throw new InputException(where.shown(), "cannot be predicted: " + e.getMessage(), e);
        }
        kept.never(trained).ifPresent(notices::add);
        if (rows.hasTarget()) {
            scores(trained, rows, kept);
        }
        console.notices(notices, common);
        return Exit.DONE;
    }

    private TableFormat format() {
        return OptionValues.checked(
                command,
                () -> new TableFormat(
                        separator.map(PlanReader::separator),
                        Set.of(),
                        Set.of(),
                        Set.of(),
                        '.',
                        encoding.map(PlanReader::encoding)));
    }

    /** What differs from the rows that the model was trained on, each thing named. */
    private static List<String> compared(NewRows rows) {
        List<String> notices = new ArrayList<>();
        if (!rows.additional().isEmpty()) {
            notices.add("columns that the model does not use: " + String.join(", ", rows.additional()));
        }
        if (rows.reordered()) {
            notices.add("the columns stand in another order than in training; they are matched by name");
        }
        for (Map.Entry<String, Map<String, Integer>> column : rows.unseen().entrySet()) {
            Map<String, Integer> levels = column.getValue();
            int count = levels.values().stream().mapToInt(Integer::intValue).sum();
            notices.add("column \"" + column.getKey() + "\" has "
                    + levels.keySet().stream()
                            .limit(MOST_LEVELS)
                            .map(l -> "\"" + l + "\"")
                            .collect(Collectors.joining(", "))
                    + (levels.size() > MOST_LEVELS ? " and " + (levels.size() - MOST_LEVELS) + " more levels" : "")
                    + ", which the model was not trained on (" + count + (count == 1 ? " row)" : " rows)"));
        }
        return notices;
    }

    /** Rows whose class is known, for a score at the end. */
    private static final class Kept {
        private final int classes;
        private int[] actual = new int[0];
        private double[] probability = new double[0];
        private int count;
        private final long[] labelled;
        private double most;

        Kept(ModelFile trained) {
            this.classes = trained.classes().size();
            this.labelled = new long[classes];
        }

        /** @param positive probability of the positive class */
        void label(int as, double positive) {
            labelled[as]++;
            most = Math.max(most, positive);
        }

        /** Says it where the positive class is never given, though it is not far off. */
        Optional<String> never(ModelFile trained) {
            int positive = trained.predictor().positive();
            return classes == 2 && labelled[positive] == 0 && labelled[1 - positive] >= LEAST_TOLD && most >= NOT_FAR
                    ? Optional.of("no row is labelled \"" + trained.classes().get(positive)
                            + "\", the positive class: its"
                            + " probability is " + NumberFormats.significant(most, 2) + " at most; go by p:"
                            + trained.classes().get(positive) + ", or give the candidate a threshold: in the plan")
                    : Optional.empty();
        }

        /** How many rows got each label. */
        String labelled(List<String> labels) {
            return IntStream.range(0, classes)
                    .mapToObj(c -> labels.get(c) + " " + labelled[c])
                    .collect(Collectors.joining(", "));
        }

        void add(int is, double[] p, int from) {
            if (count == actual.length) {
                actual = Arrays.copyOf(actual, Math.max(1024, count + count / 2));
                probability = Arrays.copyOf(probability, actual.length * classes);
            }
            System.arraycopy(p, from, probability, count * classes, classes);
            actual[count++] = is;
        }

        int[] actual() {
            return Arrays.copyOf(actual, count);
        }

        double[] probability() {
            return Arrays.copyOf(probability, count * classes);
        }
    }

    private void write(ModelFile trained, NewRows rows, Kept kept, Writer out) throws IOException {
        List<String> header = new ArrayList<>(List.of("row", "predicted"));
        trained.classes().forEach(c -> header.add("p:" + c));
        if (beside) {
            header.addAll(rows.names());
        }
        if (!lines) {
            CsvExport.table(header, List.of(), out);
        }
        int[] done = {0};
        rows.each((features, actual, values) -> {
            double[] p = trained.predictor().probabilities(features);
            int[] labels = trained.predictor().labels(p);
            List<List<String>> table = new ArrayList<>();
            for (int i = 0; i < labels.length; i++) {
                kept.label(
                        labels[i],
                        p[i * trained.classes().size() + trained.predictor().positive()]);
                if (actual[i] >= 0) {
                    kept.add(actual[i], p, i * trained.classes().size());
                }
                if (lines) {
                    line(trained, rows, ++done[0], labels[i], p, i, values.get(i), out);
                } else {
                    table.add(cells(trained, ++done[0], labels[i], p, i, values.get(i)));
                }
            }
            if (!lines) {
                CsvExport.lines(table, out);
            }
        });
    }

    private List<String> cells(ModelFile trained, int row, int label, double[] p, int at, @Nullable String[] values) {
        int k = trained.classes().size();
        List<String> cells =
                new ArrayList<>(List.of(Integer.toString(row), trained.classes().get(label)));
        for (int c = 0; c < k; c++) {
            cells.add(CsvExport.cell(p[at * k + c]));
        }
        if (beside) {
            for (String value : values) {
                cells.add(value == null ? "" : value);
            }
        }
        return cells;
    }

    private void line(
            ModelFile trained,
            NewRows rows,
            int row,
            int label,
            double[] p,
            int at,
            @Nullable String[] values,
            Writer out) {
        int k = trained.classes().size();
        try (JsonGenerator json = new JsonFactory()
                .createGenerator(out)
                .disable(JsonGenerator.Feature.AUTO_CLOSE_TARGET)
                .disable(JsonGenerator.Feature.FLUSH_PASSED_TO_STREAM)) {
            json.writeStartObject();
            json.writeNumberField("row", row);
            json.writeStringField("predicted", trained.classes().get(label));
            json.writeObjectFieldStart("p");
            for (int c = 0; c < k; c++) {
                json.writeNumberField(trained.classes().get(c), p[at * k + c]);
            }
            json.writeEndObject();
            if (beside) {
                json.writeObjectFieldStart("columns");
                for (int j = 0; j < values.length; j++) {
                    json.writeStringField(rows.names().get(j), values[j]);
                }
                json.writeEndObject();
            }
            json.writeEndObject();
            json.writeRaw('\n');
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Scores the rows whose class is there, by the metrics of the plan; on standard error, so that results stay apart. */
    private void scores(ModelFile trained, NewRows rows, Kept kept) {
        int[] actual = kept.actual();
        if (rows.unlabelled() > 0) {
            console.notices(
                    List.of(rows.unlabelled() + " rows have no class that the model knows in column \""
                            + trained.target() + "\"; they are predicted, but not scored"),
                    common);
        }
        if (actual.length < 2) {
            return;
        }
        Plan plan = PlanReader.parse("plan of the model", trained.origin().plan());
        List<MetricName> metrics =
                plan.metrics().stream().map(m -> m.withCosts(plan.costs())).toList();
        int n = actual.length;
        Classes classes = new Classes(trained.classes(), trained.predictor().positive());
        DataSet data = DataSet.of(
                "new rows",
                new Table(n, List.of()),
                classes,
                actual,
                Optional.empty(),
                IntStream.rangeClosed(1, n).toArray());
        Outcomes plain = Outcomes.of(classes.count(), 0, IntStream.range(0, n).toArray(), actual, kept.probability());
        Outcomes outcomes = trained.predictor().threshold().isPresent()
                ? plain.withThreshold(
                        classes.positive(), trained.predictor().threshold().getAsDouble())
                : plain;
        List<FinalScore> scores = n <= MOST_DRAWN
                ? FinalScore.of(
                        data,
                        metrics,
                        plan.candidates().get(0),
                        outcomes,
                        plan.evidence(),
                        trained.origin().seed(),
                        threads.parallel())
                : metrics.stream()
                        .map(m -> new FinalScore(
                                m.text(),
                                m.bind(classes, data.classCounts()).score(outcomes),
                                Double.NaN,
                                Double.NaN,
                                n))
                        .toList();
        InferenceSettings evidence = plan.evidence();
        String text = n + " rows have their class; scored on them (too well, if it was trained on them): "
                + scores.stream().map(s -> text(s, evidence)).collect(Collectors.joining("; "));
        console.say(Wrap.lines(text, 8).stripTrailing(), common);
    }

    private static String text(FinalScore score, InferenceSettings evidence) {
        double about = (score.high() - score.low()) / 4;
        return score.metric() + " "
                + (Double.isNaN(about)
                        ? NumberFormats.fixed(score.value(), 3)
                        : NumberFormats.mean(score.value(), about) + " ("
                                + NumberFormats.level(evidence.level()) + " interval "
                                + NumberFormats.interval(score.low(), score.high(), about) + ")");
    }
}
