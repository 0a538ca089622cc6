package keenfold.cli.read;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** How scores spread over folds and repeats. */
final class SpreadLook {
    private SpreadLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of(
                "dataset",
                "candidate",
                "metric",
                "sd_folds",
                "sd_repeats",
                "min",
                "quarter",
                "median",
                "three_quarters",
                "max",
                "fold_se",
                "se");
        for (Inference inference : read.inferences()) {
            inference.together(metrics);
            if (!out.machine()) {
                out.heading(read, inference);
            }
            for (String name : metrics) {
                MetricInference metric = inference.metric(name);
                Map<Integer, Spread> spreads = new LinkedHashMap<>();
                for (int c : out.shown(inference.panel())) {
                    Spread s = Spread.of(metric, c);
                    spreads.put(c, s);
                    table.row(
                            LookOutput.name(inference),
                            LookOutput.name(inference, c),
                            name,
                            s.foldSd(),
                            s.repeatSd(),
                            s.least(),
                            s.quarter(),
                            s.median(),
                            s.threeQuarters(),
                            s.most(),
                            s.foldStandardError(),
                            s.standardError());
                }
                if (!out.machine()) {
                    out.console()
                            .out()
                            .println(DetailViews.spread(
                                    inference.panel(),
                                    metric,
                                    spreads,
                                    out.console().ink(out.common())));
                }
            }
        }
        if (out.machine()) {
            out.write(table, "look", "spread");
        }
        out.reading().notices(out.console(), out.common(), read);
    }
}
