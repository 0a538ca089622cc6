package keenfold.io.export;

import static org.assertj.core.api.Assertions.assertThat;

import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.infer.Inference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Comparison;
import keenfold.core.run.Parallel;
import keenfold.core.run.Runner;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.table.ResultTable;
import org.junit.jupiter.api.Test;

/** Exports of two data sets with different, hostile labels. */
class ExportTest {
    private static final List<String> HOSTILE = List.of("=1+1", "a \"b\", c\nd");
    private static final List<String> PLAIN = List.of("=1+1", "x", "y");
    private static final KFold SCHEME = new KFold(3, 2, true);

    private static DataSet data(String name, List<String> labels) {
        int n = 24;
        int k = labels.size();
        return DataSet.of(
                name,
                new Table(
                        n,
                        List.of(Numbers.of(
                                "x",
                                IntStream.range(0, n)
                                        .mapToDouble(i -> i * 5 % 7)
                                        .toArray()))),
                new Classes(labels, 0),
                IntStream.range(0, n).map(i -> i % k).toArray(),
                Optional.empty(),
                // Every second row of the file had no class.
                IntStream.range(0, n).map(i -> 2 * i + 1).toArray());
    }

    private static Candidate candidate(String name, String kind) {
        return new Candidate(name, name, ClassifierKinds.of(kind).orElseThrow(), Settings.none(), List.of());
    }

    private static final Results RESULTS = results();

    private static Results results() {
        List<Task> tasks = new ArrayList<>();
        for (DataSet data : List.of(data("two, quoted", HOSTILE), data("three", PLAIN))) {
            tasks.add(Task.of(
                    data,
                    SCHEME.divide(data, 1),
                    List.of(MetricName.parse("accuracy"), MetricName.parse("precision"))));
        }
        Comparison comparison =
                new Comparison(tasks, List.of(candidate("guess", "majority"), candidate("near", "nearest")), 1);
        List<Fit> fits = new ArrayList<>();
        // The order in which units finish must not show.
        List<keenfold.core.run.Unit> units = new ArrayList<>(comparison.units());
        java.util.Collections.reverse(units);
        Runner.on(Parallel.of(1)).run(comparison, units, (unit, done) -> fits.addAll(done));
        return new Results(tasks, comparison.candidates(), fits, 1);
    }

    private static List<List<String>> read(StringWriter csv) {
        List<List<String>> lines = new ArrayList<>();
        for (CsvRecord line : CsvReader.builder().ofCsvRecord(csv.toString())) {
            lines.add(line.getFields());
        }
        return lines;
    }

    @Test
    void predictionsReadBackWithTheirLabelsAndExactProbabilities() {
        StringWriter out = new StringWriter();
        CsvExport.predictions(RESULTS, out);
        List<List<String>> lines = read(out);
        assertThat(lines.get(0))
                .containsExactly(
                        "dataset",
                        "row",
                        "repeat",
                        "fold",
                        "candidate",
                        "actual",
                        "predicted",
                        "p:=1+1",
                        "p:a \"b\", c\nd",
                        "p:x",
                        "p:y");
        assertThat(lines).hasSize(1 + 2 * 2 * 2 * 24);
        Fit first = RESULTS.fits().stream()
                .filter(f -> f.task() == 0 && f.candidate() == 0 && f.repeat() == 0 && f.fold() == 0)
                .findFirst()
                .orElseThrow();
        Outcomes o = first.result().orElseThrow().outcomes();
        List<String> line = lines.get(1);
        assertThat(line.subList(0, 5))
                .containsExactly("two, quoted", Integer.toString(2 * o.row(0) + 1), "1", "1", "guess");
        assertThat(line.get(5)).isEqualTo(HOSTILE.get(o.actual(0)));
        assertThat(Double.parseDouble(line.get(7))).isEqualTo(o.probability(0, 0));
        assertThat(Double.parseDouble(line.get(8))).isEqualTo(o.probability(0, 1));
        // Classes of the other data set are no classes here.
        assertThat(line.subList(9, 11)).containsExactly("", "");
        List<String> last = lines.get(lines.size() - 1);
        assertThat(last.get(0)).isEqualTo("three");
        assertThat(last.get(8)).isEmpty();
        assertThat(last.get(10)).isNotEmpty();
    }

