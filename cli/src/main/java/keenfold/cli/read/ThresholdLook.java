package keenfold.cli.read;

import java.util.List;
import java.util.Optional;
import keenfold.core.infer.Inference;
import keenfold.core.infer.Thresholds;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Metric;
import keenfold.io.InputException;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** Rates and scores along the threshold of the positive class. */
final class ThresholdLook {
    private ThresholdLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, String name) {
        Flat.Table table = Flat.of(
                "dataset",
                "candidate",
                "metric",
                "kind",
                "threshold",
                "called",
                "recall",
                "specificity",
                "precision",
                "npv",
                "score");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            Metric metric = inference.metric(name).metric();
            if (!out.machine()) {
                out.heading(read, inference);
            }
            for (int c : out.shown(panel)) {
                String place = out.reading().ledger().toString();
                Thresholds all = InputException.at(place, () -> Thresholds.of(panel, c));
                Optional<Thresholds.Best> best = InputException.at(place, () -> all.best(metric));
                List<Thresholds.Point> points = all.points(metric);
                if (!out.machine()) {
                    out.console()
                            .out()
                            .println(DetailViews.thresholds(
                                    panel, c, name, points, best, out.console().ink(out.common())));
                }
                for (Thresholds.Point p : points) {
                    table.row(
                            LookOutput.name(inference),
                            LookOutput.name(inference, c),
                            name,
                            "grid",
                            p.threshold(),
                            p.called(),
                            p.recall(),
                            p.specificity(),
                            p.precision(),
                            p.npv(),
                            p.score());
                }
                best.ifPresent(b -> {
                    one(table, inference, c, name, "as predicted", Double.NaN, b.asPredicted());
                    one(table, inference, c, name, "best of the other folds", b.median(), b.honest());
                    one(table, inference, c, name, "best of the same rows", Double.NaN, b.apparent());
                });
            }
        }
        if (out.machine()) {
            out.write(table, "look", "thresholds");
        }
        out.reading().notices(out.console(), out.common(), read);
        out.console()
                .notices(
                        List.of(
                                "a candidate with threshold: in the plan finds its threshold inside each training side, and is"
                                        + " compared as such"),
                        out.common());
    }

    private static void one(
            Flat.Table table, Inference inference, int c, String metric, String kind, double threshold, double score) {
        double no = Double.NaN;
        table.row(
                LookOutput.name(inference),
                LookOutput.name(inference, c),
                metric,
                kind,
                threshold,
                no,
                no,
                no,
                no,
                no,
                score);
    }
}
