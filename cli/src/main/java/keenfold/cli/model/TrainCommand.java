package keenfold.cli.model;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.Version;
import keenfold.cli.plan.LoadedPlan;
import keenfold.cli.plan.PlanFiles;
import keenfold.cli.read.LedgerOptions;
import keenfold.core.infer.FinalScore;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Outcomes;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.OutputFile;
import keenfold.io.Suggestion;
import keenfold.io.WholeFile;
import keenfold.io.command.CommandClassifier;
import keenfold.io.command.CommandKind;
import keenfold.io.export.Flat;
import keenfold.io.ledger.Openings;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.model.Schema;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.LoadedData;
import keenfold.view.text.NumberFormats;
import keenfold.view.text.TextTable;
import keenfold.view.text.Wrap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Refits the pick on everything, and scores it once on what was held back. */
@Command(
        name = "train",
        description =
                "Trains the pick of a ledger (or a candidate of it, or of a plan) on all rows but the holdout, scores"
                        + " the holdout once, and keeps the trained model in a file.")
public final class TrainCommand implements Callable<Integer> {
    private static final String MEAN = "cross-validated mean";
    private static final String CORRECTED = "corrected for choosing";
    private static final String HOLDOUT = "holdout, scored once";

    private final Console console;

    @Mixin
    private LedgerOptions reading = new LedgerOptions();

    @Option(
            names = {"-o", "--output"},
            required = true,
            paramLabel = "MODEL",
            description = "the file to write, such as pick.kfm")
    private Path output = Path.of("");

    @Option(names = "--candidate", paramLabel = "NAME", description = "this one, in place of the pick")
    private Optional<String> named = Optional.empty();

    @Option(names = "--rule", paramLabel = "RULE", description = "picks by this rule (the plan's, or one-se)")
    private Optional<String> rule = Optional.empty();

    @Option(names = "--data", paramLabel = "DIR", description = "where the data files are, if not beside the ledger")
    private Optional<Path> data = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    public TrainCommand(Console console) {
        this.console = console;
    }

    /** What is to be trained, and what is known of it. */
    private record Chosen(
            Plan plan, LoadedPlan job, int task, Candidate candidate, String why, List<Origin.Score> known) {}

    @Override
    public Integer call() {
        Optional<Rule> asked = reading.checked(() -> rule.map(Rule::parse));
        // Before anything is opened: a look at the holdout is not to be lost to a misspelt folder.
        Path folder = Optional.ofNullable(output.toAbsolutePath().getParent()).orElse(Path.of(""));
        if (!Files.isWritable(folder) || Files.isDirectory(output)) {
            throw new InputException(
                    output.toString(),
                    "cannot be written: expected a file in a folder that is there and can be written");
        }
        replacing.require(output, OutputFile.Kind.MODEL, List.of(reading.ledger()));
        boolean fromLedger = isLedger(reading.ledger());
        console.doing("reading " + reading.ledger(), common);
        Chosen chosen = fromLedger ? fromLedger(asked) : fromPlan();
        OutputFile.requireOther(
                output, PlanFiles.inputs(reading.ledger(), chosen.plan(), LoadedPlan.folders(reading.ledger(), data)));
        LoadedData loaded = chosen.job().data().get(chosen.task());
        Candidate candidate = chosen.candidate();
        console.doing("training " + candidate.name(), common);
        FittedPipeline trained = trained(chosen, loaded);
        List<Origin.Score> scores = new ArrayList<>(chosen.known());
        List<String> notices = new ArrayList<>();
        if (loaded.heldBack().isPresent()) {
            scores.addAll(opened(chosen, loaded, trained, fromLedger, notices));
        } else {
            notices.add("no rows were held back: what to expect of the model on new rows is the value that is corrected"
                    + " for choosing, or the cross-validated mean where none is known");
        }
        ModelFile model = new ModelFile(
                Schema.of(
                        loaded.data().features(),
                        loaded.dates(),
                        chosen.plan().data().get(chosen.task()).format()),
                chosen.plan().data().get(chosen.task()).target(),
                loaded.data().classes().labels(),
                trained,
                new Origin(
                        candidate.name(),
                        settings(trained),
                        loaded.data().name(),
                        loaded.data().rows(),
                        loaded.fingerprint(),
                        PlanWriter.write(chosen.plan()),
                        chosen.job().comparison().seed(),
                        String.join(", ", new Version().getVersion()),
                        scores));
        byte[] bytes = model.bytes();
        WholeFile.bytes(output, bytes);
        if (json) {
            table(scores)
                    .json(
                            console.writer(),
                            "dataset",
                            loaded.data().name(),
                            "candidate",
                            candidate.name(),
                            "why",
                            chosen.why(),
                            "model",
                            output.toString());
        } else {
            text(chosen, loaded, trained, scores, bytes.length);
        }
        console.notices(notices, common);
        return Exit.DONE;
    }

