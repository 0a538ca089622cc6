package keenfold.study.model;

import java.nio.file.Path;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Suggestion;
import keenfold.core.data.ValueException;
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
import keenfold.core.run.Parallel;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.io.InputException;
import keenfold.io.command.CommandClassifier;
import keenfold.io.command.CommandKind;
import keenfold.io.command.Programs;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.ledger.Openings;
import keenfold.io.ledger.table.Opening;
import keenfold.io.model.ModelFile;
import keenfold.io.model.Origin;
import keenfold.io.model.Schema;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.LoadedData;
import keenfold.results.Evaluation;
import keenfold.results.ModelScore;
import keenfold.results.TrainedModel;
import keenfold.results.notice.PickNotices;
import keenfold.study.plan.LoadedPlan;
import keenfold.study.progress.Watcher;

/** Trains a candidate on all rows but the holdout, and scores the holdout once. */
public final class Training {
    private final Path source;
    private final Asked asked;
    private final Run run;

    /**
     * What is trained.
     *
     * @param candidate its name; the pick if it is empty
     * @param rule that picks; the plan's if it is empty
     * @param dataset of a plan with several; of a ledger, the evaluation says which
     * @param data where the data files are, if not beside ledger or plan
     * @param all whether rows that were held back, and have been scored, are trained on too
     * @param allowCommands whether programs of the user's may be started
     */
    public record Asked(
            Optional<String> candidate,
            Optional<Rule> rule,
            Optional<String> dataset,
            Optional<Path> data,
            boolean all,
            boolean allowCommands) {
        /** The pick. */
        public static final Asked PICK =
                new Asked(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), false, false);
    }

    /**
     * By whom and with what.
     *
     * @param clock says when a holdout was opened
     * @param program with its version
     */
    public record Run(Watcher watcher, Parallel parallel, InstantSource clock, String program) {}

    /** A trained model, and what is known of it. */
    public record Trained(ModelFile model, TrainedModel known) {}

    /** What is to be trained, and what is known of it. */
    public record Chosen(
            Plan plan,
            LoadedPlan job,
            int task,
            Candidate candidate,
            String why,
            List<ModelScore> known,
            List<Notice> notices,
            boolean fromLedger) {
        /** Copies the lists. */
        public Chosen {
            known = List.copyOf(known);
            notices = List.copyOf(notices);
        }

        LoadedData data() {
            return job.data().get(task);
        }
    }

    /** @param source the ledger, or the plan */
    public Training(Path source, Asked asked, Run run) {
        this.source = source;
        this.asked = asked;
        this.run = run;
    }

    private InputException refused(String why) {
        return new InputException(source.toString(), why);
    }

    /** Chooses the pick of a ledger, or the candidate that is named, and reads the data again. */
    public Chosen ofLedger(Plan plan, Evaluation evaluation) {
        if (evaluation.inferences().size() > 1) {
            throw refused("has several data sets, and a model is of one; name it with --dataset: "
                    + evaluation.inferences().stream().map(Evaluation::name).collect(Collectors.joining(", ")));
        }
        if (plan.candidates().stream().anyMatch(AdoptedKind::is)) {
            throw refused("adopted candidates cannot be trained; ask it of a ledger that run made");
        }
        Inference inference = evaluation.inferences().get(0);
        MetricInference metric = inference.metric(evaluation.primary());
        Simplicity simplicity = Simplicity.of(inference.panel(), plan.choosing().simplerBy());
        Rule rule = asked.rule().orElse(plan.choosing().rule());
        boolean named = asked.candidate().isPresent();
        Optional<Picks> picks = named ? Optional.empty() : Picker.pick(metric, simplicity, rule);
        int picked = named
                ? index(plan, asked.candidate().get())
                : picks.map(Picks::pick)
                        .orElseThrow(() -> refused("no candidate can be picked by " + evaluation.primary()
                                + "; name one with --candidate"));
        LoadedPlan job = LoadedPlan.ofLedger(plan, source, asked.data());
        List<ModelScore> known = new ArrayList<>();
        inference.together(evaluation.metrics());
        for (String name : evaluation.metrics()) {
            MeanScore mean = inference.metric(name).means().get(picked);
            known.add(new ModelScore(name, ModelScore.MEAN, mean.mean(), mean.low(), mean.high()));
            if (name.equals(evaluation.primary()) && !named) {
                double corrected = Picker.corrected(metric, simplicity, rule).value();
                known.add(new ModelScore(name, ModelScore.CORRECTED, corrected, Double.NaN, Double.NaN));
            }
        }
        return new Chosen(
                plan,
                job,
                job.index(Evaluation.name(inference)),
                plan.candidates().get(picked),
                named
                        ? "named"
                        : "picked by " + rule.label() + ", by " + evaluation.primary()
                                + picks.flatMap(Picks::shownWorse)
                                        .map(c -> "; shown to be worse than the best mean")
                                        .orElse(""),
                known,
                picks.flatMap(p -> PickNotices.shownWorse(inference.panel(), metric, p)).stream()
                        .toList(),
                true);
    }

    /** Chooses the candidate that is named of a plan, and reads the data. */
    public Chosen ofPlan() {
        Plan plan = PlanReader.read(source, asked.allowCommands());
        String candidate = asked.candidate()
                .orElseThrow(
                        () -> refused("is a plan: say which of its candidates with --candidate, or name a ledger"));
        if (plan.seed().isEmpty()) {
            throw refused("has no seed: write one into it, such as seed: 7, so that the model can be made again");
        }
        List<Path> folders = new ArrayList<>();
        folders.add(Optional.ofNullable(source.getParent()).orElse(Path.of("")));
        asked.data().ifPresent(folders::add);
        LoadedPlan job = LoadedPlan.of(plan, source.toString(), folders);
        run.watcher().notices(job.notices());
        List<String> names = plan.data().stream().map(d -> d.name()).toList();
        if (names.size() > 1 && asked.dataset().isEmpty()) {
            throw refused("has several data sets, and a model is of one; name it with --dataset: "
                    + String.join(", ", names));
        }
        String wanted = asked.dataset().orElse(names.get(0));
        if (!names.contains(wanted)) {
            throw refused("no data set is called \"" + wanted + "\"" + Suggestion.hint(wanted, names));
        }
        return new Chosen(
                plan,
                job,
                names.indexOf(wanted),
                plan.candidates().get(index(plan, candidate)),
                "named",
                List.of(),
                List.of(),
                false);
    }

    private int index(Plan plan, String name) {
        List<String> names = plan.candidates().stream().map(Candidate::name).toList();
        if (!names.contains(name)) {
            throw refused("no candidate is called \"" + name + "\"" + Suggestion.hint(name, names));
        }
        return names.indexOf(name);
    }

    /** Trains what was chosen, and scores what was held back. */
    public Trained train(Chosen chosen) {
        LoadedData loaded = chosen.data();
        Candidate candidate = chosen.candidate();
        List<Notice> notices = new ArrayList<>(chosen.notices());
        DataSet data = asked.all() ? everyRow(chosen, notices) : loaded.data();
        run.watcher().doing("training " + candidate.name());
        FittedPipeline pipeline = fitted(chosen, data);
        List<ModelScore> scores = new ArrayList<>(chosen.known());
        int seen = 0;
        if (loaded.heldBack().isPresent() && !asked.all()) {
            seen = opened(chosen, loaded.heldBack().get(), notices);
            scores.addAll(scored(chosen, loaded.heldBack().get(), pipeline, notices));
        } else if (!asked.all()) {
            notices.add(Notice.plain(
                    "no-holdout",
                    "no rows were held back: what to expect of the model on new rows is the value that is corrected for"
                            + " choosing, or the cross-validated mean where none is known"));
        }
        String settings = pipeline.settings().entrySet().stream()
                .map(e -> e.getKey() + " " + e.getValue())
                .collect(Collectors.joining(", "));
        ModelFile model = new ModelFile(
                Schema.of(
                        data.features(),
                        loaded.dates(),
                        chosen.plan().data().get(chosen.task()).format()),
                chosen.plan().data().get(chosen.task()).target(),
                data.classes().labels(),
                pipeline,
                new Origin(
                        candidate.name(),
                        settings,
                        data.name(),
                        data.rows(),
                        loaded.fingerprint(),
                        PlanWriter.write(chosen.plan()),
                        chosen.job().comparison().seed(),
                        run.program(),
                        scores));
        TrainedModel known = new TrainedModel(
                data.name(),
                candidate.name(),
                chosen.why(),
                pipeline.classifier(),
                settings,
                pipeline.size(),
                data.rows(),
                asked.all() ? 0 : loaded.heldBack().map(DataSet::rows).orElse(0),
                seen,
                chosen.plan().evidence().level(),
                scores,
                "",
                notices);
        return new Trained(model, known);
    }

    /** The rows of the holdout among the others, once they have been scored: then nothing is left to keep them for. */
    private DataSet everyRow(Chosen chosen, List<Notice> notices) {
        LoadedData loaded = chosen.data();
        String name = loaded.data().name();
        if (loaded.heldBack().isEmpty()) {
            throw refused("no rows of data set \"" + name + "\" are held back: train uses all of them as it is");
        }
        int rows = loaded.heldBack().get().rows();
        int seen = chosen.fromLedger() ? Openings.of(source, name).size() : 0;
        if (seen == 0) {
            throw refused("the " + rows + " rows of \"" + name + "\" that are held back have not been scored "
                    + (chosen.fromLedger() ? "yet" : "as far as a plan knows")
                    + "; train without --all first, since nothing says how good a model is that has seen every row");
        }
        notices.add(Notice.of(
                        "trained-on-all",
                        "the %d rows of the holdout were trained on too: this model has no held-out score of its own; what"
                                + " the holdout said (seen %s) is of models that were trained without it",
                        rows,
                        Openings.times(seen))
                .about(name)
                .with("times", seen));
        return chosen.job().everyRow(chosen.task(), LoadedPlan.folders(source, asked.data()));
    }

    /** The candidate with leave to start its program, which must be the one that was run. */
    private Candidate withProgram(Chosen chosen) {
        Candidate candidate = chosen.candidate();
        String text = CommandKind.startedBy(candidate).get(0).text();
        if (!asked.allowCommands()) {
            throw refused("candidate \"" + candidate.name() + "\" runs a program: " + text
                    + "; if you trust it, let it be trained with --allow-commands");
        }
        if (!chosen.fromLedger()) {
            return candidate;
        }
        Optional<String> was = LedgerReader.program(source, candidate.name());
        for (Path folder : LoadedPlan.folders(source, asked.data())) {
            Plan again = PlanReader.kept(
                    source + " (plan)", PlanWriter.write(chosen.plan()), new Programs(Optional.of(folder), true));
            Candidate with = again.candidates().get(index(again, candidate.name()));
            if (was.isEmpty() || CommandKind.fingerprint(with).equals(was)) {
                return with;
            }
        }
        throw refused("the program of candidate \"" + candidate.name() + "\" (" + text
                + ") is not beside the ledger as it was when it was run; put its files there, or name their folder with"
                + " --data");
    }

    private FittedPipeline fitted(Chosen chosen, DataSet rows) {
        Candidate candidate =
                CommandKind.startedBy(chosen.candidate()).isEmpty() ? chosen.candidate() : withProgram(chosen);
        try {
            return FittedPipeline.train(
                    candidate,
                    rows,
                    chosen.job().comparison().tasks().get(chosen.task()).splits(),
                    chosen.job().comparison().seed(),
                    CommandKind.restorer(CommandKind.startedBy(candidate).stream()
                            .findFirst()
                            .map(CommandClassifier::programs)
                            .orElse(Programs.NONE)));
        } catch (FitFailure | ValueException e) {
            throw new InputException(source.toString(), "candidate \"" + candidate.name() + "\": " + e.getMessage(), e);
        }
    }

    /** Tells the ledger that held-back rows are looked at, before they are; returns how often they have been, with this time. */
    private int opened(Chosen chosen, DataSet held, List<Notice> notices) {
        String name = chosen.data().data().name();
        if (chosen.fromLedger()) {
            List<Opening> all = Openings.add(
                    source, name, held, chosen.candidate().name(), run.clock().instant());
            if (all.size() > 1) {
                notices.add(Notice.of(
                                "holdout-opened",
                                "the holdout was opened before, %d %s (first by %s, %s%s); the more often it is looked at,"
                                        + " the less its score says of new rows",
                                all.size() - 1,
                                all.size() == 2 ? "time" : "times",
                                all.get(0).candidate(),
                                all.get(0).at().replaceFirst("\\.\\d+Z", "Z"),
                                all.get(0).ledger().map(l -> ", through " + l).orElse(""))
                        .about(name)
                        .with("times", all.size() - 1));
            }
            return all.size();
        }
        notices.add(Notice.plain(
                        "holdout-not-remembered", "a plan does not remember that its holdout was opened; a ledger does")
                .about(name));
        return 1;
    }

    private List<ModelScore> scored(Chosen chosen, DataSet held, FittedPipeline trained, List<Notice> notices) {
        String name = chosen.data().data().name();
        Outcomes outcomes;
        try {
            outcomes = trained.outcomes(held.features(), held.targets());
        } catch (FitFailure e) {
            throw new InputException(source.toString(), "the holdout cannot be predicted: " + e.getMessage(), e);
        }
        if (!drawnByChance(chosen.plan())) {
            notices.add(Notice.plain(
                            "holdout-not-drawn",
                            "the holdout is not drawn by chance, so that its score includes what changed between it and"
                                    + " the rows before")
                    .about(name));
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
                        run.parallel())
                .stream()
                .map(s -> new ModelScore(s.metric(), ModelScore.HOLDOUT, s.value(), s.low(), s.high()))
                .toList();
    }

    private static boolean drawnByChance(Plan plan) {
        return plan.division()
                .holdout()
                .flatMap(h -> h.drawn())
                .filter(h -> !h.last())
                .isPresent();
    }
}
