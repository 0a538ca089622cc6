package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;

/** What fitted steps are: a change of each column, a choice of columns, or something made of several. */
final class FittedSteps {
    private static final int MOST_COLUMNS = 10_000_000;

    private FittedSteps() {}

    /** Makes the fitted step of a state. */
    static Step.Fitted restored(State state) {
        Map<String, Function<State, Step.Fitted>> makers = new LinkedHashMap<>();
        makers.put(
                "each",
                s -> new Each(s.parts("columns").stream().map(Change::restored).toList()));
        makers.put("choice", s -> new Choice(s.wholes("columns", 0, MOST_COLUMNS)));
        makers.put("products", s -> new Products(s.wholes("columns", 0, MOST_COLUMNS), s.truth("squares")));
        makers.put("components", s -> {
            int[] numbers = s.wholes("columns", 0, MOST_COLUMNS);
            return new Projection(numbers, s.numbers("means", numbers.length), s.rows("directions", numbers.length));
        });
        return state.made("step", makers);
    }

    /** A change of each column, in the order of the columns. */
    static final class Each implements Step.Fitted {
        private final List<Change> changes;

        Each(List<Change> changes) {
            this.changes = List.copyOf(changes);
        }

        @Override
        public Table apply(Table table) {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < changes.size(); i++) {
                columns.addAll(changes.get(i).of(table.columns().get(i)));
            }
            return EachColumn.table(table.rows(), columns);
        }

        @Override
        public State state() {
            return State.of("each")
                    .withParts("columns", changes.stream().map(Change::state).toList());
        }
    }

    /** Some of the columns. */
    static final class Choice implements Step.Fitted {
        private final int[] kept;

        Choice(int[] kept) {
            this.kept = kept;
        }

        @Override
        public Table apply(Table table) {
            return new Table(
                    table.rows(),
                    Arrays.stream(kept).mapToObj(table.columns()::get).toList());
        }

        @Override
        public State state() {
            return State.of("choice").with("columns", kept);
        }
    }

    /** The products of pairs of columns, behind the columns. */
    static final class Products implements Step.Fitted {
        private final int[] factors;
        private final boolean squares;

        Products(int[] factors, boolean squares) {
            this.factors = factors;
            this.squares = squares;
        }

        @Override
        public Table apply(Table table) {
            List<Column> all = new ArrayList<>(table.columns());
            for (int a = 0; a < factors.length; a++) {
                FitFailure.ifInterrupted();
                for (int b = squares ? a : a + 1; b < factors.length; b++) {
                    all.add(product((Numbers) table.columns().get(factors[a]), (Numbers)
                            table.columns().get(factors[b])));
                }
            }
            return EachColumn.table(table.rows(), all);
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
            return State.of("products").with("columns", factors).with("squares", squares);
        }
    }

    /** Number columns projected onto directions; categories stay. */
    static final class Projection implements Step.Fitted {
        private final int[] numbers;
        private final double[] mean;
        private final double[][] directions;

        Projection(int[] numbers, double[] mean, double[][] directions) {
            this.numbers = numbers;
            this.mean = mean;
            this.directions = directions;
        }

        @Override
        public Table apply(Table table) {
            List<Column> columns = new ArrayList<>();
            for (Column column : table.columns()) {
                if (!(column instanceof Numbers)) {
                    columns.add(column);
                }
            }
            double[][] made = new double[directions.length][table.rows()];
            for (int j = 0; j < numbers.length; j++) {
                Numbers column = (Numbers) table.columns().get(numbers[j]);
                for (int k = 0; k < directions.length; k++) {
                    for (int i = 0; i < table.rows(); i++) {
                        made[k][i] += (column.get(i) - mean[j]) * directions[k][j];
                    }
                }
            }
            for (int k = 0; k < directions.length; k++) {
                columns.add(Numbers.owning("component " + (k + 1), made[k]));
            }
            return EachColumn.table(table.rows(), columns);
        }

        @Override
        public State state() {
            return State.of("components")
                    .with("columns", numbers)
                    .with("means", mean)
                    .with("directions", directions);
        }
    }
}
