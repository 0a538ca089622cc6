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
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Whole;
import keenfold.core.data.DataSet;
import keenfold.core.data.Rows;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.FitFailure;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.split.Split;

/** Does one unit: prepares, trains and tests each member of a family on one split. */
final class Fitter {
    private static final ThreadMXBean CPU = ManagementFactory.getThreadMXBean();

    private final Comparison comparison;
    private final List<Family> families;
    private final Wholes wholes;

    Fitter(Comparison comparison) {
        this.comparison = comparison;
        this.families = comparison.families();
        this.wholes = new Wholes(comparison);
    }

    List<Fit> fit(Unit unit) {
        Task task = comparison.tasks().get(unit.task());
        Family family = families.get(unit.family());
        Split split = task.splits().at(unit.repeat(), unit.fold());
        Seed all = new Seed(comparison.seed()).with("fit").with(unit.repeat()).with(unit.fold());
        Seed seed = all.with(family.name());
        Sides sides = new Sides(task, split, all);
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
            Prepared prepared =
                    sides.prepared(members.get(0).recipe(), members.get(0).settings());
            shared.training.start();
            List<Settings> all = members.stream().map(Candidate::settings).toList();
            List<Model> models = TimeLimit.within(
                    members.get(0).timeLimit(),
                    () -> members.get(0).recipe().together(all, prepared.training(), prepared.test, seed));
            shared.training.stop();
            for (int m = 0; m < models.size(); m++) {
                shared.models.put(members.get(m), models.get(m));
            }
        } catch (RuntimeException | OutOfMemoryError | StackOverflowError e) {
            // What kept it from being prepared will keep each member too, and becomes that member's reason.
            shared.models.clear();
        }
        return shared;
    }

    private Fit one(Unit unit, Task task, Sides sides, Candidate member, Seed seed, Shared shared) {
        Watch training = new Watch();
        Watch prediction = new Watch();
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
        int classes = task.data().classes().count();
        Optional<Whole> whole = wholes.of(unit.task(), member);
        training.start();
        Settings settings = member.settings();
        Optional<Model> less = whole.isPresent() ? wholes.less(unit.task(), member, sides.split) : Optional.empty();
        String chosen = "";
        if (member.tuning().isPresent()) {
            Tuning tuning = member.tuning().get();
            settings = sides.tune(member, tuning, seed);
            chosen = Tuner.text(settings, tuning.choices());
        }
        training.stop();
        Prepared prepared = less.isPresent() ? Prepared.asTheyAre(sides) : sides.prepared(member.recipe(), settings);
        Optional<Model> made = Optional.ofNullable(shared.models.get(member));
        training.resume();
        Recipe recipe = member.recipe();
        Model model = less.isPresent()
                ? less.get()
                : made.isPresent()
                        ? made.get()
                        : recipe.fit(
                                settings,
                                recipe.balanced(settings, prepared.training(), seed),
                                prepared.test,
                                seed.chance(),
                                whole);
        Finish finish = sides.finish(recipe, settings, seed);
        training.stop();
        prediction.start();
        double[] probabilities = finish.apply(model.probabilities(prepared.test), classes);
        prediction.stop();
        if (model.trainsAsItPredicts()) {
            training.add(prediction);
            prediction = new Watch();
        }
        Outcomes outcomes = outcomes(task, unit.fold(), sides.testRows, sides.testTarget, probabilities, finish);
        double[] trainScores = new double[0];
        if (comparison.trainScores()) {
            int[] learned = sides.trainRows();
            trainScores = scores(
                    task.metrics(),
                    outcomes(
                            task,
                            unit.fold(),
                            learned,
                            task.data().targets(learned),
                            finish.apply(model.probabilities(prepared.train(sides)), classes),
                            finish));
        }
        double most = (classes - 1) * sides.trainWeight();
        if (made.isPresent()) {
            // What the first member does for all is charged to each, as if it stood alone.
            training.add(shared.training);
            if (model.predictsForOthers()) {
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
                Math.min(model.size() + prepared.largest + finish.parameters(classes), most),
                Optional.of(new Fit.Result(outcomes, scores(task.metrics(), outcomes), trainScores)),
                "",
                new Fit.Making(
                        chosen,
                        made.isPresent(),
                        finish.threshold(),
                        prepared.test.columns().size()));
    }

    private static Outcomes outcomes(
            Task task, int fold, int[] rows, int[] actual, double[] probabilities, Finish finish) {
        int classes = task.data().classes().count();
        makeExact(probabilities, classes);
        Outcomes plain = Outcomes.of(classes, fold, rows, actual, probabilities);
        return finish.threshold().isPresent()
                ? plain.withThreshold(
                        task.data().classes().positive(), finish.threshold().getAsDouble())
                : plain;
    }

    private Fit failed(Unit unit, Candidate member, Watch training, Watch prediction, String reason) {
        training.stop();
        prediction.stop();
        Fit.Times times = new Fit.Times(training.wall(), training.cpu(), prediction.wall(), prediction.cpu());
        return fit(unit, member, times, Double.NaN, Optional.empty(), reason, Fit.Making.PLAIN);
    }

    private Fit fit(
            Unit unit,
            Candidate member,
            Fit.Times times,
            double size,
            Optional<Fit.Result> result,
            String message,
            Fit.Making making) {
        int candidate = comparison.candidates().indexOf(member);
        return new Fit(unit.task(), candidate, unit.repeat(), unit.fold(), times, size, result, message, making);
    }

    private static double[] scores(List<Metric> metrics, Outcomes outcomes) {
        return metrics.stream().mapToDouble(m -> m.score(outcomes)).toArray();
    }

    /**
     * Makes the last class's probability what the others leave, as a ledger keeps K − 1 values a row: whoever reads them
     * back gets the very same numbers.
     */
    private static void makeExact(double[] probabilities, int classes) {
        for (int from = 0; from < probabilities.length; from += classes) {
            double left = 1;
            for (int c = 0; c < classes - 1; c++) {
                double p = probabilities[from + c];
                if (!(p >= 0 && p <= 1 + 1e-9)) {
                    throw new FitFailure("the model gave a probability of " + p);
                }
                left -= p;
            }
            probabilities[from + classes - 1] = lastOf(left);
        }
    }

    private static double lastOf(double left) {
        return left > 0 ? left : 0;
    }

    /** What the members of a family share on one split. */
    private static final class Shared {
        private final Map<Candidate, Model> models = new HashMap<>();
        private final Watch training = new Watch();
        private Optional<Watch> prediction = Optional.empty();
    }

    /** The two sides of a split, gathered once for the family, with the steps that members share. */
    private static final class Sides {
        private final Task task;
        private final Split split;
        private final Seed all;
        private final int[] testRows;
        private final int[] testTarget;
        private Optional<DataSet> train = Optional.empty();
        private Optional<Prepared> last = Optional.empty();

        /** @param all the seed that every family's seed on this split comes from */
        Sides(Task task, Split split, Seed all) {
            this.task = task;
            this.split = split;
            this.all = all;
            this.testRows = split.test().toArray();
            this.testTarget = task.data().targets(testRows);
        }

        private DataSet train() {
            if (train.isEmpty()) {
                train = Optional.of(task.data().select(split.train().toArray()));
            }
            return train.get();
        }

        double trainWeight() {
            return Arrays.stream(split.train().weights()).sum();
        }

        /** The training rows, each as often as it counts. */
        int[] trainRows() {
            Rows train = split.train();
            return IntStream.range(0, train.size())
                    .flatMap(i -> IntStream.range(0, train.count(i)).map(k -> train.row(i)))
                    .toArray();
        }

        Settings tune(Candidate member, Tuning tuning, Seed seed) {
            Metric metric = tuning.metric().bind(train().classes(), train().classCounts());
            return new Tuner(member, train(), split.train().weights(), task.splits(), metric, seed).choose();
        }

        Finish finish(Recipe recipe, Settings settings, Seed seed) {
            return Finish.of(recipe, settings, train(), split.train().weights(), task.splits(), seed);
        }

        /** Members whose columns are the same share them; each is charged their time, as if it stood alone. */
        Prepared prepared(Recipe recipe, Settings settings) {
            Object key = recipe.columnsKey(settings);
            if (last.isEmpty() || !last.get().key.equals(key)) {
                last = Optional.of(Prepared.of(key, recipe, settings, this));
            }
            return last.get();
        }
    }

    /** Both sides of a split as the steps left them. */
    private static final class Prepared {
        private final Object key;
        private final Optional<Training> training;
        private final Table test;
        private final UnaryOperator<Table> prepare;
        private final double largest;
        private final Watch trainWatch;
        private final Watch testWatch;
        private Optional<Table> train = Optional.empty();

        /**
         * @param training absent where the model did not need them
         * @param prepare what is done to other rows
         * @param largest size of the largest member, 0 without members
         */
        private Prepared(
                Object key,
                Optional<Training> training,
                Table test,
                UnaryOperator<Table> prepare,
                double largest,
                Watch trainWatch,
                Watch testWatch) {
            this.key = key;
            this.training = training;
            this.test = test;
            this.prepare = prepare;
            this.largest = largest;
            this.trainWatch = trainWatch;
            this.testWatch = testWatch;
        }

        static Prepared of(Object key, Recipe recipe, Settings settings, Sides sides) {
            Watch trainWatch = new Watch();
            Watch testWatch = new Watch();
            trainWatch.start();
            Columns columns = Columns.of(
                    recipe, settings, sides.train(), sides.split.train().weights(), sides.task.splits(), sides.all);
            Preparation preparation = Preparation.fit(recipe.steps(settings), columns.training());
            trainWatch.stop();
            testWatch.start();
            UnaryOperator<Table> prepare = rows -> preparation.apply(columns.apply(rows));
            Table test = prepare.apply(sides.task.data().features().select(sides.testRows));
            testWatch.stop();
            return new Prepared(
                    key, Optional.of(preparation.training()), test, prepare, columns.largest(), trainWatch, testWatch);
        }

        /** Test rows that no step changes, for a model that is there already. */
        static Prepared asTheyAre(Sides sides) {
            Watch testWatch = new Watch();
            testWatch.start();
            Table test = sides.task.data().features().select(sides.testRows);
            testWatch.stop();
            return new Prepared("", Optional.empty(), test, rows -> rows, 0, new Watch(), testWatch);
        }

        Training training() {
            return training.orElseThrow();
        }

        /** The training rows, seen as test rows are. */
        Table train(Sides sides) {
            if (train.isEmpty()) {
                train = Optional.of(prepare.apply(sides.task.data().features().select(sides.trainRows())));
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