    private static boolean isLedger(Path file) {
        InputFile.require(file, file.toString(), "a ledger or a plan");
        try (InputStream in = Files.newInputStream(file)) {
            boolean ledger = new String(in.readNBytes(15), StandardCharsets.ISO_8859_1).equals("SQLite format 3");
            FileLook look = FileLook.of(file);
            if (look == FileLook.TABLE || look == FileLook.MODEL) {
                throw new InputException(file.toString(), "is no ledger and no plan" + look.words());
            }
            return ledger;
        } catch (IOException e) {
            throw new InputException(file.toString(), "there is no such ledger or plan", e);
        }
    }

    private Chosen fromLedger(Optional<Rule> asked) {
        LedgerOptions.Read read = reading.read(console, common, LedgerOptions.Asked.of(List.of()));
        if (read.inferences().size() > 1) {
            throw new InputException(
                    reading.ledger().toString(),
                    "has several data sets, and a model is of one; name it with --dataset: "
                            + read.inferences().stream()
                                    .map(i -> i.panel().task().data().name())
                                    .collect(Collectors.joining(", ")));
        }
        Plan plan = read.content().plan();
        if (plan.candidates().stream().anyMatch(AdoptedKind::is)) {
            throw new InputException(
                    reading.ledger().toString(),
                    "adopted candidates cannot be trained; ask it of a ledger that run made");
        }
        reading.incomplete(console, common, read);
        Inference inference = read.inferences().get(0);
        MetricInference metric = inference.metric(read.primary());
        Simplicity simplicity = Simplicity.of(inference.panel(), plan.choosing().simplerBy());
        Rule inForce = asked.orElse(plan.choosing().rule());
        int picked = named.isPresent()
                ? index(plan, named.get())
                : Picker.pick(metric, simplicity, inForce)
                        .map(Picks::pick)
                        .orElseThrow(() -> new InputException(
                                reading.ledger().toString(),
                                "no candidate can be picked by " + read.primary() + "; name one with --candidate"));
        LoadedPlan job = LoadedPlan.ofLedger(plan, reading.ledger(), data);
        List<Origin.Score> known = new ArrayList<>();
        List<String> names = read.metricNames();
        inference.together(names);
        for (String name : names) {
            MeanScore mean = inference.metric(name).means().get(picked);
            known.add(new Origin.Score(name, MEAN, mean.mean(), mean.low(), mean.high()));
            if (name.equals(read.primary()) && named.isEmpty()) {
                known.add(new Origin.Score(
                        name,
                        CORRECTED,
                        Picker.corrected(metric, simplicity, inForce).value(),
                        Double.NaN,
                        Double.NaN));
            }
        }
        String why = named.isPresent() ? "named" : "picked by " + inForce.label() + ", by " + read.primary();
        return new Chosen(
                plan,
                job,
                job.index(inference.panel().task().data().name()),
                plan.candidates().get(picked),
                why,
                known);
    }

    private int index(Plan plan, String name) {
        List<String> names = plan.candidates().stream().map(Candidate::name).toList();
        if (!names.contains(name)) {
            throw new InputException(
                    reading.ledger().toString(),
                    "no candidate is called \"" + name + "\"" + Suggestion.hint(name, names));
        }
        return names.indexOf(name);
    }

