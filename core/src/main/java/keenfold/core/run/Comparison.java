package keenfold.core.run;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;

/**
 * All that is to be run.
 *
 * @param tasks the data sets
 * @param candidates in plan order, names distinct
 * @param seed from which all randomness derives
 */
public record Comparison(List<Task> tasks, List<Candidate> candidates, long seed) {
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
    }

    /** Returns the families in plan order. */
    public List<Family> families() {
        return Family.of(candidates);
    }

    /** Returns all units in order: by data set, repeat, fold, then family. */
    public List<Unit> units() {
        List<Unit> units = new ArrayList<>();
        int families = families().size();
        for (int t = 0; t < tasks.size(); t++) {
            for (int r = 0; r < tasks.get(t).splits().repeats(); r++) {
                for (int f = 0; f < tasks.get(t).splits().folds(r); f++) {
                    for (int c = 0; c < families; c++) {
                        units.add(new Unit(units.size(), t, r, f, c));
                    }
                }
            }
        }
        return units;
    }
}
