package keenfold.cli.read;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Streams;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.infer.Across;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.CsvExport;
import keenfold.io.export.Flat;
import keenfold.io.export.JsonExport;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.plan.AdoptedKind;
import keenfold.view.text.AcrossView;
import keenfold.view.text.ContrastView;
import keenfold.view.text.Heading;
import keenfold.view.text.Notices;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Shows differences. */
@Command(
        name = "contrast",
        description = "Shows differences of candidates with interval, p-value (adjusted for all pairs at once) and"
                + " call: better, worse, equivalent or undecided.")
public final class ContrastCommand implements Callable<Integer> {
    /** The columns of a table of contrasts. */
    static final List<String> COLUMNS = List.of(
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
            "call",
            "metric");

    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Mixin
    private Streams streams = new Streams();

    @Option(
            names = "--metric",
            paramLabel = "NAME",
            description = "by this metric, scored in the run or not; may be repeated (the plan's primary one)")
    private List<String> metrics = new ArrayList<>();

    @Option(
            names = "--by",
            paramLabel = "class",
            description = "class: one table for each class, of a metric that speaks of one class, such as recall")
    private Optional<String> by = Optional.empty();

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

    @Option(
            names = "--method",
            paramLabel = "NAME",
            description =
                    "pivot, cases, cases-bca, corrected-t, refit or mcnemar (the plan's, or pivot); docs/methods.md"
                            + " says what each is worth")
    private Optional<String> method = Optional.empty();

    @Option(
            names = "--adjust",
            paramLabel = "NAME",
            description =
                    "how p-values are adjusted for being many: max-t, holm or none (max-t; holm with other methods"
                            + " than pivot)")
    private Optional<String> adjust = Optional.empty();

    @Option(
            names = "--across",
            description = "compare across the data sets of the ledger: mean ranks, Friedman, Iman-Davenport, Wilcoxon")
    private boolean across;

    @Mixin
    private Common common = new Common();

    public ContrastCommand(Console console) {
        this.console = console;
    }

    /** One metric of one data set, and which of its contrasts are shown. */
    private record Shown(Inference inference, MetricInference metric, ContrastSelection opponents) {}

    @Override
    public Integer call() {
        Optional<Method> testedBy =
                reading.checked(() -> method.map(m -> named("--method", m, Method.labels(), Method.of(m))));
        Optional<Adjust> adjusted =
                reading.checked(() -> adjust.map(a -> named("--adjust", a, Adjust.labels(), Adjust.of(a))));
        reading.checked(() -> {
            by.ifPresent(b -> Checks.that(b.equals("class"), "--by %s: expected class", b));
            Checks.that(by.isEmpty() || !across, "--by class and --across are apart; leave out one of them");
            return true;
        });
        LedgerOptions.Asked asked = new LedgerOptions.Asked(metrics, margin, testedBy, adjusted);
        LedgerOptions.Read first = reading.read(console, common, asked);
        List<String> wanted = metrics.isEmpty() ? List.of(first.primary()) : metrics;
        List<String> names = by.isPresent() ? byClass(first, wanted) : wanted;
        LedgerOptions.Read read = by.isPresent()
                ? reading.read(console, common, new LedgerOptions.Asked(names, margin, testedBy, adjusted))
                : first;
        if (across) {
            return across(read, names);
        }
        LedgerContent content = read.content();
        String opponent = against.or(() -> content.plan().evidence().against()).orElse(ContrastSelection.BEST);
        List<Shown> all = shown(read, names, opponent);
        List<String> hopeless = new ArrayList<>();
        all.forEach(s -> hopeless.addAll(Notices.ofFewDraws(
                s.inference().panel(), s.metric(), s.inference().evidence().level())));
        console.notices(hopeless, common);
        if (streams.json()) {
            JsonExport.contrasts(
                    all.stream().map(Shown::inference).toList(),
                    all.stream().map(Shown::metric).toList(),
                    all.stream().map(s -> s.opponents().contrasts()).toList(),
                    Optional.empty(),
                    console.writer());
        } else if (streams.csv()) {
            csv(all);
        } else {
            text(read, all);
        }
        return console.together(
                () -> {
                    notices(read, all);
                    return Exit.DONE;
                },
                common);
    }

