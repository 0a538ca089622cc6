package keenfold.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import keenfold.core.infer.Evidence;
import keenfold.core.infer.Inference;
import keenfold.core.infer.Panel;
import keenfold.core.metric.MetricName;
import keenfold.io.InputException;
import keenfold.io.Nearest;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.view.text.Cautions;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** What the commands that read a ledger have in common. */
final class Reading {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec command;

    @Parameters(paramLabel = "LEDGER", description = "a ledger that \"run\" or \"compare\" filled")
    private Path ledger = Path.of("");

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "a CSV table instead of text")
    private boolean csv;

    @Option(names = "--draws", paramLabel = "B", description = "bootstrap resamples (the plan's)")
    private Optional<Integer> draws = Optional.empty();

    @Option(names = "--level", paramLabel = "SHARE", description = "level of intervals, such as 0.95 (the plan's)")
    private Optional<Double> level = Optional.empty();

    @Mixin
    private Threads threads = new Threads();

    /** What was read: the ledger and an inference per data set, in plan order. */
    record Read(LedgerContent content, List<Inference> inferences) {
        List<String> metricNames() {
            return content.plan().metrics().stream().map(MetricName::text).toList();
        }

        String primary() {
            return content.plan().primary().text();
        }
    }

    Path ledger() {
        return ledger;
    }

    boolean json() {
        return json;
    }

    boolean csv() {
        return csv;
    }

    /** Reads the ledger; {@code margin} replaces the plan's where it is given. */
    Read read(Optional<Double> margin) {
        LedgerContent content = LedgerReader.read(ledger);
        if (content.results().fits().isEmpty()) {
            throw new InputException(ledger.toString(), "no fit is in the ledger yet; run its plan first");
        }
        Evidence evidence = checked(() -> {
            Evidence asked = content.plan().evidence();
            asked = draws.map(asked::withDraws).orElse(asked);
            asked = level.isPresent() ? asked.withLevel(level.get()) : asked;
            return margin.isPresent() ? asked.withMargin(margin.get()) : asked;
        });
        List<Inference> inferences = new ArrayList<>();
        for (int t = 0; t < content.results().tasks().size(); t++) {
            inferences.add(Inference.of(Panel.of(content.results(), t), evidence, threads.parallel()));
        }
        return new Read(content, inferences);
    }

    /** Says what is to be said about the fits, whatever was asked of them. */
    void notices(Console console, Common common, Read read) {
        read.inferences().forEach(i -> console.notices(Cautions.ofFits(i.panel()), common));
        int there = read.content().results().fits().size();
        int expected = read.content().expected();
        if (there < expected) {
            console.notices(
                    List.of(ledger + " holds " + there + " of " + expected
                            + " fits of its plan; go on with run, since what lacks a split counts as failed there"),
                    common);
        }
    }

    /** The metric asked for, or the plan's primary one. */
    String metric(Optional<String> asked, Read read) {
        String metric = asked.orElse(read.primary());
        if (!read.metricNames().contains(metric)) {
            throw new InputException(
                    ledger.toString(),
                    "metric \"" + metric + "\" was not scored in this ledger"
                            + Nearest.hint(metric, read.metricNames()));
        }
        return metric;
    }

    /** Runs something whose complaints are about the command line. */
    <T> T checked(Supplier<T> made) {
        try {
            return made.get();
        } catch (IllegalArgumentException e) {
            throw new ParameterException(command.commandLine(), String.valueOf(e.getMessage()), e);
        }
    }
}
