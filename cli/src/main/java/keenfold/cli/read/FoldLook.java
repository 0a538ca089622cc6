package keenfold.cli.read;

import java.util.List;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Metric;
import keenfold.core.run.result.Fit;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** The scores of single folds. */
final class FoldLook {
    private FoldLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of("dataset", "candidate", "repeat", "fold", "metric", "value");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<Integer> shown = out.shown(panel);
            if (!out.machine()) {
                out.heading(read, inference);
            }
            for (String name : metrics) {
                int index = panel.task().metrics().stream()
                        .map(Metric::name)
                        .toList()
                        .indexOf(name);
                if (!out.machine()) {
                    out.console()
                            .out()
                            .print(DetailViews.byFold(
                                    panel,
                                    inference.metric(name),
                                    index,
                                    shown,
                                    out.console().ink(out.common())));
                    continue;
                }
                for (int c : shown) {
                    for (Fit fit : panel.fitsOf(c)) {
                        fit.result()
                                .ifPresent(r -> table.row(
                                        LookOutput.name(inference),
                                        LookOutput.name(inference, c),
                                        fit.repeat() + 1,
                                        fit.fold() + 1,
                                        name,
                                        r.score(index)));
                    }
                }
            }
        }
        if (out.machine()) {
            out.write(table, "by", "fold");
        }
        out.reading().notices(out.console(), out.common(), read);
    }
}
