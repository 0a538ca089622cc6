package keenfold.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.WrapperKind;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Training;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.split.Split;

/**
 * What candidates learned of whole data sets: each once, by the first fit that needs it.
 *
 * <p>A fit takes from it only what it would have found by itself, to within 1e-7: test rows help to find a solution sooner,
 * never to another one.
 */
final class FullDataFits {
    /** Above so many values a copy of them is worth more than the time. */
    private static final long MOST_VALUES = 3_000_000;

    private final Comparison comparison;
    private final ConcurrentHashMap<Key, Optional<Known>> known = new ConcurrentHashMap<>();

    private record Key(int task, Candidate candidate) {}

    /**
     * What a candidate learned.
     *
     * @param asTheyAre whether its steps leave all rows as they are
     */
    private record Known(FullDataFit whole, boolean asTheyAre) {}

    FullDataFits(Comparison comparison) {
        this.comparison = comparison;
    }

    /** Returns what a candidate learned of all rows of a task, if it can use that. */
    Optional<FullDataFit> of(int task, Candidate candidate) {
        return known(task, candidate).map(Known::whole);
    }

    private Optional<Known> known(int task, Candidate candidate) {
        Key key = new Key(task, candidate);
        if (!known.containsKey(key)) {
            // Units come data set by data set: what is long past is let go of, and learned again should it be needed.
            known.keySet().removeIf(k -> k.task() < task - 1);
        }
        return known.computeIfAbsent(key, k -> learn(task, candidate));
    }

    /**
     * Returns the model of a split's training rows, if it comes from those of all rows without the test rows; its columns
     * are then those of the data set.
     */
    Optional<Model> less(int task, Candidate candidate, Split split) {
        return known(task, candidate)
                .filter(Known::asTheyAre)
                .filter(k -> complementary(split, comparison.tasks().get(task).data()))
                .flatMap(k -> k.whole.without(split.test().toArray()));
    }

    /** Whether all rows but those tested are trained on, each once. */
    private static boolean complementary(Split split, DataSet data) {
        return split.train().size() + split.test().size() == data.rows()
                && Arrays.stream(split.train().weights()).allMatch(w -> w == 1);
    }

    private Optional<Known> learn(int task, Candidate candidate) {
        DataSet data = comparison.tasks().get(task).data();
        Recipe recipe = candidate.recipe();
        boolean plain = candidate.tuning().isEmpty()
                && candidate.timeLimit().isEmpty()
                && recipe.kind().input() == ClassifierKind.Input.COLUMNS
                && !recipe.has(WrapperKind.BALANCE);
        long values = (long) data.rows() * data.features().columns().size();
        if (!plain
                || values > MOST_VALUES
                || !(recipe.classifier(candidate.settings()) instanceof AcrossFolds classifier)) {
            return Optional.empty();
        }
        try {
            double[] ones = new double[data.rows()];
            Arrays.fill(ones, 1);
            List<Step> steps = recipe.steps(candidate.settings());
            Seed seed = new Seed(comparison.seed()).with("fit").with("all").with("steps");
            Table rows = data.features();
            boolean asTheyAre = steps.stream().allMatch(s -> s.leaves(rows));
            Training training =
                    Preparation.fit(steps, Training.of(data, ones), seed).training();
            return classifier.needs().met(training.table())
                    ? classifier.whole(training).map(w -> new Known(w, asTheyAre))
                    : Optional.empty();
        } catch (FitFailure | OutOfMemoryError | StackOverflowError e) {
            // All rows may fail where a fold does not, or the other way round; each fold then says so by itself.
            return Optional.empty();
        }
    }
}
