package keenfold.cli.read;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Spread;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.Importance;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** What prediction loses without each column. */
final class ColumnLook {
    private ColumnLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, String name, Optional<Path> data, int repeats) {
        Flat.Table table = Flat.of("dataset", "candidate", "metric", "column", "drop", "sd", "splits", "own_weight");
        for (Inference inference : read.inferences()) {
            AlignedPredictions panel = inference.panel();
            MetricInference metric = inference.metric(name);
            ColumnWorth worth = ColumnWorth.of(
                    read.content().plan(),
                    out.reading().ledger(),
                    data,
                    metric,
                    out.shown(panel),
                    repeats,
                    out.reading().threads().parallel());
            List<Importance.Drops> all = worth.drops();
            List<String> columns = worth.columns();
            out.console().notices(worth.notices(), out.common());
            if (!out.machine()) {
                out.heading(read, inference);
                out.console()
                        .out()
                        .print(DetailViews.byColumn(
                                panel, metric, columns, all, out.console().ink(out.common())));
            }
            for (Importance.Drops d : all) {
                for (int j = 0; j < columns.size(); j++) {
                    double[] drops = d.drops().get(j).stream()
                            .mapToDouble(Double::doubleValue)
                            .toArray();
                    table.row(
                            LookOutput.name(inference),
                            LookOutput.name(inference, d.candidate()),
                            name,
                            columns.get(j),
                            Spread.mean(drops),
                            Spread.sd(drops),
                            drops.length,
                            d.own().isEmpty() ? Double.NaN : d.own().getOrDefault(columns.get(j), 0.0));
                }
            }
        }
        if (out.machine()) {
            out.write(table, "by", "column");
        }
        out.reading().notices(out.console(), out.common(), read);
        out.console()
                .notices(
                        List.of("a drop says what the fitted models lean on; of columns that say the same, each looks"
                                + " dispensable"),
                        out.common());
    }
}
