package keenfold.cli.read;

import java.util.List;
import keenfold.core.infer.Confusions;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Confusion;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** What is taken for what. */
final class ConfusionLook {
    private ConfusionLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, DetailViews.Cells cells, boolean perRepeat) {
        Flat.Table table =
                Flat.of("dataset", "candidate", "repeat", "actual", "predicted", "count", "of_actual", "of_predicted");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<String> labels = panel.task().data().classes().labels();
            if (!out.machine()) {
                out.heading(read, inference);
            }
            for (int c : out.shown(panel)) {
                Confusions all = Confusions.of(panel, c);
                if (!out.machine()) {
                    out.console()
                            .out()
                            .println(DetailViews.confusion(
                                    panel, c, all, cells, out.console().ink(out.common())));
                }
                for (int a = 0; a < labels.size(); a++) {
                    for (int p = 0; p < labels.size(); p++) {
                        table.row(
                                LookOutput.name(inference),
                                LookOutput.name(inference, c),
                                Double.NaN,
                                labels.get(a),
                                labels.get(p),
                                all.count(a, p),
                                all.ofActual(a, p),
                                all.ofPredicted(a, p));
                    }
                }
                if (perRepeat) {
                    for (int r = 0; r < all.parts().size(); r++) {
                        rows(table, inference, c, r, all.parts().get(r));
                    }
                }
            }
        }
        if (out.machine()) {
            out.write(table, "look", "confusion");
        } else if (perRepeat) {
            out.console().say("each repeat by itself: with --csv or --json", out.common());
        }
        out.reading().notices(out.console(), out.common(), read);
    }

    private static void rows(Flat.Table table, Inference inference, int c, int repeat, Confusion m) {
        List<String> labels = inference.panel().task().data().classes().labels();
        for (int a = 0; a < m.classes(); a++) {
            for (int p = 0; p < m.classes(); p++) {
                table.row(
                        LookOutput.name(inference),
                        LookOutput.name(inference, c),
                        repeat + 1.0,
                        labels.get(a),
                        labels.get(p),
                        m.at(a, p),
                        m.at(a, p) / m.actual(a),
                        m.at(a, p) / m.predicted(p));
            }
        }
    }
}
