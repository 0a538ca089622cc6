package keenfold.core.run;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.data.DataSet;
import keenfold.core.data.Rows;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.pipeline.Pipeline;
import keenfold.core.run.pipeline.Prepared;
import keenfold.core.run.pipeline.TimeLimit;
import keenfold.core.run.pipeline.TrainingRows;
import keenfold.core.run.pipeline.Tuner;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.FitDetails;
import keenfold.core.run.result.Task;
import keenfold.core.split.Split;

/** Does one unit: prepares, trains and tests each member of a family on one split. */
public final class Fitter {
    private static final ThreadMXBean CPU = ManagementFactory.getThreadMXBean();

    private final Comparison comparison;
    private final List<Family> families;
    private final FullDataFits wholes;

    /** Fits the candidates of a comparison. */
    public Fitter(Comparison comparison) {
        this.comparison = comparison;
        this.families = comparison.families();
        this.wholes = new FullDataFits(comparison);
    }

    List<Fit> fit(Unit unit) {
        Task task = comparison.tasks().get(unit.task());
        Family family = families.get(unit.family());
        Split split = task.splits().at(unit.repeat(), unit.fold());
        Sides sides = new Sides(task, split, scope(split));
        Seed seed = Pipeline.own(family.members().get(0), sides.scope);
        Fit[] fits = new Fit[family.members().size()];
        for (List<Integer> alike : alike(family.members())) {
            List<Candidate> members = alike.stream().map(family.members()::get).toList();
            // What the folds share is nearer than what the members could.
            Shared shared =
                    members.stream().allMatch(m -> wholes.of(unit.task(), m).isPresent())
                            ? new Shared()
                            : shared(members, sides, seed);
            for (int m : alike) {
                fits[m] = one(unit, task, sides, family.members().get(m), seed, shared);
            }
        }
        return List.of(fits);
    }

    private Seed scope(Split split) {
        return new Seed(comparison.seed()).with("fit").with(split.repeat()).with(split.fold());
    }

    Task task(int index) {
        return comparison.tasks().get(index);
    }

    /**
     * Fits a candidate to a split as a run does.
     *
     * @throws FitFailure if that gives no model
     */
    public Pipeline again(int task, Candidate member, Split split) {
        Sides sides = new Sides(task(task), split, scope(split));
        Seed seed = Pipeline.own(member, sides.scope);
        return TimeLimit.within(member.timeLimit(), () -> {
            Optional<FullDataFit> whole = wholes.of(task, member);
            Start start = start(task, sides, member, seed, new Watch());
            return fitted(member, sides, start, seed, new Pipeline.Known(start.less, whole));
        });
    }

    /** What a fit starts from: its settings, tuned if they are, and prepared columns; or its model, from that of all rows. */
    private record Start(Settings settings, BothSides prepared, Optional<Model> less) {}

    private Start start(int task, Sides sides, Candidate member, Seed seed, Watch training) {
        training.start();
        Optional<Model> less = wholes.less(task, member, sides.split);
        Settings settings =
                member.tuning().isPresent() ? Pipeline.settings(member, sides.train(), seed) : member.settings();
        training.stop();
        BothSides prepared = less.isPresent() ? BothSides.asTheyAre(sides) : sides.prepared(member.recipe(), settings);
        return new Start(settings, prepared, less);
    }

    private static Pipeline fitted(Candidate member, Sides sides, Start start, Seed seed, Pipeline.Known known) {
        return Pipeline.fit(
                member.recipe(),
                start.settings,
                start.prepared.prepared,
                start.prepared.test,
                sides.train(),
                seed,
                known);
    }

    /** Members whose steps do the same, which are prepared once; a tuned one stands alone. */
    private static Collection<List<Integer>> alike(List<Candidate> members) {
        return IntStream.range(0, members.size())
                .boxed()
                .collect(Collectors.groupingBy(
                        m -> members.get(m).tuning().isPresent()
                                ? m
                                : members.get(m)
                                        .recipe()
                                        .columnsKey(members.get(m).settings()),
                        LinkedHashMap::new,
                        Collectors.toList()))
                .values();
    }

