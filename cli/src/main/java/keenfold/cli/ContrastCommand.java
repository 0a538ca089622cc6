package keenfold.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.core.infer.Contrast;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.view.text.Cautions;
import keenfold.view.text.ContrastView;
import keenfold.view.text.Heading;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows differences. */
@Command(
        name = "contrast",
        description = "Shows differences of candidates with interval, p-value (adjusted for all pairs at once) and"
                + " call: better, worse, equivalent or undecided.")
final class ContrastCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private Reading reading = new Reading();

    @Option(names = "--metric", paramLabel = "NAME", description = "by this metric (the plan's primary one)")
    private Optional<String> metric = Optional.empty();

    @Option(
            names = "--against",
            paramLabel = "best|all|NAME",
            description = "show each candidate against the best mean, every pair, or each against one (the plan's, or"
                    + " best); p-values stay adjusted for all pairs")
    private Optional<String> against = Optional.empty();

    @Option(
            names = "--margin",
            paramLabel = "M",
            description = "call differences surely smaller than this equivalent (the plan's, or none)")
    private Optional<Double> margin = Optional.empty();

    @Mixin
    private Common common = new Common();

    ContrastCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Reading.Read read = reading.read(margin);
        String name = reading.metric(metric, read);
        String shown =
                against.or(() -> read.content().plan().evidence().against()).orElse(Opponents.BEST);
        List<Opponents> all = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            MetricInference one = inference.metric(name);
            all.add(Opponents.of(reading.ledger().toString(), inference, one, shown));
        }
        List<List<Contrast>> contrasts = all.stream().map(Opponents::contrasts).toList();
        if (reading.json()) {
            JsonExport.contrasts(read.inferences(), name, contrasts, console.writer());
        } else if (reading.csv()) {
            csv(read, contrasts);
        } else {
            text(read, name, all);
        }
        reading.notices(console, common, read);
        for (Inference inference : read.inferences()) {
            Panel panel = inference.panel();
            MetricInference one = inference.metric(name);
            console.notices(Cautions.ofScores(panel, one), common);
            console.notices(
                    Cautions.ofContrasts(panel, one, inference.evidence().level()), common);
        }
        return Exit.DONE;
    }

    private void text(Reading.Read read, String name, List<Opponents> all) {
        for (int t = 0; t < all.size(); t++) {
            Inference inference = read.inferences().get(t);
            MetricInference one = inference.metric(name);
            console.out()
                    .println(Heading.of(
                            inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
            Opponents shown = all.get(t);
            console.out()
                    .println(ContrastView.render(
                            inference, one, shown.contrasts(), shown.title(), shown.single(), console.ink(common)));
        }
        Inference first = read.inferences().get(0);
        MetricInference one = first.metric(name);
        console.out()
                .print(ContrastView.legend(
                        one, first.evidence(), one.contrasts().size(), console.ink(common)));
    }

    private void csv(Reading.Read read, List<List<Contrast>> contrasts) {
        List<List<String>> rows = new ArrayList<>();
        for (int t = 0; t < contrasts.size(); t++) {
            Inference inference = read.inferences().get(t);
            for (Contrast c : contrasts.get(t)) {
                rows.add(List.of(
                        inference.panel().task().data().name(),
                        inference.panel().candidates().get(c.candidate()).name(),
                        inference.panel().candidates().get(c.against()).name(),
                        CsvExport.cell(c.difference()),
                        CsvExport.cell(c.standardError()),
                        CsvExport.cell(c.low()),
                        CsvExport.cell(c.high()),
                        CsvExport.cell(c.lowAll()),
                        CsvExport.cell(c.highAll()),
                        CsvExport.cell(c.p()),
                        CsvExport.cell(c.pAdjusted()),
                        c.call().label()));
            }
        }
        CsvExport.table(
                List.of(
                        "dataset",
                        "candidate",
                        "against",
                        "difference",
                        "se",
                        "low",
                        "high",
                        "low_all",
                        "high_all",
                        "p",
                        "p_adjusted",
                        "call"),
                rows,
                console.writer());
    }
}