    private static <T> T named(String option, String text, List<String> known, Optional<T> found) {
        return found.orElseThrow(() ->
                new IllegalArgumentException(option + " \"" + text + "\" is not known" + Suggestion.hint(text, known)));
    }

    private List<Shown> shown(LedgerOptions.Read read, List<String> names, String opponent) {
        List<Shown> all = new ArrayList<>();
        for (Inference inference : read.inferences()) {
            inference.together(names);
            for (String name : names) {
                MetricInference one = inference.metric(name);
                String place = reading.ledger().toString();
                all.add(InputException.at(
                        place, () -> new Shown(inference, one, ContrastSelection.of(place, inference, one, opponent))));
            }
        }
        return all;
    }

    /** Every metric asked for, of each class in turn; those that speak of no class are refused. */
    private List<String> byClass(LedgerOptions.Read read, List<String> names) {
        List<String> expanded = new ArrayList<>();
        for (String name : names) {
            MetricName metric = MetricName.parse(name);
            reading.checked(() -> {
                Checks.that(
                        metric.measure().oneSided(),
                        "--by class: %s does not speak of one class; name one that does with --metric, such as recall",
                        name);
                return true;
            });
            String base = name.contains(":") ? name.substring(0, name.indexOf(':')) : name;
            for (String label : labels(read)) {
                expanded.add(base + ":class=" + label);
            }
        }
        return expanded;
    }

    private List<String> labels(LedgerOptions.Read read) {
        List<String> labels =
                read.inferences().get(0).panel().task().data().classes().labels();
        for (Inference inference : read.inferences()) {
            if (!inference.panel().task().data().classes().labels().equals(labels)) {
                throw new InputException(
                        reading.ledger().toString(),
                        "--by class: the data sets have different classes; name one with --dataset");
            }
        }
        return labels;
    }

    private int across(LedgerOptions.Read read, List<String> names) {
        requireApart(read);
        console.notices(Notices.ofEqualRows(read.inferences()), common);
        for (String name : names) {
            List<MetricInference> each =
                    read.inferences().stream().map(i -> i.metric(name)).toList();
            AcrossSets sets = InputException.at(reading.ledger().toString(), () -> AcrossSets.of(each));
            double level = read.inferences().get(0).evidence().level();
            // Before the table: nobody should look there for what cannot be.
            AcrossView.hopeless(sets.across(), level).ifPresent(h -> console.notices(List.of(h), common));
            if (streams.json()) {
                JsonExport.contrasts(
                        read.inferences(),
                        each,
                        each.stream().map(MetricInference::contrasts).toList(),
                        Optional.of(sets),
                        console.writer());
            } else if (streams.csv()) {
                acrossTable(sets, each).csv(console.writer());
            } else {
                console.out().println(AcrossView.render(sets, each, level, console.ink(common)));
            }
        }
        reading.notices(console, common, read);
        return Exit.DONE;
    }

    private static Flat.Table acrossTable(AcrossSets sets, List<MetricInference> each) {
        Flat.Table table = Flat.of(
                "candidate",
                "against",
                "rank",
                "rank_against",
                "statistic",
                "p",
                "p_adjusted",
                "exact",
                "wins",
                "draws",
                "losses");
        double[] ranks = sets.across().averageRanks();
        List<Across.Pair> pairs = sets.across().wilcoxon();
        for (int i = 0; i < pairs.size(); i++) {
            Across.Pair p = pairs.get(i);
            AcrossSets.Tally tally = sets.tallies().get(i);
            AlignedPredictions panel = each.get(0).panel();
            table.row(
                    panel.candidates().get(sets.candidates().get(p.candidate())).name(),
                    panel.candidates().get(sets.candidates().get(p.against())).name(),
                    ranks[p.candidate()],
                    ranks[p.against()],
                    p.statistic(),
                    p.p(),
                    p.pAdjusted(),
                    p.exact(),
                    tally.wins(),
                    tally.draws(),
                    tally.losses());
        }
        return table;
    }