    private Chosen fromPlan() {
        Path file = reading.ledger();
        Plan plan = PlanReader.read(file);
        if (named.isEmpty()) {
            throw new InputException(
                    file.toString(), "is a plan: say which of its candidates with --candidate, or name a ledger");
        }
        if (plan.seed().isEmpty()) {
            throw new InputException(
                    file.toString(),
                    "has no seed: write one into it, such as seed: 7, so that the model can be made again");
        }
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(file.getParent()).orElse(Path.of("")));
        data.ifPresent(folders::add);
        LoadedPlan job = LoadedPlan.of(plan, file.toString(), folders);
        console.notices(job.notices(), common);
        List<String> names = plan.data().stream().map(d -> d.name()).toList();
        if (names.size() > 1 && reading.dataset().isEmpty()) {
            throw new InputException(
                    file.toString(),
                    "has several data sets, and a model is of one; name it with --dataset: "
                            + String.join(", ", names));
        }
        String wanted = reading.dataset().orElse(names.get(0));
        if (!names.contains(wanted)) {
            throw new InputException(
                    file.toString(), "no data set is called \"" + wanted + "\"" + Suggestion.hint(wanted, names));
        }
        return new Chosen(
                plan, job, names.indexOf(wanted), plan.candidates().get(index(plan, named.get())), "named", List.of());
    }

    private FittedPipeline trained(Chosen chosen, LoadedData loaded) {
        Candidate candidate = chosen.candidate();
        List<CommandClassifier> programs = CommandKind.startedBy(candidate);
        if (!programs.isEmpty()) {
            throw new InputException(
                    reading.ledger().toString(),
                    "candidate \"" + candidate.name() + "\" "
                            + (CommandKind.of(candidate).isPresent()
                                    ? "is a program of yours"
                                    : "has a program of yours as a member")
                            + " (" + programs.get(0).text()
                            + "): what it learned is known to it alone, so that it has to keep its models itself");
        }
        try {
            return FittedPipeline.train(
                    candidate,
                    loaded.data(),
                    chosen.job().comparison().tasks().get(chosen.task()).splits(),
                    chosen.job().comparison().seed());
        } catch (FitFailure | IllegalArgumentException e) {
            throw new InputException(
                    reading.ledger().toString(), "candidate \"" + candidate.name() + "\": " + e.getMessage(), e);
        }
    }

    /** Scores what was held back; the ledger is told before anything is looked at. */
    private List<Origin.Score> opened(
            Chosen chosen, LoadedData loaded, FittedPipeline trained, boolean fromLedger, List<String> notices) {
        String name = loaded.data().name();
        if (fromLedger) {
            List<Openings.Opening> all =
                    Openings.add(reading.ledger(), name, chosen.candidate().name(), console.now());
            if (all.size() > 1) {
                notices.add(name + ": the holdout was opened before, " + (all.size() - 1) + " "
                        + (all.size() == 2 ? "time" : "times") + " (first by "
                        + all.get(0).candidate() + ", " + all.get(0).at()
                        + "); the more often it is looked at, the less its score says of new rows");
            }
        } else {
            notices.add(name + ": a plan does not remember that its holdout was opened; a ledger does");
        }
        var held = loaded.heldBack().orElseThrow();
        Outcomes outcomes;
        try {
            outcomes = trained.outcomes(held.features(), held.targets());
        } catch (FitFailure e) {
            throw new InputException(
                    reading.ledger().toString(), "the holdout cannot be predicted: " + e.getMessage(), e);
        }
        if (!drawnByChance(chosen.plan())) {
            notices.add(
                    name + ": the holdout is not drawn by chance, so that its score includes what changed between it"
                            + " and the rows before");
        }
        return FinalScore.of(
                        held,
                        chosen.plan().metrics().stream()
                                .map(m -> m.withCosts(chosen.plan().costs()))
                                .toList(),
                        chosen.candidate(),
                        outcomes,
                        chosen.plan().evidence(),
                        chosen.job().comparison().seed(),
                        reading.threads().parallel())
                .stream()
                .map(s -> new Origin.Score(s.metric(), HOLDOUT, s.value(), s.low(), s.high()))
                .toList();
    }

    private static boolean drawnByChance(Plan plan) {
        return plan.division()
                .holdout()
                .flatMap(h -> h.drawn())
                .filter(h -> !h.last())
                .isPresent();
    }

    private static String settings(FittedPipeline trained) {
        return trained.settings().entrySet().stream()
                .map(e -> e.getKey() + " " + e.getValue())
                .collect(Collectors.joining(", "));
    }

    static Flat.Table table(List<Origin.Score> scores) {
        Flat.Table table = Flat.of("metric", "of", "value", "low", "high");
        scores.forEach(s -> table.row(s.metric(), s.of(), s.mean(), s.low(), s.high()));
        return table;
    }

    /** Scores as rows, those of one metric together. */
    static List<List<String>> lines(List<Origin.Score> scores) {
        return scores.stream()
                .map(Origin.Score::metric)
                .distinct()
                .flatMap(name -> scores.stream().filter(s -> s.metric().equals(name)))
                .map(TrainCommand::cells)
                .toList();
    }

    /** A score as a row: metric, what it is, value, interval. */
    private static List<String> cells(Origin.Score s) {
        double about = (s.high() - s.low()) / 4;
        return List.of(
                s.metric(),
                s.of(),
                Double.isNaN(about) ? NumberFormats.fixed(s.mean(), 3) : NumberFormats.mean(s.mean(), about),
                NumberFormats.interval(s.low(), s.high(), about));
    }

    private void text(Chosen chosen, LoadedData loaded, FittedPipeline trained, List<Origin.Score> scores, int bytes) {
        String settings = settings(trained);
        console.out()
                .println(console.ink(common)
                        .strong(loaded.data().name() + ": " + chosen.candidate().name() + ", " + chosen.why()));
        console.out()
                .print(Wrap.lines(
                        trained.classifier() + (settings.isEmpty() ? "" : " (" + settings + ")") + ", size "
                                + NumberFormats.significant(trained.size(), 3) + ", trained on "
                                + loaded.data().rows() + " rows"
                                + loaded.heldBack()
                                        .map(h -> ", all but the " + h.rows() + " of the holdout")
                                        .orElse(""),
                        0));
        if (!scores.isEmpty()) {
            TextTable table = TextTable.empty()
                    .column("metric", TextTable.Align.NAME)
                    .column("", TextTable.Align.LEFT)
                    .column("value", TextTable.Align.POINT)
                    .column(NumberFormats.level(chosen.plan().evidence().level()) + " interval", TextTable.Align.RIGHT);
            lines(scores).forEach(table::row);
            console.out().println();
            console.out().print(table.render(console.ink(common)));
            if (loaded.heldBack().isPresent()) {
                console.out()
                        .print(console.ink(common)
                                .quiet(
                                        "The holdout's score is of this one model on these rows; it is set beside the others"
                                                + " without a test.\n"));
            }
        }
        console.out().println();
        console.out().println("wrote " + output + ", " + NumberFormats.significant(bytes / 1000.0, 2) + " kB");
    }
}
