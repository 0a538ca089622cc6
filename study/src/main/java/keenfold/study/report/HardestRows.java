package keenfold.study.report;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.infer.HardRow;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.results.Evaluation;
import keenfold.results.Look;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;
import keenfold.view.text.FoldsView;

/** The rows of one data set that candidates get wrong most often, with their values. */
public final class HardestRows {
    private HardestRows() {}

    /**
     * What is asked for.
     *
     * @param rows how many, at least 1
     * @param neighbours how many rows near each, perhaps none
     * @param probabilities whether predictions have them
     */
    public record Asked(int rows, int neighbours, boolean probabilities) {}

    /**
     * Returns them.
     *
     * @param evaluation of one data set
     * @param data with its columns, the rows being those of the evaluation
     * @param dates names of the columns that hold dates
     * @param candidates those that count
     */
    public static Look of(
            Evaluation evaluation, DataSet data, Set<String> dates, List<Integer> candidates, Asked asked) {
        Inference inference = evaluation.inferences().get(0);
        AlignedPredictions panel = inference.panel();
        List<HardRow> hard = HardRow.of(panel, candidates, asked.probabilities()).stream()
                .filter(r -> r.wrong() > 0)
                .limit(asked.rows())
                .toList();
        Map<HardRow, List<String>> values = new HashMap<>();
        hard.forEach(r -> values.put(r, FoldsView.values(data, dates, r.row())));
        List<String> labels = data.classes().labels();
        var table = ResultTable.<HardRow>define()
                .name("dataset", r -> data.name())
                .programs()
                .column("row", ValueKind.WHOLE, r -> data.sourceRow(r.row()))
                .text("class", r -> labels.get(data.target(r.row())))
                .number("wrong", ValueKind.SHARE, HardRow::wrong)
                .column("candidates_wrong", ValueKind.WHOLE, HardRow::candidates)
                .headed("by")
                .text("taken_for", r -> r.takenFor() < 0 ? "" : labels.get(r.takenFor()))
                .headed("taken for")
                .number("probability", ValueKind.fixed(3), HardRow::probability)
                .headed("p of its class");
        if (asked.neighbours() > 0) {
            table.text("nearest", r -> HardRow.nearest(data, r.row(), asked.neighbours()).stream()
                    .map(n -> data.sourceRow(n.row()) + " " + labels.get(data.target(n.row())) + " "
                            + NumberFormats.fixed(n.distance(), 2))
                    .collect(Collectors.joining("; ")));
        }
        List<String> titles = FoldsView.titles(data);
        IntStream.range(2, titles.size()).forEach(j -> {
            String title = titles.get(j);
            boolean taken = Set.of(
                            "dataset",
                            "row",
                            "class",
                            "wrong",
                            "candidates_wrong",
                            "taken_for",
                            "probability",
                            "nearest")
                    .contains(title);
            table.text(taken ? title + " (column)" : title, r -> values.getOrDefault(r, List.of())
                            .get(j))
                    .headed(title);
        });
        return new Look(evaluation, "look", "rows", table.of(hard), List.of());
    }
}
