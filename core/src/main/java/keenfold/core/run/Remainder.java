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
    private final Comparison part;
    private final List<Integer> numbers = new ArrayList<>();
    private final List<Integer> families;

    /**
     * @param done indices of candidates whose fits are all there
     * @throws IllegalArgumentException if nothing is left
     */
    public Remainder(Comparison whole, Set<Integer> done) {
        List<Candidate> left = new ArrayList<>();
        for (int c = 0; c < whole.candidates().size(); c++) {
            if (!done.contains(c)) {
                left.add(whole.candidates().get(c));
                numbers.add(c);
            }
        }
        this.part = new Comparison(whole.tasks(), left, whole.seed(), whole.trainScores());
        List<String> names = whole.families().stream().map(Family::name).toList();
        this.families =
                part.families().stream().map(f -> names.indexOf(f.name())).toList();
    }

    /** Returns the comparison that is to be run. */
    public Comparison comparison() {
        return part;
    }

    /** Returns a unit of {@link #comparison} as the unit of the whole that it stands for. */
    public Unit ofWhole(Unit unit) {
        return new Unit(unit.number(), unit.task(), unit.repeat(), unit.fold(), families.get(unit.family()));
    }

    /** Returns units of the whole, which are not all done, as units of {@link #comparison}. */
    public List<Unit> units(List<Unit> ofWhole) {
        return ofWhole.stream()
                .map(u -> new Unit(u.number(), u.task(), u.repeat(), u.fold(), families.indexOf(u.family())))
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
