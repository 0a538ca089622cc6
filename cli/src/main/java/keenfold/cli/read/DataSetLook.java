package keenfold.cli.read;

import java.util.List;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.MeanScore;
import keenfold.io.export.Flat;
import keenfold.view.text.DetailViews;

/** Candidates side by side over data sets. */
final class DataSetLook {
    private DataSetLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, List<String> metrics) {
        Flat.Table table = Flat.of("dataset", "candidate", "metric", "mean", "se", "low", "high");
        for (String name : metrics) {
            List<MetricInference> each =
                    read.inferences().stream().map(i -> i.metric(name)).toList();
            if (!out.machine()) {
                out.console()
                        .out()
                        .print(DetailViews.byDataSet(each, out.console().ink(out.common())));
            }
            for (Inference inference : read.inferences()) {
                for (MeanScore m : inference.metric(name).means()) {
                    table.row(
                            LookOutput.name(inference),
                            LookOutput.name(inference, m.candidate()),
                            name,
                            m.mean(),
                            m.standardError(),
                            m.low(),
                            m.high());
                }
            }
        }
        if (out.machine()) {
            out.write(table, "by", "dataset");
        }
        out.reading().notices(out.console(), out.common(), read);
    }
}
