package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * A sum of trees of values. With present classes a and b it is the log-odds of b; with more there is a sum a class, whose
 * softmax are the probabilities.
 *
 * @param classes K, with or without training rows
 * @param present the classes that had training rows
 * @param start what each sum begins with
 * @param rate the learning rate; the values of the trees have it in them
 * @param rounds of one tree a sum each
 */
public record BoostedTrees(int classes, List<Integer> present, Vector start, double rate, List<List<ValueNodes>> rounds)
        implements LearnedModel {
    static final String KIND = "boosting";

    /**
     * The nodes of a tree of values, the root first. Rows with a value of at most the threshold go left.
     *
     * @param columns the prepared column of each node's split; of no meaning for a leaf
     * @param thresholds of each split; of no meaning for a leaf
     * @param values of each leaf
     * @param left the node to the left, −1 for a leaf
     * @param right the node to the right; of no meaning for a leaf
     */
    public record ValueNodes(
            List<Integer> columns, Vector thresholds, Vector values, List<Integer> left, List<Integer> right) {
        /** Copies the lists. */
        public ValueNodes {
            columns = List.copyOf(columns);
            left = List.copyOf(left);
            right = List.copyOf(right);
        }

        /** Returns whether a node is a leaf. */
        public boolean leaf(int node) {
            return left.get(node) < 0;
        }

        private State state() {
            return State.of("nodes")
                    .withWholes("columns", columns)
                    .with("thresholds", thresholds)
                    .with("values", values)
                    .withWholes("left", left)
                    .withWholes("right", right);
        }

        /** A side must stand behind its node, so that every row comes to a leaf. */
        private static ValueNodes of(State state, int columnCount) {
            List<Integer> columns = state.wholes("columns", 0, Math.max(0, columnCount - 1));
            int count = columns.size();
            List<Integer> left = state.wholes("left", -1, count - 1);
            List<Integer> right = state.wholes("right", -1, count - 1);
            ValueNodes made = new ValueNodes(
                    columns, state.numbers("thresholds", count), state.numbers("values", count), left, right);
            Checks.that(
                    count > 0 && left.size() == count && right.size() == count, "nodes: lists of different lengths");
            for (int i = 0; i < count; i++) {
                Checks.that(made.leaf(i) || (left.get(i) > i && right.get(i) > i), "nodes: node %d has no sides", i);
            }
            return made;
        }
    }

    /** Copies the lists. */
    public BoostedTrees {
        present = List.copyOf(present);
        rounds = rounds.stream().map(List::copyOf).toList();
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withWholes("present", present)
                .with("start", start)
                .with("rate", rate)
                .withParts(
                        "rounds",
                        rounds.stream()
                                .map(r -> State.of("round")
                                        .withParts(
                                                "trees",
                                                r.stream()
                                                        .map(ValueNodes::state)
                                                        .toList()))
                                .toList());
    }

    static BoostedTrees of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> present = LearnedModel.present(state, classes);
        Vector start = state.numbers("start", present.size() <= 2 ? 1 : present.size());
        List<List<ValueNodes>> rounds = state.parts("rounds").stream()
                .map(r -> r.parts("trees").stream()
                        .map(t -> ValueNodes.of(t, columns))
                        .toList())
                .toList();
        for (List<ValueNodes> round : rounds) {
            Checks.that(
                    round.size() == start.size(), "boosting: %d trees in a round of %d", round.size(), start.size());
        }
        return new BoostedTrees(classes, present, start, state.number("rate"), rounds);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.boostedTrees(this);
    }
}
