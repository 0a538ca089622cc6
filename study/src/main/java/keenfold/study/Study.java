package keenfold.study;

import java.nio.file.Path;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import keenfold.core.data.Suggestion;
import keenfold.core.infer.Inference;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Rescored;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.OutputFile;
import keenfold.io.WholeFile;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.MetricWord;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.TrainedModel;
import keenfold.results.Versus;
import keenfold.study.model.Training;
import keenfold.study.plan.Beforehand;
import keenfold.study.plan.LedgerState;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.plan.PlanFiles;
import keenfold.study.plan.ProgramsAllowed;
import keenfold.study.progress.Watcher;
import keenfold.study.report.ColumnTraining;
import keenfold.study.report.FigureResult;
import keenfold.study.report.LedgerFigures;
import keenfold.study.report.MethodsSection;
import keenfold.study.report.ReportFolder;
import keenfold.study.report.ReportMaker;
import keenfold.study.report.SharedRows;
import keenfold.study.run.PlanRun;
import keenfold.view.chart.FigureKind;

/**
 * A ledger opened for reading: what its fits come to.
 *
 * <p>Results are values: a table, the same as a document for JSON, and notices. Nothing here writes into the ledger. What
 * cannot be had of the ledger is an {@link InputException} that says why; a wrong argument is an
 * {@link IllegalArgumentException}.
 */
public final class Study {
    private final Path ledger;
    private final LedgerContent content;
    private final boolean withFormer;
    private final StudySettings settings;
    private final Beforehand beforehand;
    private final InferenceSettings inference;
    private final List<MetricName> metrics;
    private final Watcher watcher;
    private Optional<Evaluation> evaluation = Optional.empty();

    private Study(Path ledger, LedgerContent content, boolean withFormer, StudySettings settings, Watcher watcher) {
        this.ledger = ledger;
        this.withFormer = withFormer;
        this.content = content;
        this.settings = settings;
        this.beforehand =
                new Beforehand(content, settings.inference(content.plan().evidence()));
        this.inference = beforehand.heeded();
        this.metrics = metrics(content.plan(), settings);
        this.watcher = watcher;
    }

    /** The plan's metrics and those asked for. */
    private static List<MetricName> metrics(Plan plan, StudySettings settings) {
        Costs costs = settings.costs().orElse(plan.costs());
        List<MetricName> names = new ArrayList<>(
                plan.metrics().stream().map(m -> m.withCosts(costs)).toList());
        for (String text : settings.metrics()) {
            MetricName name = MetricWord.parse(text).withCosts(costs);
            if (!names.contains(name)) {
                names.add(name);
            }
        }
        return names;
    }

    /**
     * Opens a ledger.
     *
     * @throws InputException if it is none, is damaged, or holds no fit yet
     */
    public static Study open(Path ledger) {
        return open(ledger, Watcher.SILENT);
    }

    /** Opens a ledger, watched. */
    public static Study open(Path ledger, Watcher watcher) {
        return open(ledger, watcher, false);
    }

    /**
     * Opens a ledger.
     *
     * @param withFormer whether candidates and data sets that are in the ledger, and not in its plan any more, are compared
     *     too
     */
    public static Study open(Path ledger, Watcher watcher, boolean withFormer) {
        watcher.doing("reading " + ledger);
        LedgerContent content = LedgerReader.read(ledger, withFormer);
        requireFits(ledger, content);
        return new Study(ledger, content, withFormer, StudySettings.OF_PLAN, watcher);
    }

    /** Returns the study of a ledger that was read already. */
    public static Study of(Path ledger, LedgerContent content, Watcher watcher) {
        requireFits(ledger, content);
        return new Study(ledger, content, false, StudySettings.OF_PLAN, watcher);
    }

    private static void requireFits(Path ledger, LedgerContent content) {
        if (content.results().fits().isEmpty()) {
            throw new InputException(
                    ledger.toString(),
                    "no fit is in the ledger yet; run its plan first"
                            + content.damage().stream().map(d -> "; " + d).collect(Collectors.joining()));
        }
    }

    /**
     * Returns the same ledger, read otherwise.
     *
     * @throws IllegalArgumentException if a setting is out of its range, or a metric is not known
     */
    public Study with(StudySettings others) {
        return new Study(ledger, content, withFormer, others, watcher);
    }

