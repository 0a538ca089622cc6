package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * Normal densities of the present classes: a discriminant, linear if all share one covariance.
 *
 * @param classes K, with or without training rows
 * @param present the classes that had training rows
 * @param columns the prepared columns in use, p of them; those that others determine are left out
 * @param densities one per present class
 * @param size effective number of parameters
 */
public record NormalDensities(
        int classes, List<Integer> present, List<Integer> columns, List<Density> densities, double size)
        implements LearnedModel {
    static final String KIND = "discriminant";

    /**
     * Share and density of a class: with z = lower⁻¹(x − mean) the logarithm of both is, but for a constant that all classes
     * have, {@code logShare − logRoot − z·z/2}.
     *
     * @param logShare logarithm of the class's share
     * @param logRoot logarithm of the root of the covariance's determinant
     * @param mean p values
     * @param lower p rows of p values: the Cholesky factor of the covariance, 0 above the diagonal
     */
    public record Density(double logShare, double logRoot, Vector mean, List<Vector> lower) {
        /** Copies the rows. */
        public Density {
            lower = List.copyOf(lower);
        }

        private State state() {
            return State.of("density")
                    .with("log-share", logShare)
                    .with("log-root", logRoot)
                    .with("mean", mean)
                    .withRows("lower", lower);
        }

        private static Density of(State state, int columns) {
            List<Vector> lower = state.rows("lower", columns);
            Checks.that(lower.size() == columns, "density: %d rows of %d", lower.size(), columns);
            return new Density(
                    state.number("log-share"), state.number("log-root"), state.numbers("mean", columns), lower);
        }
    }

    /** Copies the lists. */
    public NormalDensities {
        present = List.copyOf(present);
        columns = List.copyOf(columns);
        densities = List.copyOf(densities);
    }

    /** Returns whether all classes have the same covariance: the border between two is a plane then. */
    public boolean pooled() {
        return densities.stream()
                .allMatch(d -> d.lower().equals(densities.get(0).lower()));
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withWholes("present", present)
                .withWholes("columns", columns)
                .withParts("densities", densities.stream().map(Density::state).toList())
                .with("size", size);
    }

    static NormalDensities of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> present = LearnedModel.present(state, classes);
        List<Integer> used = state.wholes("columns", 0, columns - 1);
        List<Density> densities = state.parts("densities").stream()
                .map(d -> Density.of(d, used.size()))
                .toList();
        Checks.that(
                densities.size() == present.size(),
                "discriminant: %d densities of %d",
                densities.size(),
                present.size());
        return new NormalDensities(classes, present, used, densities, state.number("size"));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.normalDensities(this);
    }
}
