package keenfold.core.learned;

import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * The class shares of the training rows, whatever the row.
 *
 * @param shares one per class, summing to 1
 */
public record ClassShares(Vector shares) implements LearnedModel {
    static final String KIND = "majority";

    @Override
    public int classes() {
        return shares.size();
    }

    @Override
    public State state() {
        return State.of(KIND).with("shares", shares);
    }

    static ClassShares of(State state) {
        return new ClassShares(state.numbers("shares"));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.classShares(this);
    }
}