    /** Returns the file. */
    public Path ledger() {
        return ledger;
    }

    /** Returns the plan that was run. */
    public Plan plan() {
        return content.plan();
    }

    /** Returns what is in the ledger. */
    public LedgerContent content() {
        return content;
    }

    /** Returns what was asked beyond the plan. */
    public StudySettings settings() {
        return settings;
    }

    /** Returns who is told what is being done. */
    public Watcher watcher() {
        return watcher;
    }

    /** Returns the threads that compute. */
    public Parallel parallel() {
        return Parallel.of(settings.threads());
    }

    /** Returns the labels of all data sets. */
    public Set<String> labels() {
        Set<String> labels = new LinkedHashSet<>();
        content.results().tasks().forEach(t -> labels.addAll(t.data().classes().labels()));
        return labels;
    }

    /** Returns whether there are costs, of the plan or asked for. */
    public boolean hasCosts() {
        return settings.costs().isPresent() || !plan().costs().none();
    }

    /**
     * Returns what the fits come to; nothing is computed before it is asked for.
     *
     * @throws InputException if the data set is not there, or a metric cannot be computed from what was kept
     */
    public Evaluation evaluation() {
        if (evaluation.isEmpty()) {
            watcher.doing("scoring");
            Results results = scored(chosen(), metrics);
            List<Inference> inferences = new ArrayList<>();
            boolean allowed = plan().choosing().failedAllowed();
            for (int t = 0; t < results.tasks().size(); t++) {
                inferences.add(Inference.of(
                        AlignedPredictions.of(results, t, allowed), inference, watcher.watched(parallel())));
            }
            evaluation = Optional.of(new Evaluation(
                    inferences,
                    plan().metrics().stream().map(MetricName::text).toList(),
                    plan().primary().text(),
                    plan().division().scheme(),
                    plan().note(),
                    beforehand.notices(),
                    LedgerState.notices(ledger, content)));
        }
        return evaluation.get();
    }

    /** The fits of the data sets that are asked for. */
    Results chosen() {
        Results all = inference.method() == Method.HALVES
                ? content.results().withHalves(LedgerReader.halves(ledger, withFormer))
                : content.results();
        if (settings.dataset().isEmpty()) {
            return all;
        }
        String wanted = settings.dataset().get();
        List<String> names = all.tasks().stream().map(t -> t.data().name()).toList();
        if (!names.contains(wanted)) {
            throw new InputException(
                    ledger.toString(), "no data set is called \"" + wanted + "\"" + Suggestion.hint(wanted, names));
        }
        return all.only(names.indexOf(wanted));
    }

    /** The fits, if each of these candidates is among them. */
    Evaluation known(List<String> candidates) {
        Evaluation all = evaluation();
        return at(() -> {
            all.requireCandidates(candidates);
            return all;
        });
    }

    private Results scored(Results results, List<MetricName> names) {
        return names.equals(plan().metrics())
                ? results
                : InputException.at(ledger.toString(), () -> Rescored.of(results, names));
    }

    /** Returns why a metric cannot be computed, tried on one fit; empty if it can. */
    public Optional<String> without(String metric) {
        Results all = chosen();
        List<Fit> one = all.fits().stream().filter(f -> !f.failed()).limit(1).toList();
        Results few = new Results(all.tasks(), all.candidates(), one, all.seed(), List.of(), all.kept());
        try {
            List<String> asked = new ArrayList<>(settings.metrics());
            asked.add(metric);
            scored(few, metrics(plan(), settings.withMetrics(asked)));
            return Optional.empty();
        } catch (InputException e) {
            return Optional.of(String.valueOf(e.getMessage()).replace(ledger + ": ", ""));
        }
    }

    <T> T at(Supplier<T> made) {
        return InputException.at(ledger.toString(), () -> made.get());
    }

    /** Returns the means of the plan's metrics. */
    public Scores scores() {
        return scores(evaluation().metrics(), Scores.Extras.NONE);
    }