    /** The models of some members at once, where that shares work; else none. */
    private static Shared shared(List<Candidate> members, Sides sides, Seed seed) {
        Shared shared = new Shared();
        if (members.get(0).tuning().isPresent()) {
            return shared;
        }
        try {
            BothSides prepared =
                    sides.prepared(members.get(0).recipe(), members.get(0).settings());
            shared.training.start();
            List<Settings> all = members.stream().map(Candidate::settings).toList();
            List<Model> models = TimeLimit.within(
                    members.get(0).timeLimit(),
                    () -> members.get(0).recipe().together(all, prepared.prepared.training(), prepared.test, seed));
            shared.training.stop();
            for (int m = 0; m < models.size(); m++) {
                shared.models.put(members.get(m), models.get(m));
            }
        } catch (FitFailure | OutOfMemoryError e) {
            // What kept it from being prepared will keep each member too, and becomes that member's reason.
            shared.models.clear();
        } catch (RuntimeException | StackOverflowError e) {
            // Fitted alone, members may not meet the fault of what they share: it must not go unseen.
            shared.fault = Optional.of("fault in Keen Fold: " + e);
        }
        return shared;
    }

    private Fit one(Unit unit, Task task, Sides sides, Candidate member, Seed seed, Shared shared) {
        Watch training = new Watch();
        Watch prediction = new Watch();
        if (shared.fault.isPresent()) {
            return failed(unit, member, training, prediction, shared.fault.get());
        }
        try {
            return TimeLimit.within(
                    member.timeLimit(), () -> made(unit, task, sides, member, seed, shared, training, prediction));
        } catch (FitFailure e) {
            return failed(unit, member, training, prediction, String.valueOf(e.getMessage()));
        } catch (OutOfMemoryError e) {
            return failed(unit, member, training, prediction, "out of memory: " + e.getMessage());
        } catch (RuntimeException | StackOverflowError e) {
            return failed(unit, member, training, prediction, "fault in Keen Fold: " + e);
        }
    }

    private Fit made(
            Unit unit, Task task, Sides sides, Candidate member, Seed seed, Shared shared, Watch training, Watch own) {
        Watch prediction = own;
        Optional<FullDataFit> whole = wholes.of(unit.task(), member);
        Start start = start(unit.task(), sides, member, seed, training);
        BothSides prepared = start.prepared;
        Optional<Model> together = Optional.ofNullable(shared.models.get(member));
        training.resume();
        Pipeline fitted = fitted(member, sides, start, seed, new Pipeline.Known(start.less.or(() -> together), whole));
        training.stop();
        prediction.start();
        double[] probabilities = fitted.ofPrepared(prepared.test);
        prediction.stop();
        if (fitted.model().trainsAsItPredicts()) {
            training.add(prediction);
            prediction = new Watch();
        }
        Outcomes outcomes = fitted.outcomes(unit.fold(), sides.testRows, sides.testTarget, probabilities);
        double[] trainScores = new double[0];
        if (comparison.trainScores()) {
            int[] learned = sides.trainRows();
            trainScores = scores(
                    task.metrics(),
                    fitted.outcomes(
                            unit.fold(),
                            learned,
                            task.data().targets(learned),
                            fitted.ofPrepared(prepared.train(sides))));
        }
        if (together.isPresent()) {
            // What the first member does for all is charged to each, as if it stood alone.
            training.add(shared.training);
            if (fitted.model().predictsForOthers()) {
                shared.prediction = shared.prediction.isEmpty() ? Optional.of(prediction) : shared.prediction;
                prediction = shared.prediction.get();
            }
        }
        Fit.Times times = new Fit.Times(
                training.wall() + prepared.trainWatch.wall(),
                training.cpu() + prepared.trainWatch.cpu(),
                prediction.wall() + prepared.testWatch.wall(),
                prediction.cpu() + prepared.testWatch.cpu());
        return fit(
                unit,
                member,
                times,
                fitted.sizeUpTo(sides.trainWeight()),
                Optional.of(new Fit.Result(outcomes, scores(task.metrics(), outcomes), trainScores)),
                "",
                new FitDetails(
                        member.tuning()
                                .map(t -> Tuner.text(start.settings, t.choices()))
                                .orElse(""),
                        together.isPresent(),
                        fitted.finish().threshold(),
                        prepared.test.columns().size()));
    }

    private Fit failed(Unit unit, Candidate member, Watch training, Watch prediction, String reason) {
        training.stop();
        prediction.stop();
        Fit.Times times = new Fit.Times(training.wall(), training.cpu(), prediction.wall(), prediction.cpu());
        return fit(unit, member, times, Double.NaN, Optional.empty(), reason, FitDetails.PLAIN);
    }

    private Fit fit(
            Unit unit,
            Candidate member,
            Fit.Times times,
            double size,
            Optional<Fit.Result> result,
            String message,
            FitDetails making) {
        int candidate = comparison.candidates().indexOf(member);
        return new Fit(unit.task(), candidate, unit.repeat(), unit.fold(), times, size, result, message, making);
    }

