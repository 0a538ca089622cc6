package keenfold.cli.run;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.OptionValues;
import keenfold.cli.console.Replacing;
import keenfold.cli.console.TableOptions;
import keenfold.cli.console.Threads;
import keenfold.cli.plan.LoadedPlan;
import keenfold.cli.plan.PlanFiles;
import keenfold.cli.read.ContrastSelection;
import keenfold.core.data.Checks;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.RollingOrigin;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.export.JsonExport;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Choosing;
import keenfold.io.plan.Division;
import keenfold.io.plan.Drafter;
import keenfold.io.plan.MetricWord;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.plan.TryReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.view.text.ComparisonView;
import keenfold.view.text.Notices;
import keenfold.view.text.PickNotices;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** The whole job in one call. */
@Command(
        name = "compare",
        description = "Compares classifiers on a table in one call: trains and tests each on the same folds, then shows"
                + " scores, contrasts and a pick on one screen.")
public final class CompareCommand implements Callable<Integer> {
    /** What is compared unless --try says otherwise: from a guess to many trees. */
    static final List<String> CANDIDATES = List.of(
            "guess=majority",
            "bayes=naive-bayes",
            "logit=logistic",
            "near=nearest neighbours=5,25",
            "tree depth=3,8",
            "woods=forest trees=100",
            "climb=boosting rounds=50 depth=3",
            "border=svm",
            "net=network");

    private final Console console;

    @Spec
    private CommandSpec command;

    @Mixin
    private TableOptions table = new TableOptions();

    @Option(names = "--target", required = true, paramLabel = "COL", description = "the column of the classes")
    private String target = "";

    @Option(
            names = "--positive",
            paramLabel = "LABEL",
            description = "the class that one-sided metrics speak of (the rarer of two)")
    private Optional<String> positive = Optional.empty();

    @Option(names = "--groups", paramLabel = "COL", description = "rows with the same value stay on one side")
    private Optional<String> groups = Optional.empty();

    @Option(
            names = "--order",
            paramLabel = "COL",
            description = "numbers or dates that say which rows came first; each split trains on what came before")
    private Optional<String> order = Optional.empty();

    @Option(names = "--leave-out", paramLabel = "COL", description = "a column to leave out; may be repeated")
    private List<String> leaveOut = new ArrayList<>();

    @Option(names = "--folds", paramLabel = "K", description = "folds of a repeat (10)")
    private Optional<Integer> folds = Optional.empty();

    @Option(names = "--repeats", paramLabel = "R", description = "fresh divisions (10)")
    private Optional<Integer> repeats = Optional.empty();

    @Option(names = "--metric", paramLabel = "NAME", description = "the metric to compare and pick by (auc)")
    private Optional<String> metric = Optional.empty();

    @Option(names = "--seed", paramLabel = "N", description = "from which all randomness derives (drawn and shown)")
    private Optional<Long> seed = Optional.empty();

    @Option(
            names = "--try",
            paramLabel = "CANDIDATE",
            description = "what to compare instead: '[NAME=]CLASSIFIER [setting=value[,value...]]...', such as 'nearest"
                    + " neighbours=3,9'; may be repeated")
    private List<String> candidates = new ArrayList<>();

    @Option(names = "--save-plan", paramLabel = "PLAN", description = "write the plan that this call stands for")
    private Optional<Path> savePlan = Optional.empty();

    @Option(
            names = {"-o", "--ledger"},
            paramLabel = "LEDGER",
            description = "the ledger to fill (DATA.kfl here; goes on with it if plan and data agree, or takes the next"
                    + " free number)")
    private Optional<Path> ledger = Optional.empty();

    @Option(names = "--json", description = "the scores as one JSON document instead of text")
    private boolean json;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Replacing replacing = new Replacing();

    @Mixin
    private Common common = new Common();

    /** Of the table, once it has been read. */
    private int rows;