    /**
     * Returns means.
     *
     * @param names of metrics, of the plan or asked for
     * @param extras what stands beside them
     */
    public Scores scores(List<String> names, Scores.Extras extras) {
        Evaluation all = evaluation();
        if (extras.training()
                && all.inferences().stream().noneMatch(i -> i.panel().hasTrainScores())) {
            throw new InputException(
                    ledger.toString(),
                    "the fits were not scored on their training rows; run the plan into a new ledger with"
                            + " --train-scores");
        }
        return Scores.of(all, names, extras);
    }

    /** Returns each candidate against the best mean, or the one that the plan names, by the primary metric. */
    public Contrasts contrasts() {
        return contrasts(List.of(evaluation().primary()), against());
    }

    /** Returns what the plan compares candidates with; the best mean if it says nothing. */
    public String against() {
        return plan().evidence().against().orElse(Contrasts.BEST);
    }

    /**
     * Returns differences with their tests.
     *
     * @param names of metrics, of the plan or asked for
     * @param against {@link Contrasts#BEST}, {@link Contrasts#ALL} or the name of a candidate
     */
    public Contrasts contrasts(List<String> names, String against) {
        Evaluation all = evaluation();
        return at(() -> Contrasts.of(all, names, against));
    }

    /**
     * Returns candidates compared across data sets.
     *
     * @throws InputException if data sets have rows in common, or too few can be compared
     */
    public AcrossDataSets across(List<String> names) {
        Evaluation all = evaluation();
        SharedRows.refuse(plan(), all, ledger);
        return at(() -> AcrossDataSets.of(all, names));
    }

    /**
     * Returns the candidates of this ledger against those of another that are called the same. Differences are tested, by the
     * evidence of this one, where both have the same rows in the same folds.
     *
     * @param names of metrics, whether they were planned or not
     * @throws InputException if nothing is in both
     */
    public Versus versus(Study other, List<String> names) {
        Costs costs = settings.costs().orElse(plan().costs());
        watcher.doing("comparing");
        return new Rivals(this, other, inference.withAgainst(Optional.empty()))
                .versus(names.stream()
                        .map(n -> MetricWord.parse(n).withCosts(costs))
                        .toList());
    }

    /** Returns the picks by the primary metric, by the plan's rule and order. */
    public Picking pick() {
        return pick(
                evaluation().primary(),
                plan().choosing().rule(),
                panel -> Simplicity.of(panel, plan().choosing().simplerBy()));
    }

    /**
     * Returns the picks of all rules.
     *
     * @param metric its name
     * @param rule the one in force
     * @param order of simplicity
     * @throws InputException if no candidate can be picked on any data set
     */
    public Picking pick(String metric, Rule rule, Function<AlignedPredictions, Simplicity> order) {
        Evaluation all = evaluation();
        Picking picking = at(() -> Picking.of(all, metric, rule, order)).afterwards(beforehand.notices(rule));
        if (!picking.any()) {
            throw new InputException(ledger.toString(), picking.whyNone());
        }
        return picking;
    }

    /** Returns what can be picked by the plan's rule and order, perhaps nothing; what choosing is worth is left out. */
    public Picking picking() {
        Evaluation all = evaluation();
        return at(() -> Picking.quick(
                all,
                all.primary(),
                plan().choosing().rule(),
                panel -> Simplicity.of(panel, plan().choosing().simplerBy())));
    }

    /** Returns whether there are predictions with probabilities. */
    public boolean hasProbabilities() {
        return content.results().kept() == Results.Kept.PROBABILITIES;
    }

    /** Returns closer looks at the same fits. */
    public CloserLooks looks() {
        return new CloserLooks(this, inference);
    }

    /**
     * Writes the report: one page, and beside it figures and tables.
     *
     * @param folder made if it is not there; figures and tables of the same names are replaced
     * @throws InputException if it has a {@code report.html} that is not a report of Keen Fold
     */
    public ReportMaker.Written report(Path folder) {
        ReportFolder.require(folder, ledger, false, false);
        return report(folder, ReportMaker.Asked.PLAIN);
    }

