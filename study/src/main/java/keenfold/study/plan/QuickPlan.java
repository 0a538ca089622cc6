package keenfold.study.plan;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.RollingOrigin;
import keenfold.io.InputException;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Choosing;
import keenfold.io.plan.Division;
import keenfold.io.plan.MetricWord;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import keenfold.io.plan.TryReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.DataSpec;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.TableFormat;
import keenfold.study.progress.Watcher;

/** A comparison that is stated in one call: its plan, and the ledger that it goes into. */
public final class QuickPlan {
    /** What is compared unless --try says otherwise: from a guess to many trees. */
    public static final List<String> CANDIDATES = List.of(
            "majority",
            "naive-bayes",
            "logistic",
            "nearest neighbours=1,5,25",
            "tree",
            "forest trees=100",
            "boosting rounds=50 depth=3",
            "svm",
            "network");

    private final Asked asked;
    private final Watcher watcher;
    private Optional<PresetWork> work = Optional.empty();
    private RollingOrigin inTime = RollingOrigin.DEFAULT;

    /**
     * What is asked for.
     *
     * @param data the table, its target and the columns that are told apart
     * @param candidates as {@link TryReader} reads them; {@link #CANDIDATES} if there are none
     * @param metric to compare and pick by; that of every plan if it is empty
     * @param folds of a repeat
     * @param repeats fresh divisions
     * @param full whether everything is done, however large the table is
     * @param seed drawn if it is empty
     */
    public record Asked(
            DataSpec data,
            List<String> candidates,
            Optional<String> metric,
            Optional<Integer> folds,
            Optional<Integer> repeats,
            boolean full,
            Optional<Long> seed) {
        /** Copies the list. */
        public Asked {
            candidates = List.copyOf(candidates);
        }
    }

    public QuickPlan(Asked asked, Watcher watcher) {
        this.asked = asked;
        this.watcher = watcher;
    }

    /**
     * Returns the plan as it is asked for, before the table is read.
     *
     * @throws IllegalArgumentException if a candidate, a metric or a division is none, or two do not go together
     */
    public Plan stated() {
        List<Candidate> all = candidates(asked.candidates().isEmpty() ? CANDIDATES : asked.candidates());
        List<MetricName> metrics = asked.metric()
                .map(m -> PlanReader.withPrimary(MetricWord.parse(m)))
                .orElse(Plan.METRICS);
        return new Plan(
                Optional.empty(),
                List.of(asked.data()),
                division(),
                asked.seed(),
                metrics,
                Costs.NONE,
                metrics.get(0),
                all,
                InferenceSettings.DEFAULT,
                Choosing.PRESET,
                Map.of());
    }

    private static List<Candidate> candidates(List<String> written) {
        List<Candidate> all = new ArrayList<>();
        for (String each : written) {
            for (Candidate candidate : TryReader.read(each)) {
                Checks.that(
                        all.stream().noneMatch(c -> c.name().equals(candidate.name())),
                        "two candidates are called \"%s\"; name one: --try 'NAME=%s'",
                        candidate.name(),
                        each);
                all.add(candidate);
            }
        }
        return all;
    }

    private boolean ordered() {
        return asked.data().order().isPresent();
    }

    private Division division() {
        Checks.that(
                !ordered() || (asked.folds().isEmpty() && asked.repeats().isEmpty()),
                "--folds and --repeats divide rows whatever their order; leave them out, or --order");
        return ordered()
                ? Division.of(RollingOrigin.DEFAULT)
                : folds(asked.repeats().orElse(KFold.DEFAULT.repeats()));
    }

    /** Reads the table in a format, which must be done before the plan is suited to it. */
    public void read(TableFormat format) {
        DataSet data = DataReader.read(asked.data().withFormat(format), List.of(Path.of("")))
                .data();
        work = Optional.of(PresetWork.of(data.features()));
        inTime = RollingOrigin.suiting(
                data.rows(), IntStream.of(data.classCounts()).min().orElse(0));
    }

    /**
     * Returns a plan that suits the table, which was read: no more repeats and candidates than end in good time, unless they were
     * asked for, and metrics that exist.
     */
    public Plan suited(Plan stated, TableFormat format) {
        Plan readable = stated.withFiles(List.of(asked.data().withFormat(format)), stated.division());
        return scorable(asked.full() ? readable : quick(readable, work.orElseThrow()));
    }

    /** In place of preset metrics that some splits in time do not have, takes those that all have, and says so. */
    private Plan scorable(Plan all) {
        if (asked.metric().isPresent() || !ordered()) {
            return all;
        }
        Task task = LoadedPlan.of(
                        all.withSeed(all.seed().orElse(1L)), asked.data().file(), List.of(Path.of("")))
                .comparison()
                .tasks()
                .get(0);
        if (task.splits()
                .testEveryClass(task.data().targets(), task.data().classes().count())) {
            return all;
        }
        watcher.notices(List.of(Notice.plain(
                "metrics-of-any-split",
                "some splits in time test no row of some class, so that auc and balanced-accuracy do not exist on"
                        + " them; log-loss, accuracy and brier are scored; --metric asks for another")));
        return all.withMetrics(Plan.METRICS_OF_ANY_SPLIT);
    }

    /** Does less on a large table than on a small one, and says so. */
    private Plan quick(Plan all, PresetWork preset) {
        List<Notice> notices = new ArrayList<>();
        Plan less = all;
        if (asked.repeats().isEmpty() && !ordered()) {
            notices.addAll(preset.ofRepeats());
            less = less.withFiles(less.data(), folds(preset.repeats()));
        }
        if (ordered()) {
            less = less.withFiles(less.data(), Division.of(inTime));
        }
        if (asked.candidates().isEmpty()) {
            notices.addAll(preset.ofCandidates(CANDIDATES));
            less = less.withCandidates(candidates(preset.suiting(CANDIDATES)));
        }
        watcher.notices(notices);
        return less;
    }

    private Division folds(int repeats) {
        return Division.of(new KFold(asked.folds().orElse(KFold.DEFAULT.folds()), repeats, true));
    }

    /** Returns DATA.kfl in this folder; if another comparison is in it, DATA-2.kfl and so on. */
    public Path freeLedger(Plan plan) {
        String stem = DataSpec.stem(asked.data().file());
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
            LoadedPlan job = LoadedPlan.of(here, asked.data().file(), List.of(Path.of("")));
            return PlanWriter.write(there).equals(PlanWriter.write(besideLedger(here, file)))
                    && LedgerReader.fingerprints(file)
                            .equals(job.data().stream()
                                    .map(d -> d.fingerprint())
                                    .toList());
        } catch (InputException e) {
            if (!Files.exists(
                    TableLocation.of(asked.data().file(), List.of(Path.of(""))).file())) {
                throw e;
            }
            return false;
        }
    }

    /** Returns the folder of a file. */
    public static Path folder(Path file) {
        return Optional.ofNullable(file.toAbsolutePath().getParent()).orElse(Path.of("/"));
    }

    /** Returns the plan as its ledger keeps it: a relative file is named as it is found from the ledger's folder. */
    public static Plan besideLedger(Plan plan, Path ledger) {
        return PlanFiles.moved(plan, file -> Path.of(file).isAbsolute() ? file : PlanFiles.moved(file, folder(ledger)));
    }
}
