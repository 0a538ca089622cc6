package keenfold.cli.read;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Threads;
import keenfold.core.data.Checks;
import keenfold.core.infer.Inference;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.MetricWord;
import keenfold.view.text.Notices;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** What the commands that read a ledger have in common. */
public final class LedgerOptions {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec command;

    @Parameters(paramLabel = "LEDGER", description = "a ledger that \"run\" or \"compare\" filled")
    private Path ledger = Path.of("");

    @Option(names = "--draws", paramLabel = "B", description = "bootstrap resamples (the plan's)")
    private Optional<Integer> draws = Optional.empty();

    @Option(names = "--level", paramLabel = "SHARE", description = "level of intervals, such as 0.95 (the plan's)")
    private Optional<Double> level = Optional.empty();

    @Option(
            names = "--cost",
            paramLabel = "ACTUAL:PREDICTED=COST",
            description =
                    "what a mistake costs, for the metric cost, in place of the plan's costs; one for each pair of"
                            + " classes, or else=COST for the others")
    private List<String> costTexts = new ArrayList<>();

    @Option(names = "--dataset", paramLabel = "NAME", description = "only this data set of several")
    private Optional<String> dataset = Optional.empty();

    @Mixin
    private Threads threads = new Threads();

    /** What was read: the ledger and an inference per data set, in plan order. */
    public record Read(LedgerContent content, List<Inference> inferences) {
        public List<String> metricNames() {
            return content.plan().metrics().stream().map(MetricName::text).toList();
        }

        /** Whether results have a metric, of the plan or not. */
        boolean has(String metric) {
            return inferences.get(0).panel().task().metrics().stream()
                    .anyMatch(m -> m.name().equals(metric));
        }

        public String primary() {
            return content.plan().primary().text();
        }
    }

    public Path ledger() {
        return ledger;
    }

    public Optional<String> dataset() {
        return dataset;
    }

    public Threads threads() {
        return threads;
    }

    /**
     * What a command asks of the ledger beyond what the plan says.
     *
     * @param metrics by name; those that were not scored in the run are computed from the predictions
     * @param margin in place of the plan's
     * @param method in place of the plan's
     * @param adjust in place of the method's
     */
    public record Asked(
            List<String> metrics, Optional<Double> margin, Optional<Method> method, Optional<Adjust> adjust) {
        Asked and(List<String> more) {
            return new Asked(Stream.concat(metrics.stream(), more.stream()).toList(), margin, method, adjust);
        }

        public static Asked of(List<String> metrics) {
            return new Asked(metrics, Optional.empty(), Optional.empty(), Optional.empty());
        }
    }

    /** Reads the ledger. */
    public Read read(Console console, Common common, Asked asked) {
        return read(console, common, asked, List.of(), (metric, reason) -> {});
    }

    /**
     * Reads the ledger with more metrics, as far as they can be had.
     *
     * @param wished metrics besides those asked for
     * @param without is told each one that cannot be had, and why
     */
    public Read read(
            Console console, Common common, Asked required, List<String> wished, BiConsumer<String, String> without) {
        console.doing("reading " + ledger, common);
        LedgerContent content = LedgerReader.read(ledger);
        console.doing("scoring", common);
        Asked asked = required.and(
                wished.stream().filter(m -> can(content, required, m, without)).toList());
        if (content.results().fits().isEmpty()) {
            throw new InputException(
                    ledger.toString(),
                    "no fit is in the ledger yet; run its plan first"
                            + content.damage().stream().map(d -> "; " + d).collect(Collectors.joining()));
        }
        InferenceSettings evidence = checked(() -> evidence(content.plan().evidence(), asked));
        Results results = results(content, chosen(content), asked.metrics());
        List<Inference> inferences = new ArrayList<>();
        boolean allowed = content.plan().choosing().failedAllowed();
        for (int t = 0; t < results.tasks().size(); t++) {
            inferences.add(Inference.of(
                    AlignedPredictions.of(results, t, allowed), evidence, console.watched(threads.parallel())));
        }
        return new Read(content, inferences);
    }

    /** Whether a metric can be had, tried on one fit. */
    private boolean can(LedgerContent content, Asked required, String metric, BiConsumer<String, String> without) {
        Results all = chosen(content);
        List<Fit> one = all.fits().stream().filter(f -> !f.failed()).limit(1).toList();
        Results few = new Results(all.tasks(), all.candidates(), one, all.seed(), List.of(), all.kept());
        try {
            results(content, few, required.and(List.of(metric)).metrics());
            return true;
        } catch (InputException e) {
            without.accept(metric, String.valueOf(e.getMessage()).replace(ledger + ": ", ""));
            return false;
        }
    }

