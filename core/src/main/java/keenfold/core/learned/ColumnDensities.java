package keenfold.core.learned;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * A naive Bayes classifier: class shares, and a density of each column within each class.
 *
 * @param logShares logarithm of each class's share; −∞ without training rows
 * @param columns one per prepared column
 */
public record ColumnDensities(Vector logShares, List<Density> columns) implements LearnedModel {
    static final String KIND = "naive-bayes";

    /** What one column says of each class. */
    public sealed interface Density permits Normals, Kernels, LevelShares {
        /** Returns it as a model file keeps it. */
        State state();

        /** Returns what is done with a density of its form. */
        <R> R match(Function<Normals, R> normals, Function<Kernels, R> kernels, Function<LevelShares, R> levels);
    }

    /**
     * A normal density within each class.
     *
     * @param mean one per class
     * @param variance one per class, above 0 if the column varies
     * @param varies whether the column has more than one value; it says nothing if not
     */
    public record Normals(Vector mean, Vector variance, boolean varies) implements Density {
        @Override
        public State state() {
            return State.of("normal")
                    .with("mean", mean)
                    .with("variance", variance)
                    .with("varies", varies);
        }

        private static Normals of(State s, int classes) {
            Normals made = new Normals(s.numbers("mean", classes), s.numbers("variance", classes), s.truth("varies"));
            made.variance.stream()
                    .forEach(v ->
                            Checks.that(!made.varies || v > 0, "normal: a variance of %s; train the model again", v));
            return made;
        }

        @Override
        public <R> R match(
                Function<Normals, R> normals, Function<Kernels, R> kernels, Function<LevelShares, R> levels) {
            return normals.apply(this);
        }
    }

    /**
     * A sum of normal kernels, Σᵢ wᵢ·φ((x − vᵢ)/width)/(total·width).
     *
     * @param values v, rising
     * @param weights w, one per value
     * @param total sum of the weights
     * @param width of each kernel, above 0
     */
    public record Kernel(Vector values, Vector weights, double total, double width) {
        /** Returns the mean of the density. */
        public double mean() {
            double sum = 0;
            for (int i = 0; i < values.size(); i++) {
                sum += weights.get(i) * values.get(i);
            }
            return sum / weights.stream().sum();
        }

        private State state() {
            return State.of("kernels")
                    .with("values", values)
                    .with("weights", weights)
                    .with("total", total)
                    .with("width", width);
        }

        private static Kernel of(State state) {
            Vector values = state.numbers("values");
            Checks.that(values.size() > 0, "kernels: a class without values; train the model again");
            return new Kernel(
                    values, state.numbers("weights", values.size()), state.number("total"), state.number("width"));
        }
    }

    /**
     * A kernel density within each class.
     *
     * @param densities one per class
     * @param varies whether the column has more than one value; it says nothing if not
     */
    public record Kernels(List<Kernel> densities, boolean varies) implements Density {
        /** Copies the list. */
        public Kernels {
            densities = List.copyOf(densities);
        }

        @Override
        public State state() {
            return State.of("kernels")
                    .withParts(
                            "densities", densities.stream().map(Kernel::state).toList())
                    .with("varies", varies);
        }

        private static Kernels of(State s, int classes) {
            List<Kernel> densities =
                    s.parts("densities").stream().map(Kernel::of).toList();
            Checks.that(densities.size() == classes, "kernels: %d densities of %d", densities.size(), classes);
            return new Kernels(densities, s.truth("varies"));
        }

        @Override
        public <R> R match(
                Function<Normals, R> normals, Function<Kernels, R> kernels, Function<LevelShares, R> levels) {
            return kernels.apply(this);
        }
    }

    /**
     * The shares of a category's levels within each class.
     *
     * @param logs one row per level of the logarithm of its share in each class; empty for a level without training rows
     * @param parameters how many were fitted, of each class
     */
    public record LevelShares(List<Vector> logs, int parameters) implements Density {
        /** Copies the rows. */
        public LevelShares {
            logs = List.copyOf(logs);
        }

        @Override
        public State state() {
            return State.of("levels").withRows("logs", logs).with("parameters", parameters);
        }

        private static LevelShares of(State s, int classes) {
            List<Vector> logs = s.rows("logs");
            for (Vector row : logs) {
                Checks.that(row.size() == 0 || row.size() == classes, "levels: %d numbers a level", row.size());
            }
            return new LevelShares(logs, s.whole("parameters", 0, MOST));
        }

        @Override
        public <R> R match(
                Function<Normals, R> normals, Function<Kernels, R> kernels, Function<LevelShares, R> levels) {
            return levels.apply(this);
        }
    }

    /** Copies the list. */
    public ColumnDensities {
        columns = List.copyOf(columns);
    }

    @Override
    public int classes() {
        return logShares.size();
    }

    @Override
    public List<Integer> present() {
        return IntStream.range(0, classes())
                .filter(c -> StrictMath.exp(logShares.get(c)) > 0)
                .boxed()
                .toList();
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("prior", logShares)
                .withParts("columns", columns.stream().map(Density::state).toList());
    }

    static ColumnDensities of(State state, int columns) {
        Vector logShares = state.numbers("prior");
        LearnedModel.requireColumns(state, state.parts("columns").size(), columns);
        Map<String, Function<State, Density>> makers = new LinkedHashMap<>();
        makers.put("normal", s -> Normals.of(s, logShares.size()));
        makers.put("kernels", s -> Kernels.of(s, logShares.size()));
        makers.put("levels", s -> LevelShares.of(s, logShares.size()));
        return new ColumnDensities(
                logShares,
                state.parts("columns").stream()
                        .map(s -> s.<Density>made("density", makers))
                        .toList());
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.columnDensities(this);
    }
}
