package keenfold.io.export;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import keenfold.core.data.Decimals;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.results.table.Column;
import keenfold.results.table.ResultTable;

/** Writes results as CSV; repeats, folds and rows are numbered from 1. */
public final class CsvExport {
    private static final Comparator<Fit> ORDER = Comparator.comparingInt(Fit::task)
            .thenComparingInt(Fit::candidate)
            .thenComparingInt(Fit::repeat)
            .thenComparingInt(Fit::fold);

    private final Results results;
    private final List<Fit> fits;
    private final CsvWriter csv;

    private CsvExport(Results results, Writer out) {
        this.results = results;
        this.fits = results.fits().stream().sorted(ORDER).toList();
        this.csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(out);
    }

    /** Writes one line per tested row, repeat and candidate, with the probability of each class. */
    public static void predictions(Results results, Writer out) {
        write(results, out, CsvExport::predictions);
    }

    /** Writes in which fold each row is tested, per repeat. */
    public static void folds(Results results, Writer out) {
        write(results, out, CsvExport::folds);
    }

    /** Writes one line per fit and metric. */
    public static void scores(Results results, Writer out) {
        write(results, out, CsvExport::scores);
    }

    /** Writes one line per fit. */
    public static void fits(Results results, Writer out) {
        write(results, out, CsvExport::writeFits);
    }

    /** Writes a table of results. */
    public static void table(ResultTable table, Writer out) {
        CsvWriter csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(out);
        List<Column> columns = table.forCsv();
        csv.writeRecord(columns.stream().map(Column::key).toList());
        for (ResultTable.Row row : table.rows()) {
            csv.writeRecord(columns.stream().map(c -> cell(row.cell(c))).toList());
        }
        flush(csv);
    }

    private static String cell(Object value) {
        return value instanceof Double d
                ? cell(d.doubleValue())
                : value instanceof Optional<?> o ? o.map(CsvExport::cell).orElse("") : value.toString();
    }

    /** Writes any table. */
    public static void table(List<String> header, List<List<String>> rows, Writer out) {
        CsvWriter csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(out);
        csv.writeRecord(header);
        rows.forEach(csv::writeRecord);
        flush(csv);
    }

    /** Writes lines without a header. */
    public static void lines(List<List<String>> rows, Writer out) {
        CsvWriter csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(out);
        rows.forEach(csv::writeRecord);
        flush(csv);
    }

    private static void write(Results results, Writer out, Consumer<CsvExport> part) {
        CsvExport export = new CsvExport(results, out);
        part.accept(export);
        flush(export.csv);
    }

    private static void flush(CsvWriter csv) {
        try {
            csv.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Returns a number for a cell, empty if it is undefined. */
    public static String cell(double value) {
        return Double.isFinite(value) ? Decimals.exact(value) : "";
    }

    private void predictions() {
        Set<String> labels = new LinkedHashSet<>();
        results.tasks().forEach(t -> labels.addAll(t.data().classes().labels()));
        List<String> header =
                new ArrayList<>(List.of("dataset", "row", "repeat", "fold", "candidate", "actual", "predicted"));
        labels.forEach(l -> header.add("p:" + l));
        csv.writeRecord(header);
        for (Fit fit : fits) {
            fit.result().ifPresent(r -> predictions(fit, r.outcomes(), List.copyOf(labels)));
        }
    }

    private void predictions(Fit fit, Outcomes outcomes, List<String> labels) {
        Task task = results.tasks().get(fit.task());
        List<String> own = task.data().classes().labels();
        int[] place = labels.stream().mapToInt(own::indexOf).toArray();
        List<String> line = new ArrayList<>();
        for (int i = 0; i < outcomes.size(); i++) {
            line.clear();
            line.add(task.data().name());
            line.add(Integer.toString(task.data().sourceRow(outcomes.row(i))));
            line.add(Integer.toString(fit.repeat() + 1));
            line.add(Integer.toString(fit.fold() + 1));
            line.add(results.candidates().get(fit.candidate()).name());
            line.add(own.get(outcomes.actual(i)));
            line.add(own.get(outcomes.predicted(i)));
            for (int p : place) {
                line.add(p < 0 ? "" : cell(outcomes.probability(i, p)));
            }
            csv.writeRecord(line);
        }
    }

    private void folds() {
        folds(results.tasks(), csv);
    }

    /** Writes the folds of data sets that need not have been run. */
    public static void foldsOf(List<Task> tasks, Writer out) {
        CsvWriter csv = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(out);
        folds(tasks, csv);
        flush(csv);
    }

    private static void folds(List<Task> tasks, CsvWriter csv) {
        boolean sides = tasks.stream().anyMatch(t -> t.splits().namesSides());
        List<String> header = new ArrayList<>(List.of("dataset", "row", "repeat", "fold"));
        if (sides) {
            header.addAll(List.of("part", "count"));
        }
        csv.writeRecord(header);
        for (Task task : tasks) {
            for (int r = 0; r < task.splits().repeats(); r++) {
                if (sides) {
                    for (int f = 0; f < task.splits().folds(r); f++) {
                        sides(task, r, f, csv);
                    }
                } else {
                    tested(task, r, csv);
                }
            }
        }
    }

    private static void tested(Task task, int repeat, CsvWriter csv) {
        for (int i = 0; i < task.data().rows(); i++) {
            int fold = task.splits().foldOf(repeat, i);
            if (fold >= 0) {
                csv.writeRecord(place(task, i, repeat, fold));
            }
        }
    }

    private static void sides(Task task, int repeat, int fold, CsvWriter csv) {
        int[] counts = task.splits().countsOf(repeat, fold);
        for (int i = 0; i < counts.length; i++) {
            if (counts[i] >= 0) {
                List<String> line = new ArrayList<>(place(task, i, repeat, fold));
                line.add(counts[i] == 0 ? "test" : "train");
                line.add(Integer.toString(Math.max(1, counts[i])));
                csv.writeRecord(line);
            }
        }
    }

    private static List<String> place(Task task, int row, int repeat, int fold) {
        return List.of(
                task.data().name(),
                Integer.toString(task.data().sourceRow(row)),
                Integer.toString(repeat + 1),
                Integer.toString(fold + 1));
    }

    private void scores() {
        csv.writeRecord("dataset", "candidate", "repeat", "fold", "metric", "value");
        for (Fit fit : fits) {
            Task task = results.tasks().get(fit.task());
            fit.result().ifPresent(r -> {
                for (int m = 0; m < task.metrics().size(); m++) {
                    List<String> line = new ArrayList<>(head(fit));
                    line.add(task.metrics().get(m).name());
                    line.add(cell(r.score(m)));
                    csv.writeRecord(line);
                }
            });
        }
    }

    private void writeFits() {
        csv.writeRecord(
                "dataset",
                "candidate",
                "repeat",
                "fold",
                "status",
                "train_seconds",
                "predict_seconds",
                "size",
                "message",
                "chosen",
                "shared");
        for (Fit fit : fits) {
            List<String> line = new ArrayList<>(head(fit));
            line.add(fit.failed() ? "failed" : "ok");
            line.add(cell(fit.times().trainWall()));
            line.add(cell(fit.times().predictWall()));
            line.add(cell(fit.size()));
            line.add(fit.message());
            line.add(fit.making().chosen());
            line.add(fit.making().shared() ? "yes" : "no");
            csv.writeRecord(line);
        }
    }

    private List<String> head(Fit fit) {
        return List.of(
                results.tasks().get(fit.task()).data().name(),
                results.candidates().get(fit.candidate()).name(),
                Integer.toString(fit.repeat() + 1),
                Integer.toString(fit.fold() + 1));
    }
}
