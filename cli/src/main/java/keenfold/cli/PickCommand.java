package keenfold.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.core.infer.Contrast;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.view.text.Cautions;
import keenfold.view.text.Heading;
import keenfold.view.text.PickView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows the pick of every rule. */
@Command(
        name = "pick",
        description = "Shows which candidate to take by the one-SE rule and by the best mean, why, what it costs, and"
                + " how often other draws would have led to the same pick.")
final class PickCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private Reading reading = new Reading();

    @Option(names = "--metric", paramLabel = "NAME", description = "by this metric (the plan's primary one)")
    private Optional<String> metric = Optional.empty();

    @Option(names = "--rule", paramLabel = "RULE", description = "one-se or best-mean (the plan's)")
    private Optional<String> rule = Optional.empty();

    @Mixin
    private Common common = new Common();

    PickCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        rule.ifPresent(r -> reading.checked(() -> Rule.parse(r)));
        Reading.Read read = reading.read(Optional.empty());
        String name = reading.metric(metric, read);
        Rule inForce = inForce(read);
        List<Optional<Picks>> all = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            MetricInference one = inference.metric(name);
            Optional<Picks> picks = Picker.pick(one, Simplicity.of(inference.panel()), inForce);
            all.add(picks);
        }
        if (reading.json()) {
            JsonExport.picks(read.inferences(), name, inForce.label(), all, console.writer());
        } else if (reading.csv()) {
            csv(read, all);
        } else {
            text(read, name, all);
        }
        reading.notices(console, common, read);
        for (int t = 0; t < all.size(); t++) {
            Panel panel = read.inferences().get(t).panel();
            MetricInference one = read.inferences().get(t).metric(name);
            console.notices(Cautions.ofScores(panel, one), common);
            all.get(t).ifPresent(p -> console.notices(Cautions.ofPick(panel, one, p), common));
        }
        return Exit.DONE;
    }

    private Rule inForce(Reading.Read read) {
        return rule.map(Rule::parse).orElse(read.content().plan().rule());
    }

    private void text(Reading.Read read, String name, List<Optional<Picks>> all) {
        for (int t = 0; t < all.size(); t++) {
            Inference inference = read.inferences().get(t);
            console.out()
                    .println(Heading.of(
                            inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
            String text = all.get(t)
                    .map(p -> PickView.render(
                            inference.panel(),
                            inference.metric(name),
                            p,
                            inference.evidence().level(),
                            console.ink(common)))
                    .orElse("no candidate can be compared by " + name + "\n");
            console.out().println(text);
        }
        console.out().print(PickView.legend(read.inferences().get(0).metric(name), inForce(read), console.ink(common)));
    }

    private void csv(Reading.Read read, List<Optional<Picks>> all) {
        List<List<String>> rows = new ArrayList<>();
        for (int t = 0; t < all.size(); t++) {
            Inference inference = read.inferences().get(t);
            for (Picks.Choice choice : all.get(t).map(Picks::choices).orElse(List.of())) {
                Optional<Contrast> price = choice.price();
                rows.add(List.of(
                        inference.panel().task().data().name(),
                        choice.rule().label(),
                        inference.panel().candidates().get(choice.pick()).name(),
                        CsvExport.cell(price.map(Contrast::difference).orElse(0.0)),
                        CsvExport.cell(price.map(Contrast::low).orElse(0.0)),
                        CsvExport.cell(price.map(Contrast::high).orElse(0.0))));
            }
        }
        CsvExport.table(List.of("dataset", "rule", "pick", "difference", "low", "high"), rows, console.writer());
    }
}