    private InferenceSettings evidence(InferenceSettings plans, Asked asked) {
        InferenceSettings evidence = draws.map(plans::withDraws).orElse(plans);
        evidence = level.isPresent() ? evidence.withLevel(level.get()) : evidence;
        evidence =
                asked.margin().isPresent() ? evidence.withMargin(asked.margin().get()) : evidence;
        if (asked.method().isEmpty() && asked.adjust().isEmpty()) {
            return evidence;
        }
        Method method = asked.method().orElse(evidence.method());
        // An adjustment of the plan's own method means nothing to another one.
        Optional<Adjust> adjust = asked.adjust().or(() -> asked.method().isEmpty() ? plans.adjust() : Optional.empty());
        return evidence.withMethod(method, adjust);
    }

    private Results chosen(LedgerContent content) {
        if (dataset.isEmpty()) {
            return content.results();
        }
        List<String> names =
                content.results().tasks().stream().map(t -> t.data().name()).toList();
        int index = names.indexOf(dataset.get());
        if (index < 0) {
            throw new InputException(
                    ledger.toString(),
                    "no data set is called \"" + dataset.get() + "\"" + Suggestion.hint(dataset.get(), names));
        }
        return content.results().only(index);
    }

    /** The results under the plan's metrics and those asked for. */
    private Results results(LedgerContent content, Results all, List<String> asked) {
        Costs costs = costTexts.isEmpty() ? content.plan().costs() : asked(content);
        List<MetricName> names = new ArrayList<>(
                content.plan().metrics().stream().map(m -> m.withCosts(costs)).toList());
        for (String text : asked) {
            MetricName name = checked(() -> MetricWord.parse(text)).withCosts(costs);
            if (!names.contains(name)) {
                names.add(name);
            }
        }
        if (names.equals(content.plan().metrics())) {
            return all;
        }
        return InputException.at(ledger.toString(), () -> Rescored.of(all, names));
    }

    /** Reads ACTUAL:PREDICTED=COST; a colon may be part of a label, so that every one is tried. */
    private Costs asked(LedgerContent content) {
        Set<String> labels = new LinkedHashSet<>();
        content.results().tasks().forEach(t -> labels.addAll(t.data().classes().labels()));
        Map<String, Map<String, Double>> byActual = new LinkedHashMap<>();
        OptionalDouble others = OptionalDouble.empty();
        for (String text : costTexts) {
            if (text.startsWith(Costs.ELSE + "=")) {
                others = OptionalDouble.of(checked(() -> number(text.substring(Costs.ELSE.length() + 1))));
                continue;
            }
            int equals = text.lastIndexOf('=');
            Optional<Integer> colon = IntStream.range(0, Math.max(0, equals))
                    .filter(i -> text.charAt(i) == ':'
                            && labels.contains(text.substring(0, i))
                            && labels.contains(text.substring(i + 1, equals)))
                    .boxed()
                    .findFirst();
            checked(() -> {
                Checks.that(
                        colon.isPresent(),
                        "--cost %s: expected ACTUAL:PREDICTED=COST, such as %s:%s=5, or else=COST; classes are %s",
                        text,
                        labels.iterator().next(),
                        List.copyOf(labels).get(labels.size() - 1),
                        labels);
                byActual.computeIfAbsent(text.substring(0, colon.orElse(0)), k -> new LinkedHashMap<>())
                        .put(text.substring(colon.orElse(0) + 1, equals), number(text.substring(equals + 1)));
                return colon;
            });
        }
        Costs costs = new Costs(byActual, others);
        content.results().tasks().stream()
                .map(t -> t.data().classes())
                .filter(costs::concern)
                .forEach(c -> checked(() -> {
                    try {
                        costs.require(c);
                    } catch (IllegalArgumentException e) {
                        throw new IllegalArgumentException("--cost: " + e.getMessage() + "=COST", e);
                    }
                    return c;
                }));
        return costs;
    }

    private static double number(String text) {
        try {
            return Double.parseDouble(text);
        } catch (NumberFormatException e) {
            throw new IllegalArgumentException("--cost: \"" + text + "\" is not a number", e);
        }
    }

    /** Whether costs are given on the command line. */
    boolean hasCosts() {
        return !costTexts.isEmpty();
    }

    /** Says what is to be said about the fits, whatever was asked of them. */
    void notices(Console console, Common common, Read read) {
        read.inferences().forEach(i -> console.notices(Notices.ofFits(i.panel()), common));
        incomplete(console, common, read);
    }

    /** Says what the ledger still lacks. */
    public void incomplete(Console console, Common common, Read read) {
        incomplete(console, common, ledger, read.content());
    }

    /** Says what a ledger still lacks. */
    public static void incomplete(Console console, Common common, Path ledger, LedgerContent content) {
        console.notices(content.damage(), common);
        int there = content.results().fits().size();
        int expected = content.expected();
        if (there < expected) {
            console.notices(
                    List.of(ledger + " holds " + there + " of " + expected
                            + " fits of its plan; go on with run, since what lacks a split counts as failed there"),
                    common);
        }
    }

    /** Runs something whose complaints are about the command line. */
    public <T> T checked(Supplier<T> made) {
        return OptionValues.checked(command, () -> made.get());
    }
}