    @Test
    void linesStandInTheOrderOfThePlanWhateverFinishedFirst() {
        StringWriter out = new StringWriter();
        CsvExport.fits(RESULTS, out);
        List<String> keys = read(out).stream()
                .skip(1)
                .map(l -> String.join("/", l.subList(0, 4)))
                .toList();
        List<String> expected = new ArrayList<>();
        for (String set : List.of("two, quoted", "three")) {
            for (String candidate : List.of("guess", "near")) {
                for (int r = 1; r <= 2; r++) {
                    for (int f = 1; f <= 3; f++) {
                        expected.add(String.join("/", set, candidate, "" + r, "" + f));
                    }
                }
            }
        }
        assertThat(keys).isEqualTo(expected);
    }

    @Test
    void whatIsUndefinedIsEmptyInCsvAndNullInJson() {
        StringWriter csv = new StringWriter();
        CsvExport.scores(RESULTS, csv);
        assertThat(read(csv))
                .filteredOn(l -> l.get(0).equals("three")
                        && l.get(1).equals("guess")
                        && l.get(4).equals("precision"))
                .hasSize(6)
                .allMatch(l -> l.get(5).isEmpty());
        StringWriter json = new StringWriter();
        JsonExport.write(Scores.of(evaluation(1), List.of("accuracy", "precision"), Scores.Extras.NONE), json);
        assertThat(json.toString())
                .contains("\"name\" : \"three\"")
                .contains("\"classes\" : [ \"=1+1\", \"x\", \"y\" ]")
                // Undefined in each fold, but not in the repeat: there the guess is another class from fold to fold.
                .containsPattern("\"precision\" : \\{\\s+\"mean\" : 0\\.25,\\s+\"sd\" : null,")
                .containsPattern(
                        "\"min\" : null,\\s+\"max\" : null,\\s+\"interval\" : \"bootstrap\",\\s+\"undefined_folds\" : 6");
    }

    private static Evaluation evaluation(int task) {
        Inference inference = Inference.of(
                AlignedPredictions.of(RESULTS, task), InferenceSettings.DEFAULT.withDraws(100), Parallel.of(1));
        return new Evaluation(
                List.of(inference),
                List.of("accuracy"),
                "accuracy",
                Optional.empty(),
                Optional.empty(),
                List.of(),
                List.of());
    }

    @Test
    void documentsEscapeWhatUsersWrite() {
        Evaluation evaluation = evaluation(0);
        StringWriter json = new StringWriter();
        JsonExport.write(Contrasts.of(evaluation, List.of("accuracy"), Contrasts.ALL), json);
        assertThat(json.toString()).contains("\"dataset\" : \"two, quoted\"").contains("\"adjust\" : \"max-t\"");
        StringWriter picked = new StringWriter();
        JsonExport.write(Picking.quick(evaluation, "accuracy", Rule.ONE_SE, Simplicity::of), picked);
        assertThat(picked.toString())
                .contains("\"overall\" : null")
                .contains("\"frequency\"")
                .containsPattern("\"best-mean\" : null,\\s+\"one-se\" : null");
        ResultTable two = ResultTable.of(List.of("a", "n"), List.of(List.of("<q\">", Double.NaN), List.of("b", 2)));
        StringWriter flat = new StringWriter();
        JsonExport.write(
                Map.of("rows", two),
                List.of(Notice.of("odd", "%d things", 3).about("hives", "auc").with("things", 3)),
                flat);
        assertThat(flat.toString())
                .startsWith("{\n  \"keenfold\" : 1,")
                .contains("\"a\" : \"<q\\\">\"")
                .contains("\"n\" : null")
                .containsPattern("\"code\" : \"odd\",\\s+\"dataset\" : \"hives\",\\s+\"metric\" : \"auc\",\\s+"
                        + "\"values\" : \\{\\s+\"things\" : 3\\s+},\\s+\"text\" : \"3 things\"");
        StringWriter rows = new StringWriter();
        CsvExport.table(
                ResultTable.of(List.of("a", "n"), List.of(List.of("x,y", Double.NaN), List.of("b", 0.25))), rows);
        assertThat(rows.toString()).isEqualTo("a,n\n\"x,y\",\nb,0.25\n");
        StringWriter table = new StringWriter();
        CsvExport.table(List.of("a", "b"), List.of(List.of("1,5", "x\ny")), table);
        assertThat(table.toString()).isEqualTo("a,b\n\"1,5\",\"x\ny\"\n");
        assertThat(CsvExport.cell(Double.NaN)).isEmpty();
        assertThat(CsvExport.cell(0.1)).isEqualTo("0.1");
    }
}