    /** Data sets with the same rows are no independent evidence. */
    private void requireApart(LedgerOptions.Read read) {
        List<DataSet> data =
                read.inferences().stream().map(i -> i.panel().task().data()).toList();
        for (int a = 0; a < data.size(); a++) {
            for (int b = a + 1; b < data.size(); b++) {
                if (shareRows(read, data.get(a), data.get(b))) {
                    throw new InputException(
                            reading.ledger().toString(),
                            "data sets \"" + data.get(a).name() + "\" and \""
                                    + data.get(b).name()
                                    + "\" have rows of the same file in common: across data sets they would count"
                                    + " twice; compare across sets of different rows");
                }
            }
        }
    }

    /** Rows of an adopted table are known by number alone, and those of adopted scores not at all. */
    private static boolean shareRows(LedgerOptions.Read read, DataSet a, DataSet b) {
        boolean adopted = read.content().plan().candidates().stream().allMatch(AdoptedKind::is);
        if (adopted || !file(read, a).equals(file(read, b))) {
            return false;
        }
        Set<Integer> rows = new HashSet<>();
        for (int row : a.sourceRows()) {
            rows.add(row);
        }
        for (int row : b.sourceRows()) {
            if (rows.contains(row)) {
                return true;
            }
        }
        return false;
    }

    private static String file(LedgerOptions.Read read, DataSet data) {
        return read.content().plan().data().stream()
                .filter(d -> d.name().equals(data.name()))
                .map(d -> d.file())
                .findFirst()
                .orElse(data.name());
    }

    private void notices(LedgerOptions.Read read, List<Shown> all) {
        reading.notices(console, common, read);
        for (Shown shown : all) {
            AlignedPredictions panel = shown.inference().panel();
            double level = shown.inference().evidence().level();
            console.notices(Notices.ofScores(panel, shown.metric()), common);
            console.notices(Notices.ofMethod(panel, shown.metric()), common);
            console.notices(Notices.ofContrasts(panel, shown.metric(), level), common);
        }
        if (all.size() > read.inferences().size()) {
            console.notices(
                    List.of("p-values are adjusted within each metric, not over metrics; decide beforehand which one"
                            + " counts"),
                    common);
        }
    }

    private void text(LedgerOptions.Read read, List<Shown> all) {
        Optional<Inference> last = Optional.empty();
        for (Shown shown : all) {
            if (last.filter(l -> l.equals(shown.inference())).isEmpty()) {
                console.out()
                        .println(Heading.of(
                                shown.inference().panel(),
                                read.content().plan().division().scheme(),
                                console.ink(common)));
                last = Optional.of(shown.inference());
            }
            console.out()
                    .println(ContrastView.render(
                            shown.inference(),
                            shown.metric(),
                            shown.opponents().contrasts(),
                            shown.opponents().title(),
                            shown.opponents().single(),
                            console.ink(common)));
        }
        console.out()
                .print(ContrastView.legend(
                        all.stream().map(Shown::metric).toList(),
                        all.get(0).inference().evidence(),
                        console.ink(common)));
    }

    private void csv(List<Shown> all) {
        List<List<String>> rows = new ArrayList<>();
        for (Shown shown : all) {
            rows.addAll(rows(shown.metric(), shown.opponents().contrasts()));
        }
        CsvExport.table(COLUMNS, rows, console.writer());
    }

    /** Contrasts as lines of a table with the columns of {@link #COLUMNS}. */
    static List<List<String>> rows(MetricInference metric, List<Contrast> contrasts) {
        AlignedPredictions panel = metric.panel();
        return contrasts.stream()
                .map(c -> List.of(
                        panel.task().data().name(),
                        panel.candidates().get(c.candidate()).name(),
                        panel.candidates().get(c.against()).name(),
                        CsvExport.cell(c.difference()),
                        CsvExport.cell(c.standardError()),
                        CsvExport.cell(c.low()),
                        CsvExport.cell(c.high()),
                        CsvExport.cell(c.lowAll()),
                        CsvExport.cell(c.highAll()),
                        CsvExport.cell(c.p()),
                        CsvExport.cell(c.pAdjusted()),
                        c.call().label(),
                        metric.metric().name()))
                .toList();
    }
}
