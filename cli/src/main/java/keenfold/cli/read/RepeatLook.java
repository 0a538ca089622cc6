package keenfold.cli.read;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.RunningMean;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.view.text.RunningView;

/** How means settle as repeats are added. */
final class RepeatLook {
    private RepeatLook() {}

    static void show(LookOutput out, LedgerOptions.Read read, List<String> metrics) {
        if (out.streams().json()) {
            JsonExport.running(read.inferences(), metrics, out.console().writer());
        } else if (out.streams().csv()) {
            CsvExport.table(
                    List.of(
                            "dataset",
                            "candidate",
                            "metric",
                            "repeats",
                            "score",
                            "running_mean",
                            "running_se",
                            "between_repeats"),
                    runningRows(read, metrics),
                    out.console().writer());
        } else {
            for (Inference inference : read.inferences()) {
                out.heading(read, inference);
                for (String metric : metrics) {
                    out.console()
                            .out()
                            .println(RunningView.render(
                                    inference,
                                    inference.metric(metric),
                                    out.console().ink(out.common())));
                }
            }
        }
        out.reading().notices(out.console(), out.common(), read);
    }

    private static List<List<String>> runningRows(LedgerOptions.Read read, List<String> metrics) {
        List<List<String>> rows = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            for (String name : metrics) {
                MetricInference metric = inference.metric(name);
                for (int c : metric.compared()) {
                    for (RunningMean one : metric.running(c)) {
                        rows.add(List.of(
                                LookOutput.name(inference),
                                LookOutput.name(inference, c),
                                name,
                                Integer.toString(one.count()),
                                CsvExport.cell(one.score()),
                                CsvExport.cell(one.mean()),
                                CsvExport.cell(one.standardError()),
                                CsvExport.cell(one.between())));
                    }
                }
            }
        }
        return rows;
    }
}
