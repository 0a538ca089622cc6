package keenfold.core.run.result;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.run.candidate.Candidate;

/** Results of two runs on one data set each: whether their fits are paired, and if so, both as one. */
public final class TwoResults {
    private final Results one;
    private final Results other;

    /** Both are of a single data set, and have the same metrics. */
    public TwoResults(Results one, Results other) {
        Checks.that(one.tasks().size() == 1 && other.tasks().size() == 1, "results of one data set each");
        this.one = one;
        this.other = other;
    }

    /**
     * Returns why fits of the one are not paired with those of the other; empty if they are: the same rows of the same
     * classes are tested in the same folds, as far as both have repeats.
     */
    public String whyApart() {
        Task here = one.tasks().get(0);
        Task there = other.tasks().get(0);
        if (!Arrays.equals(here.data().sourceRows(), there.data().sourceRows())) {
            return "other rows";
        }
        boolean classes = here.data().classes().equals(there.data().classes())
                && Arrays.equals(here.data().targets(), there.data().targets());
        if (!classes) {
            return "other classes";
        }
        return here.splits().agrees(there.splits()) ? "" : "other folds";
    }

    /** Returns the repeats that both have. */
    public int repeats() {
        return Math.min(
                one.tasks().get(0).splits().repeats(),
                other.tasks().get(0).splits().repeats());
    }

    /**
     * Returns both as one, where they are paired: the candidates of the one, then those of the other under names that only
     * differ, on the repeats that both have.
     */
    public Results joined() {
        String why = whyApart();
        Checks.that(why.isEmpty(), "not paired: %s", why);
        Task task = one.tasks().get(0);
        int repeats = repeats();
        List<Candidate> candidates = new ArrayList<>(one.candidates());
        other.candidates()
                .forEach(c -> candidates.add(new Candidate(
                        c.name() + "\u0000",
                        c.family() + "\u0000",
                        c.recipe(),
                        c.settings(),
                        c.grid(),
                        c.sample(),
                        c.tuning(),
                        c.timeLimit(),
                        c.rank(),
                        c.seedName())));
        List<Fit> fits = new ArrayList<>();
        one.fits().stream().filter(f -> f.repeat() < repeats).forEach(fits::add);
        int first = one.candidates().size();
        other.fits().stream()
                .filter(f -> f.repeat() < repeats)
                .map(f -> f.ofCandidate(first + f.candidate()))
                .forEach(fits::add);
        return new Results(
                List.of(new Task(task.data(), task.splits().first(repeats), task.metrics())),
                candidates,
                fits,
                one.seed(),
                List.of(),
                one.kept().compareTo(other.kept()) >= 0 ? one.kept() : other.kept());
    }

    /** Returns the pairs of candidates that are called the same, as indices of {@link #joined}. */
    public List<int[]> pairs() {
        List<int[]> pairs = new ArrayList<>();
        List<String> names = other.candidates().stream().map(Candidate::name).toList();
        IntStream.range(0, one.candidates().size()).forEach(c -> {
            int same = names.indexOf(one.candidates().get(c).name());
            if (same >= 0) {
                pairs.add(new int[] {c, one.candidates().size() + same});
            }
        });
        return pairs;
    }
}