    public CompareCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        int workers = threads.count();
        Plan asked = checked(this::plan);
        List<Path> inputs = PlanFiles.inputs(Path.of(""), asked, List.of(Path.of("")));
        ledger.ifPresent(l -> OutputFile.requireOther(l, inputs));
        savePlan.ifPresent(p -> {
            replacing.require(p, OutputFile.Kind.PLAN, inputs);
            ledger.ifPresent(l -> OutputFile.requireOther(p, List.of(l)));
        });
        console.doing("reading " + table.data(), common);
        Plan readable = readable(asked);
        Plan plan = scorable(candidates.isEmpty() ? suited(readable) : readable);
        Path file = ledger.orElseGet(() -> freeLedger(plan));
        Plan seeded = LoadedPlan.seeded(besideLedger(plan, file), file);
        savePlan.ifPresent(p -> save(plan.withSeed(seeded.seed().orElseThrow()), p));
        LoadedPlan job = LoadedPlan.of(seeded, table.data(), List.of(folder(file)));
        console.notices(job.notices(), common);
        job.requireRoom(Runtime.getRuntime().maxMemory());
        int failed = new Execution(console, common, workers).run(job, file, false, "the same command");
        console.doing("reading " + file, common);
        LedgerContent content = LedgerReader.read(file);
        console.doing("scoring", common);
        show(content, file);
        return failed > 0 ? Exit.SOME_FAILED : Exit.DONE;
    }

    /** The plan with columns that hold words among numbers read as categories. */
    private Plan readable(Plan all) {
        DataSpec spec = all.data().get(0);
        DataSpec read = spec.withFormat(table.readable(spec.format(), f -> count(spec.withFormat(f)), console, common));
        if (rows == 0) {
            count(read);
        }
        return all.withFiles(List.of(read), all.division());
    }

    private void count(DataSpec spec) {
        rows = DataReader.read(spec, List.of(Path.of(""))).data().rows();
    }

    /** In place of preset metrics that some splits in time do not have, takes those that all have, and says so. */
    private Plan scorable(Plan all) {
        if (metric.isPresent() || order.isEmpty()) {
            return all;
        }
        Task task = LoadedPlan.of(all.withSeed(all.seed().orElse(1L)), table.data(), List.of(Path.of("")))
                .comparison()
                .tasks()
                .get(0);
        if (task.splits()
                .testEveryClass(task.data().targets(), task.data().classes().count())) {
            return all;
        }
        console.notices(
                List.of(
                        "some splits in time test no row of some class, so that auc and balanced-accuracy do not exist on"
                                + " them; log-loss, accuracy and brier are scored; --metric asks for another"),
                common);
        return all.withMetrics(Plan.METRICS_OF_ANY_SPLIT);
    }

    /** Leaves out what would take hours on so many rows, and says so. */
    private Plan suited(Plan all) {
        Map<Boolean, List<Candidate>> sides = all.candidates().stream()
                .collect(Collectors.partitioningBy(c -> Drafter.suits(c.kind().name(), rows)));
        List<Candidate> slow = sides.getOrDefault(false, List.of());
        if (slow.isEmpty()) {
            return all;
        }
        String names = slow.stream().map(Candidate::name).collect(Collectors.joining(", "));
        console.notices(
                List.of("with " + rows + " rows, " + names + " would take long and are left out; name what you want"
                        + " compared with --try"),
                common);
        return all.withCandidates(sides.getOrDefault(true, List.of()));
    }

    private <T> T checked(Supplier<T> made) {
        return OptionValues.checked(command, () -> made.get());
    }

    private Plan plan() {
        List<Candidate> all = new ArrayList<>();
        for (String each : candidates.isEmpty() ? CANDIDATES : candidates) {
            for (Candidate candidate : TryReader.read(each)) {
                Checks.that(
                        all.stream().noneMatch(c -> c.name().equals(candidate.name())),
                        "two candidates are called \"%s\"; name one: --try 'NAME=%s'",
                        candidate.name(),
                        each);
                all.add(candidate);
            }
        }
        List<MetricName> metrics =
                metric.map(m -> PlanReader.withPrimary(MetricWord.parse(m))).orElse(Plan.METRICS);
        String file = table.data();
        DataSpec spec =
                new DataSpec(file, DataSpec.stem(file), target, positive, groups, order, leaveOut, table.format());
        return new Plan(
                Optional.empty(),
                List.of(spec),
                division(),
                seed,
                metrics,
                Costs.NONE,
                metrics.get(0),
                all,
                InferenceSettings.DEFAULT,
                Choosing.PRESET,
                Map.of());
    }

    private Division division() {
        Checks.that(
                order.isEmpty() || (folds.isEmpty() && repeats.isEmpty()),
                "--folds and --repeats divide rows whatever their order; leave them out, or --order");
        KFold preset = KFold.DEFAULT;
        return order.isPresent()
                ? Division.of(RollingOrigin.DEFAULT)
                : Division.of(new KFold(folds.orElse(preset.folds()), repeats.orElse(preset.repeats()), true));
    }

    /** DATA.kfl in this folder; if another comparison is in it, DATA-2.kfl and so on. */
    private Path freeLedger(Plan plan) {
        String stem = DataSpec.stem(table.data());
        for (int i = 1; ; i++) {
            Path file = Path.of(i == 1 ? stem + ".kfl" : stem + "-" + i + ".kfl");
            if (!Files.exists(file) || agrees(plan, file)) {
                return file;
            }
        }
    }

    private boolean agrees(Plan plan, Path file) {
        try {
            Plan there = LedgerReader.plan(file);
            Plan here =
                    plan.seed().isPresent() ? plan : plan.withSeed(there.seed().orElse(0L));
            LoadedPlan job = LoadedPlan.of(here, table.data(), List.of(Path.of("")));
            return PlanWriter.write(there).equals(PlanWriter.write(besideLedger(here, file)))
                    && LedgerReader.fingerprints(file)
                            .equals(job.data().stream()
                                    .map(d -> d.fingerprint())
                                    .toList());
        } catch (InputException e) {
            if (!Files.exists(table.location().file())) {
                throw e;
            }
            return false;
        }
    }

    private static Path folder(Path file) {
        return Optional.ofNullable(file.toAbsolutePath().getParent()).orElse(Path.of("/"));
    }

    /** The plan as its ledger keeps it: a relative file is named as it is found from the ledger's folder. */
    private static Plan besideLedger(Plan plan, Path ledger) {
        return PlanFiles.moved(plan, file -> Path.of(file).isAbsolute() ? file : PlanFiles.moved(file, folder(ledger)));
    }

    private static void save(Plan plan, Path file) {
        Plan moved = PlanFiles.relativeTo(plan, folder(file));
        WholeFile.text(file, PlanWriter.write(moved));
    }

    private void show(LedgerContent content, Path file) {
        AlignedPredictions panel = AlignedPredictions.of(content.results(), 0);
        Inference inference = Inference.of(panel, content.plan().evidence(), console.watched(threads.parallel()));
        List<String> metrics =
                content.plan().metrics().stream().map(MetricName::text).toList();
        inference.together(metrics);
        if (json) {
            JsonExport.scores(content.plan().primary().text(), List.of(inference), metrics, console.writer());
            return;
        }
        MetricInference primary = inference.metric(content.plan().primary().text());
        Optional<Picks> picks =
                Picker.pick(primary, Simplicity.of(panel), content.plan().rule());
        ContrastSelection best = ContrastSelection.of(file.toString(), inference, primary, ContrastSelection.BEST);
        console.out()
                .print(ComparisonView.render(
                        inference,
                        content.plan().division().scheme(),
                        metrics,
                        primary,
                        best.title(),
                        best.contrasts(),
                        picks,
                        console.ink(common)));
        console.notices(Notices.ofFits(panel), common);
        console.notices(Notices.ofScores(panel, primary), common);
        picks.ifPresent(p -> console.notices(PickNotices.of(panel, primary, p), common));
        console.say(
                "kept in " + file + "; read on with keenfold scores, contrast, pick or export "
                        + ShellWords.quoted(file.toString()),
                common);
    }
}