    private static double[] scores(List<Metric> metrics, Outcomes outcomes) {
        return metrics.stream().mapToDouble(m -> m.score(outcomes)).toArray();
    }

    /** What the members of a family share on one split. */
    private static final class Shared {
        private final Map<Candidate, Model> models = new HashMap<>();
        private final Watch training = new Watch();
        private Optional<Watch> prediction = Optional.empty();
        private Optional<String> fault = Optional.empty();
    }

    /** The two sides of a split, gathered once for the family, with the steps that members share. */
    private static final class Sides {
        private final Task task;
        private final Split split;
        private final Seed scope;
        private final int[] testRows;
        private final int[] testTarget;
        private Optional<TrainingRows> train = Optional.empty();
        private Optional<BothSides> last = Optional.empty();

        /** @param scope the seed that every family's seed on this split comes from */
        Sides(Task task, Split split, Seed scope) {
            this.task = task;
            this.split = split;
            this.scope = scope;
            this.testRows = split.test().toArray();
            this.testTarget = task.data().targets(testRows);
        }

        private TrainingRows train() {
            if (train.isEmpty()) {
                DataSet rows = task.data().select(split.train().toArray());
                train = Optional.of(new TrainingRows(rows, split.train().weights(), task.splits()));
            }
            return train.get();
        }

        double trainWeight() {
            return Arrays.stream(split.train().weights()).sum();
        }

        /** The training rows, each as often as it counts. */
        int[] trainRows() {
            Rows rows = split.train();
            return IntStream.range(0, rows.size())
                    .flatMap(i -> IntStream.range(0, rows.count(i)).map(k -> rows.row(i)))
                    .toArray();
        }

        Table test() {
            return task.data().features().select(testRows);
        }

        /** Members whose columns are the same share them; each is charged their time, as if it stood alone. */
        BothSides prepared(Recipe recipe, Settings settings) {
            Object key = recipe.columnsKey(settings);
            if (last.isEmpty() || !last.get().key.equals(key)) {
                last = Optional.of(BothSides.of(key, recipe, settings, this));
            }
            return last.get();
        }
    }

    /** Both sides of a split as the steps left them, and how long that took. */
    private static final class BothSides {
        private final Object key;
        private final Prepared prepared;
        private final Table test;
        private final Watch trainWatch;
        private final Watch testWatch;
        private Optional<Table> train = Optional.empty();

        private BothSides(Object key, Prepared prepared, Table test, Watch trainWatch, Watch testWatch) {
            this.key = key;
            this.prepared = prepared;
            this.test = test;
            this.trainWatch = trainWatch;
            this.testWatch = testWatch;
        }

        static BothSides of(Object key, Recipe recipe, Settings settings, Sides sides) {
            Watch trainWatch = new Watch();
            Watch testWatch = new Watch();
            trainWatch.start();
            Prepared prepared = Prepared.of(recipe, settings, sides.train(), sides.scope);
            trainWatch.stop();
            testWatch.start();
            Table test = prepared.apply(sides.test());
            testWatch.stop();
            return new BothSides(key, prepared, test, trainWatch, testWatch);
        }

        /** Test rows that no step changes, for a model that is there already. */
        static BothSides asTheyAre(Sides sides) {
            Watch testWatch = new Watch();
            testWatch.start();
            Table test = sides.test();
            testWatch.stop();
            return new BothSides("", Prepared.asTheyAre(), test, new Watch(), testWatch);
        }

        /** The training rows, seen as test rows are. */
        Table train(Sides sides) {
            if (train.isEmpty()) {
                train = Optional.of(prepared.apply(sides.task.data().features().select(sides.trainRows())));
            }
            return train.get();
        }
    }

    /** A stopwatch for one thread. */
    private static final class Watch {
        private long wallNanos;
        private long cpuNanos;
        private boolean running;

        void start() {
            running = true;
            wallNanos = -System.nanoTime();
            cpuNanos = -CPU.getCurrentThreadCpuTime();
        }

        /** Goes on where it stopped. */
        void resume() {
            running = true;
            wallNanos -= System.nanoTime();
            cpuNanos -= CPU.getCurrentThreadCpuTime();
        }

        void add(Watch other) {
            wallNanos += other.wallNanos;
            cpuNanos += other.cpuNanos;
        }

        void stop() {
            if (running) {
                wallNanos += System.nanoTime();
                cpuNanos += CPU.getCurrentThreadCpuTime();
                running = false;
            }
        }

        double wall() {
            return wallNanos * 1e-9;
        }

        double cpu() {
            return cpuNanos * 1e-9;
        }
    }
}