    /** Writes the report that is asked for, over whatever files of these names are there. */
    public ReportMaker.Written report(Path folder, ReportMaker.Asked asked) {
        Evaluation all =
                evaluation().withAfterwards(beforehand.notices(plan().choosing().rule()));
        ReportMaker maker = new ReportMaker(ledger, content, all, asked, Program.version(), watcher, parallel());
        watcher.doing("drawing the report");
        return maker.write(folder);
    }

    /**
     * Returns the methods section of a paper: what was done, in sentences, with a table of candidates and references.
     *
     * @throws InputException if no candidate can be picked on any data set
     */
    public MethodsSection methods() {
        return MethodsSection.of(ledger, plan(), pick(), comparedAcross(), Program.version());
    }

    /** Whether the report compares candidates across data sets, by the primary metric. */
    private boolean comparedAcross() {
        try {
            return evaluation().inferences().size() > 1
                    && !across(List.of(evaluation().primary())).parts().isEmpty();
        } catch (InputException e) {
            // Too few candidates have a mean on every data set, or the data sets share rows.
            return false;
        }
    }

    /** Returns what makes the figures of this ledger. */
    public LedgerFigures figures() {
        return new LedgerFigures(plan(), evaluation(), content.results().kept() == Results.Kept.PROBABILITIES);
    }

    /**
     * Makes a figure of the first data set, or, of ranks, of all of them.
     *
     * @param more the metric that the kind needs besides, as {@link LedgerFigures#needs} says
     * @param candidates those shown; those that suit the figure if none is named
     * @param against what differences are from
     * @param data where the data files are, if not beside the ledger, and on the splits of how many {@code repeats}
     *     candidates are retrained: for the figure of columns
     */
    public FigureResult figure(
            FigureKind kind,
            String metric,
            Optional<String> more,
            List<String> candidates,
            String against,
            Optional<Path> data,
            int repeats) {
        known(candidates);
        ColumnTraining training = new ColumnTraining(plan(), ledger, data, repeats, parallel());
        return at(() -> figures().result(kind, metric, more, candidates, against, training));
    }

    /**
     * Trains the pick on all rows but the holdout, scores the holdout once, which the ledger remembers, and keeps the model.
     *
     * @param file the model file to write
     * @throws InputException if the file is one of those read, or is there and is not a model
     */
    public TrainedModel train(Path file) {
        // Before the holdout is looked at.
        OutputFile.require(
                file,
                OutputFile.Kind.MODEL,
                PlanFiles.inputs(ledger, plan(), LoadedPlan.folders(ledger, Optional.empty())),
                false);
        Training training = new Training(
                ledger,
                Training.Asked.PICK,
                new Training.Run(
                        watcher, parallel(), InstantSource.system(), Program.version() + ", " + Program.java()));
        Training.Trained trained = training.train(training.ofLedger(plan(), evaluation()));
        WholeFile.bytes(file, trained.model().bytes());
        return trained.known().in(file.toString());
    }

    /** Runs what a ledger lacks of a plan, and opens the ledger, with nobody watching. */
    public static Study run(Path plan, Path ledger) {
        return run(plan, ledger, Watcher.SILENT);
    }

    /**
     * Runs what a ledger lacks of a plan, and opens the ledger. The data are looked for beside the plan. A plan whose
     * candidates start programs is refused.
     *
     * @param plan the file of the plan
     * @param ledger the ledger to fill; created if it does not exist
     * @throws InputException if plan, data or ledger cannot be used, or the ledger is one of the files read
     */
    public static Study run(Path plan, Path ledger, Watcher watcher) {
        Plan read = LoadedPlan.seeded(PlanReader.read(plan), ledger);
        ProgramsAllowed.require(read, plan, false);
        List<Path> folders = List.of(Optional.ofNullable(plan.getParent()).orElse(Path.of("")));
        OutputFile.requireOther(ledger, PlanFiles.inputs(plan, read, folders));
        watcher.doing("reading the data");
        LoadedPlan job = LoadedPlan.of(read, plan.toString(), folders);
        watcher.notices(job.notices());
        job.requireRoom(Runtime.getRuntime().maxMemory());
        try (PlanRun run = PlanRun.open(
                job, ledger, Optional.empty(), watcher, Runtime.getRuntime().availableProcessors())) {
            run.run(PlanRun.Status.UNSEEN);
        }
        return open(ledger, watcher);
    }
}
