package keenfold.core.classify;

import java.util.Optional;
import keenfold.core.data.State;
import keenfold.core.data.Table;

/**
 * What is learned from rows of one class alone: that class, whatever the row.
 *
 * @param classes K, with or without training rows
 * @param only the index of the class
 */
record OneClass(int classes, int only) implements Model {
    @Override
    public double[] probabilities(Table table) {
        double[] all = new double[table.rows() * classes];
        for (int i = only; i < all.length; i += classes) {
            all[i] = 1;
        }
        return all;
    }

    static Model restored(State state) {
        int classes = Models.classes(state);
        return new OneClass(classes, state.whole("only", 0, classes - 1));
    }

    @Override
    public Optional<State> state() {
        return Optional.of(State.of("one-class").with("classes", classes).with("only", only));
    }

    @Override
    public double size() {
        return 1;
    }
}
