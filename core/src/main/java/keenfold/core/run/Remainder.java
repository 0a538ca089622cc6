package keenfold.core.run;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;

/**
 * What is left of a comparison to be run: without the candidates whose fits are all there, such as the members of a family
 * that got a further one. A member has the same fits with the others of its family as without them.
 */
public final class Remainder {
    private final Comparison whole;
    private final Comparison part;
    private final List<Integer> numbers = new ArrayList<>();

    /**
     * @param done indices of candidates whose fits are all there
     * @throws IllegalArgumentException if nothing is left
     */
    public Remainder(Comparison whole, Set<Integer> done) {
        this.whole = whole;
        List<Candidate> left = new ArrayList<>();
        for (int c = 0; c < whole.candidates().size(); c++) {
            if (!done.contains(c)) {
                left.add(whole.candidates().get(c));
                numbers.add(c);
            }
        }
        this.part = new Comparison(whole.tasks(), left, whole.seed(), whole.trainScores());
    }

    /** Returns the comparison that is to be run. */
    public Comparison comparison() {
        return part;
    }

    /** Returns units of the whole, which are not all done, as units of {@link #comparison}. */
    public List<Unit> units(List<Unit> ofWhole) {
        List<String> all = whole.families().stream().map(Family::name).toList();
        List<String> left = part.families().stream().map(Family::name).toList();
        return ofWhole.stream()
                .map(u -> new Unit(u.number(), u.task(), u.repeat(), u.fold(), left.indexOf(all.get(u.family()))))
                .toList();
    }

    /** Returns a sink of fits of {@link #comparison} that hands them on as fits of the whole. */
    public FitSink sink(FitSink to) {
        return (unit, fits) -> to.accept(
                unit,
                fits.stream()
                        .map(f -> f.ofCandidate(numbers.get(f.candidate())))
                        .toList());
    }
}
