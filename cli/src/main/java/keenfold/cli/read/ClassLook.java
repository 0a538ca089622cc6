package keenfold.cli.read;

import java.util.List;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.MeanScore;
import keenfold.io.InputException;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;
import keenfold.view.text.Notices;

/** Metrics of each class. */
final class ClassLook {
    /** What is shown of each class unless other metrics are named. */
    static final List<String> OF_CLASS = List.of("recall", "precision", "f1", "auc");

    private ClassLook() {}

    /** Needs metrics that the ledger was not read with: it is read again with those of each class. */
    static void show(LookOutput out, LedgerOptions.Read before, List<String> measures) {
        List<String> labels =
                before.inferences().get(0).panel().task().data().classes().labels();
        if (before.inferences().stream()
                .anyMatch(i -> !i.panel().task().data().classes().labels().equals(labels))) {
            throw new InputException(
                    out.reading().ledger().toString(),
                    "--by class: the data sets have different classes; name one with --dataset");
        }
        List<String> names = measures.stream()
                .flatMap(m -> labels.stream().map(l -> m + ":class=" + l))
                .toList();
        LedgerOptions.Read read = out.reading().read(out.console(), out.common(), LedgerOptions.Asked.of(names));
        Flat.Table table = Flat.of("dataset", "candidate", "class", "rows", "metric", "mean", "se", "low", "high");
        for (Inference inference : read.inferences()) {
            inference.together(names);
            if (!out.machine()) {
                out.heading(read, inference);
            }
            int[] counts = inference.panel().task().data().classCounts();
            for (int c : out.shown(inference.panel())) {
                if (!out.machine()) {
                    out.console()
                            .out()
                            .println(DetailViews.byClass(
                                    inference, c, measures, out.console().ink(out.common())));
                }
                for (int l = 0; l < labels.size(); l++) {
                    for (String measure : measures) {
                        MeanScore mean = inference
                                .metric(measure + ":class=" + labels.get(l))
                                .means()
                                .get(c);
                        table.row(
                                LookOutput.name(inference),
                                LookOutput.name(inference, c),
                                labels.get(l),
                                counts[l],
                                measure,
                                mean.mean(),
                                mean.standardError(),
                                mean.low(),
                                mean.high());
                    }
                }
            }
        }
        if (out.machine()) {
            out.write(table, "by", "class");
        }
        out.reading().notices(out.console(), out.common(), read);
        for (Inference inference : read.inferences()) {
            names.forEach(
                    n -> out.console().notices(Notices.ofScores(inference.panel(), inference.metric(n)), out.common()));
        }
    }
}
