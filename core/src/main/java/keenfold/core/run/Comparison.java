package keenfold.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import keenfold.core.classify.WrapperKind;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnRange;
import keenfold.core.prepare.Step;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Task;

/**
 * All that is to be run.
 *
 * @param tasks the data sets
 * @param candidates in plan order, names distinct
 * @param seed from which all randomness derives
 * @param trainScores whether each fit is scored on its own training rows too
 */
public record Comparison(List<Task> tasks, List<Candidate> candidates, long seed, boolean trainScores) {
    /** Makes a comparison whose fits are scored on test rows alone. */
    public Comparison(List<Task> tasks, List<Candidate> candidates, long seed) {
        this(tasks, candidates, seed, false);
    }

    /** Returns the same comparison whose fits are scored on their own training rows too, or are not. */
    public Comparison withTrainScores(boolean asked) {
        return new Comparison(tasks, candidates, seed, asked);
    }

    /** Copies the lists and checks that names differ. */
    public Comparison {
        tasks = List.copyOf(tasks);
        candidates = List.copyOf(candidates);
        Checks.that(!tasks.isEmpty(), "no data set");
        Checks.that(!candidates.isEmpty(), "no candidate");
        Checks.that(
                candidates.stream().map(Candidate::name).distinct().count() == candidates.size(),
                "two candidates have the same name");
        Checks.that(
                tasks.stream().map(t -> t.data().name()).distinct().count() == tasks.size(),
                "two data sets have the same name");
        for (Task task : tasks) {
            for (Candidate candidate : candidates) {
                requireColumns(candidate, task);
                Checks.that(
                        task.data().classes().count() == 2
                                || !candidate.recipe().has(WrapperKind.THRESHOLD),
                        "candidate \"%s\" has a threshold, which needs two classes: data set \"%s\" has %d",
                        candidate.name(),
                        task.data().name(),
                        task.data().classes().count());
            }
        }
    }

    /** A name that no column has would make a step do nothing, which nobody would notice. */
    private static void requireColumns(Candidate candidate, Task task) {
        candidate.stepLists().forEach(steps -> requireColumns(candidate, steps, task));
    }

    private static void requireColumns(Candidate candidate, List<Step> steps, Task task) {
        boolean made = false;
        List<String> columns =
                task.data().features().columns().stream().map(Column::name).toList();
        for (Step step : steps) {
            for (String name : made ? List.<String>of() : ColumnRange.expanded(step.named(), columns)) {
                Checks.that(
                        task.data().features().column(name).isPresent(),
                        "candidate \"%s\" prepares column \"%s\": data set \"%s\" has no such column among those that"
                                + " candidates see, and no step before makes columns",
                        candidate.name(),
                        name,
                        task.data().name());
            }
            made |= step.makesColumns();
        }
    }

    /** Returns the families in plan order. */
    public List<Family> families() {
        return Family.of(candidates);
    }

    /** Returns all units in order: by data set, repeat, fold, then family. */
    public List<Unit> units() {
        List<Unit> units = new ArrayList<>();
        forEachUnit(units::add);
        return units;
    }

    /**
     * Returns how many units there are.
     *
     * @throws ArithmeticException if more than {@link Integer#MAX_VALUE}
     */
    public int unitCount() {
        long splits = tasks.stream().mapToLong(t -> t.splits().count()).sum();
        return Math.toIntExact(splits * families().size());
    }

    /** Goes through all units in order, none of which is kept: there may be many millions. */
    public void forEachUnit(Consumer<Unit> taker) {
        forEachUnit(taker, Optional.empty());
    }

    /**
     * Goes through the units of a run on a half of the rows.
     *
     * @param repeats how often the half is run, in as many folds as the first repeat of this comparison has
     */
    public void forEachUnitOfHalf(int repeats, Consumer<Unit> taker) {
        forEachUnit(taker, Optional.of(repeats));
    }

    private void forEachUnit(Consumer<Unit> taker, Optional<Integer> ofHalf) {
        int families = families().size();
        int number = 0;
        for (int t = 0; t < tasks.size(); t++) {
            int repeats = ofHalf.orElse(tasks.get(t).splits().repeats());
            for (int r = 0; r < repeats; r++) {
                for (int f = 0; f < tasks.get(t).splits().folds(ofHalf.isPresent() ? 0 : r); f++) {
                    for (int c = 0; c < families; c++) {
                        taker.accept(new Unit(number++, t, r, f, c));
                    }
                }
            }
        }
    }
}
