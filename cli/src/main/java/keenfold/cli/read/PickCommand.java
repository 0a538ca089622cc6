package keenfold.cli.read;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.ResultOutput;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.io.plan.Choosing;
import keenfold.results.Picking;
import keenfold.study.Study;
import keenfold.view.text.PickView;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows the pick of every rule. */
@Command(
        name = "pick",
        description =
                "Shows which candidate each rule picks, why, what it costs, how often other draws would have led to"
                        + " the same pick, and what the choosing itself is worth.")
public final class PickCommand implements Callable<Integer> {
    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Mixin
    private Streams streams = new Streams();

    @Option(names = "--metric", paramLabel = "NAME", description = "by this metric (the plan's primary one)")
    private Optional<String> metric = Optional.empty();

    @Option(
            names = "--rule",
            paramLabel = "RULE",
            description = "one-se, m-se=NUMBER, one-se-paired, fold-se, may-be-best, within-margin or best-mean (the"
                    + " plan's, or one-se)")
    private Optional<String> rule = Optional.empty();

    @Option(
            names = "--simpler-by",
            paramLabel = "WHAT",
            description = "kind, size, rank, train-time, predict-time or columns (the plan's, or kind)")
    private Optional<String> simplerBy = Optional.empty();

    @Option(
            names = "--rank",
            paramLabel = "A,B,C",
            split = ",",
            description = "your own order of candidates or families, the simplest first")
    private List<String> rank = new ArrayList<>();

    @Option(
            names = "--margin",
            paramLabel = "M",
            description = "for within-margin and may-be-best (the plan's, or none)")
    private Optional<Double> margin = Optional.empty();

    @Mixin
    private Common common = new Common();

    public PickCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Optional<Rule> asked = reading.checked(() -> {
            Checks.that(
                    rank.isEmpty() || simplerBy.filter(s -> !s.equals("rank")).isEmpty(),
                    "--rank states an order, --simpler-by %s another; leave out one of them",
                    simplerBy.orElse(""));
            return rule.map(Rule::parse);
        });
        Optional<SimplerBy> order = reading.checked(() -> simplerBy.map(s -> SimplerBy.of(s)
                .orElseThrow(() -> Checks.wrong(
                        "--simpler-by \"" + s + "\" is not known" + Suggestion.hint(s, SimplerBy.labels())))));
        Study study = reading.open(
                console, common, metric.map(List::of).orElse(List.of()), settings -> margin.map(settings::withMargin)
                        .orElse(settings));
        Choosing planned = study.plan().choosing();
        SimplerBy by = order.orElse(planned.simplerBy());
        Picking picking = study.pick(
                metric.orElseGet(() -> study.evaluation().primary()),
                asked.orElse(planned.rule()),
                panel -> rank.isEmpty() ? Simplicity.of(panel, by) : Simplicity.ranked(panel, rank));
        new ResultOutput(console, common, streams).show(picking, ink -> PickView.render(picking, ink));
        return Exit.DONE;
    }
}
