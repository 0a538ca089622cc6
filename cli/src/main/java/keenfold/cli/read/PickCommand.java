package keenfold.cli.read;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonExport;
import keenfold.io.plan.Choosing;
import keenfold.view.text.Heading;
import keenfold.view.text.Notices;
import keenfold.view.text.PickNotices;
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
    /** The columns of a table of picks. */
    static final List<String> COLUMNS = List.of("dataset", "rule", "pick", "difference", "low", "high");

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
            description = "one-se, m-se=NUMBER, one-se-paired, fold-se, not-worse, within-margin or best-mean (the"
                    + " plan's, or one-se)")
    private Optional<String> rule = Optional.empty();

    @Option(
            names = "--simpler-by",
            paramLabel = "WHAT",
            description = "size, rank, train-time, predict-time or columns (the plan's, or size)")
    private Optional<String> simplerBy = Optional.empty();

    @Option(
            names = "--rank",
            paramLabel = "A,B,C",
            split = ",",
            description = "your own order of candidates or families, the simplest first")
    private List<String> rank = new ArrayList<>();

    @Option(names = "--margin", paramLabel = "M", description = "for within-margin and not-worse (the plan's, or none)")
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
                .orElseThrow(() -> new IllegalArgumentException(
                        "--simpler-by \"" + s + "\" is not known" + Suggestion.hint(s, SimplerBy.labels())))));
        LedgerOptions.Read read = reading.read(
                console,
                common,
                new LedgerOptions.Asked(
                        metric.map(List::of).orElse(List.of()), margin, Optional.empty(), Optional.empty()));
        String name = metric.orElse(read.primary());
        Choosing planned = read.content().plan().choosing();
        Rule inForce = asked.orElse(planned.rule());
        List<JsonExport.Picked> all = new ArrayList<>();
        List<Simplicity> orders = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            Simplicity simplicity = simplicity(inference.panel(), order.orElse(planned.simplerBy()));
            orders.add(simplicity);
            all.add(InputException.at(
                    reading.ledger().toString(), () -> picked(inference, inference.metric(name), simplicity, inForce)));
        }
        if (all.stream().allMatch(p -> p.picks().isEmpty())) {
            throw new InputException(reading.ledger().toString(), nothing(read, name));
        }
        Optional<JsonExport.Overall> overall = overall(read, name);
        if (streams.json()) {
            JsonExport.picks(name, inForce.label(), all, overall, console.writer());
        } else if (streams.csv()) {
            csv(all);
        } else {
            text(read, name, inForce, all, orders, overall);
        }
        return console.together(
                () -> {
                    notices(read, name, all, orders);
                    return Exit.DONE;
                },
                common);
    }

    /** Why no candidate can be picked, and by what one could. */
    private static String nothing(LedgerOptions.Read read, String name) {
        List<String> others = read.content().plan().metrics().stream()
                .map(MetricName::text)
                .filter(m -> !m.equals(name) && read.has(m))
                .filter(m -> read.inferences().stream()
                        .anyMatch(i -> !i.metric(m).compared().isEmpty()))
                .toList();
        boolean scored =
                read.inferences().stream().anyMatch(i -> !i.panel().admitted().isEmpty());
        return "no candidate can be picked by " + name + ": "
                + (scored
                        ? "it is undefined in too many splits or draws"
                        : "too many of their fits failed (keenfold scores says which)")
                + (others.isEmpty() ? "" : "; --metric " + String.join(", or ", others) + " can serve");
    }

    private void notices(LedgerOptions.Read read, String name, List<JsonExport.Picked> all, List<Simplicity> orders) {
        reading.notices(console, common, read);
        for (int t = 0; t < all.size(); t++) {
            AlignedPredictions panel = read.inferences().get(t).panel();
            MetricInference one = read.inferences().get(t).metric(name);
            Simplicity simplicity = orders.get(t);
            console.notices(Notices.ofScores(panel, one), common);
            all.get(t).picks().ifPresent(p -> console.notices(PickNotices.of(panel, one, p, simplicity), common));
        }
    }

    private Simplicity simplicity(AlignedPredictions panel, SimplerBy by) {
        return InputException.at(
                reading.ledger().toString(),
                () -> rank.isEmpty() ? Simplicity.of(panel, by) : Simplicity.ranked(panel, rank));
    }

    private static JsonExport.Picked picked(
            Inference inference, MetricInference metric, Simplicity simplicity, Rule rule) {
        Corrected best = Picker.corrected(metric, simplicity, Rule.BEST_MEAN);
        return new JsonExport.Picked(
                inference,
                Picker.pick(metric, simplicity, rule),
                Picker.families(metric, simplicity, rule),
                best,
                rule.equals(Rule.BEST_MEAN) ? best : Picker.corrected(metric, simplicity, rule));
    }

    /** Over several data sets: by mean rank. */
    private static Optional<JsonExport.Overall> overall(LedgerOptions.Read read, String name) {
        if (read.inferences().size() < 2) {
            return Optional.empty();
        }
        AcrossSets sets;
        try {
            sets = AcrossSets.of(
                    read.inferences().stream().map(i -> i.metric(name)).toList());
        } catch (IllegalArgumentException e) {
            // Too few candidates have a mean on every data set: there is no pick over all of them.
            return Optional.empty();
        }
        double[] ranks = sets.across().averageRanks();
        Map<String, Double> byName = new LinkedHashMap<>();
        for (int j = 0; j < ranks.length; j++) {
            byName.put(
                    read.inferences()
                            .get(0)
                            .panel()
                            .candidates()
                            .get(sets.candidates().get(j))
                            .name(),
                    ranks[j]);
        }
        String pick = byName.entrySet().stream()
                .min(Comparator.comparingDouble(Map.Entry::getValue))
                .orElseThrow()
                .getKey();
        return Optional.of(new JsonExport.Overall(pick, byName));
    }

    private void text(
            LedgerOptions.Read read,
            String name,
            Rule inForce,
            List<JsonExport.Picked> all,
            List<Simplicity> orders,
            Optional<JsonExport.Overall> overall) {
        for (int t = 0; t < all.size(); t++) {
            Inference inference = read.inferences().get(t);
            JsonExport.Picked picked = all.get(t);
            Simplicity simplicity = orders.get(t);
            console.out()
                    .println(Heading.of(
                            inference.panel(), read.content().plan().division().scheme(), console.ink(common)));
            String text = picked.picks()
                    .map(p -> PickView.render(
                            inference,
                            inference.metric(name),
                            p,
                            picked.families(),
                            new PickView.Worth(picked.correctedBest(), picked.correctedRule()),
                            simplicity,
                            read.content().plan().division().scheme(),
                            console.ink(common)))
                    .orElse("no candidate can be compared by " + name + "\n");
            console.out().println(text);
        }
        overall.ifPresent(o -> console.out()
                .println(PickView.overall(o.pick(), o.ranks(), read.inferences().size(), console.ink(common))));
        console.out()
                .print(PickView.legend(
                        read.inferences().get(0).metric(name), inForce, orders.get(0), console.ink(common)));
    }

    private void csv(List<JsonExport.Picked> all) {
        List<List<String>> rows = new ArrayList<>();
        all.forEach(p -> rows.addAll(rows(p.inference().panel(), p.picks())));
        CsvExport.table(COLUMNS, rows, console.writer());
    }

    /** The picks of all rules as lines of a table with the columns of {@link #COLUMNS}. */
    static List<List<String>> rows(AlignedPredictions panel, Optional<Picks> picks) {
        List<List<String>> rows = new ArrayList<>();
        for (Picks.Choice choice : picks.map(Picks::choices).orElse(List.of())) {
            Optional<Contrast> price = choice.price();
            boolean can = choice.without().isEmpty();
            rows.add(List.of(
                    panel.task().data().name(),
                    choice.rule().label(),
                    can ? panel.candidates().get(choice.pick()).name() : "",
                    CsvExport.cell(can ? price.map(Contrast::difference).orElse(0.0) : Double.NaN),
                    CsvExport.cell(can ? price.map(Contrast::low).orElse(0.0) : Double.NaN),
                    CsvExport.cell(can ? price.map(Contrast::high).orElse(0.0) : Double.NaN)));
        }
        return rows;
    }
}
