package keenfold.core.learned;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.data.Column;
import keenfold.core.data.Lists;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;

/** What a step learned from training rows: it transforms any rows with the same columns. Immutable. */
public sealed interface LearnedStep {
    /** More columns than any table has. */
    int MOST_COLUMNS = 10_000_000;

    /** Returns the transformed rows; the table has the columns of the training rows. */
    Table apply(Table table);

    /** Returns it as a model file keeps it; docs/model.md says what each value means. */
    State state();

    /** Returns what is done with a step of its kind. */
    <R> R match(Cases<R> cases);

    /**
     * What is done with each kind of step.
     *
     * @param <R> what comes of it
     */
    interface Cases<R> {
        /** Takes a transform of each column by itself. */
        R columnByColumn(ColumnByColumn step);

        /** Takes a choice of columns. */
        R columnChoice(ColumnChoice step);

        /** Takes products of columns. */
        R columnProducts(ColumnProducts step);

        /** Takes a projection. */
        R projection(Projection step);
    }

    /**
     * Returns the step of a state.
     *
     * @throws IllegalArgumentException if the state is none of a fitted step
     */
    static LearnedStep of(State state) {
        Map<String, Function<State, LearnedStep>> makers = new LinkedHashMap<>();
        makers.put(
                "each",
                s -> new ColumnByColumn(
                        s.parts("columns").stream().map(ColumnTransform::of).toList()));
        makers.put("choice", s -> new ColumnChoice(s.wholes("columns", 0, MOST_COLUMNS)));
        makers.put("products", s -> new ColumnProducts(s.wholes("columns", 0, MOST_COLUMNS), s.truth("squares")));
        makers.put("components", s -> {
            List<Integer> numbers = s.wholes("columns", 0, MOST_COLUMNS);
            return new Projection(numbers, s.numbers("means", numbers.size()), s.rows("directions", numbers.size()));
        });
        return state.made("step", makers);
    }

    /** Returns a table of columns; a made column whose name is taken gets another. */
    private static Table table(int rows, List<Column> columns) {
        Set<String> taken = new HashSet<>();
        List<Column> renamed = new ArrayList<>();
        for (Column column : columns) {
            String name = column.name();
            while (!taken.add(name)) {
                name += "'";
            }
            String free = name;
            renamed.add(
                    free.equals(column.name())
                            ? column
                            : column.match(n -> Numbers.owning(free, n.toArray()), c -> c.named(free)));
        }
        return new Table(rows, renamed);
    }

    /**
     * A transform of each column, in the order of the columns.
     *
     * @param transforms one per column
     */
    record ColumnByColumn(List<ColumnTransform> transforms) implements LearnedStep {
        /** Copies the list. */
        public ColumnByColumn {
            transforms = List.copyOf(transforms);
        }

        @Override
        public Table apply(Table table) {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < transforms.size(); i++) {
                columns.addAll(transforms.get(i).of(table.columns().get(i)));
            }
            return LearnedStep.table(table.rows(), columns);
        }

        @Override
        public State state() {
            return State.of("each")
                    .withParts(
                            "columns",
                            transforms.stream().map(ColumnTransform::state).toList());
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.columnByColumn(this);
        }
    }

    /**
     * Some of the columns.
     *
     * @param kept their numbers
     */
    record ColumnChoice(List<Integer> kept) implements LearnedStep {
        /** Copies the list. */
        public ColumnChoice {
            kept = List.copyOf(kept);
        }

        @Override
        public Table apply(Table table) {
            return new Table(
                    table.rows(), kept.stream().map(table.columns()::get).toList());
        }

        @Override
        public State state() {
            return State.of("choice").withWholes("columns", kept);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.columnChoice(this);
        }
    }

    /**
     * The products of pairs of columns, behind the columns.
     *
     * @param factors the columns that are multiplied
     * @param squares whether each is multiplied with itself too
     */
    record ColumnProducts(List<Integer> factors, boolean squares) implements LearnedStep {
        /** Copies the list. */
        public ColumnProducts {
            factors = List.copyOf(factors);
        }

        @Override
        public Table apply(Table table) {
            List<Column> all = new ArrayList<>(table.columns());
            for (int a = 0; a < factors.size(); a++) {
                FitFailure.ifInterrupted();
                for (int b = squares ? a : a + 1; b < factors.size(); b++) {
                    all.add(product((Numbers) table.columns().get(factors.get(a)), (Numbers)
                            table.columns().get(factors.get(b))));
                }
            }
            return LearnedStep.table(table.rows(), all);
        }

        private static Numbers product(Numbers a, Numbers b) {
            double[] values = new double[a.rows()];
            for (int i = 0; i < values.length; i++) {
                double x = a.get(i) * b.get(i);
                values[i] = Double.isInfinite(x) ? Math.copySign(Double.MAX_VALUE, x) : x;
            }
            return Numbers.owning(a.name() + "*" + b.name(), values);
        }

        @Override
        public State state() {
            return State.of("products").withWholes("columns", factors).with("squares", squares);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.columnProducts(this);
        }
    }

    /**
     * Number columns projected onto directions; categories stay, before them.
     *
     * @param numbers the number columns
     * @param means of each of them
     * @param directions rows of one number per number column
     */
    record Projection(List<Integer> numbers, Vector means, List<Vector> directions) implements LearnedStep {
        /** Copies the lists. */
        public Projection {
            numbers = List.copyOf(numbers);
            directions = List.copyOf(directions);
        }

        @Override
        public Table apply(Table table) {
            List<Column> columns = new ArrayList<>();
            for (Column column : table.columns()) {
                if (!(column instanceof Numbers)) {
                    columns.add(column);
                }
            }
            double[][] along = Lists.rows(directions);
            double[][] made = new double[along.length][table.rows()];
            for (int j = 0; j < numbers.size(); j++) {
                Numbers column = (Numbers) table.columns().get(numbers.get(j));
                for (int k = 0; k < along.length; k++) {
                    for (int i = 0; i < table.rows(); i++) {
                        made[k][i] += (column.get(i) - means.get(j)) * along[k][j];
                    }
                }
            }
            for (int k = 0; k < along.length; k++) {
                columns.add(Numbers.owning("component " + (k + 1), made[k]));
            }
            return LearnedStep.table(table.rows(), columns);
        }

        @Override
        public State state() {
            return State.of("components")
                    .withWholes("columns", numbers)
                    .with("means", means)
                    .withRows("directions", directions);
        }

        @Override
        public <R> R match(Cases<R> cases) {
            return cases.projection(this);
        }
    }
}
