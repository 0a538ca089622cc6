package keenfold.core.learned;

import keenfold.core.data.State;

/**
 * What a classifier from outside learned: only its own kind knows what it means.
 *
 * @param of the name of the kind
 * @param classes K
 * @param learned what the kind makes the model of again
 */
public record OutsideModel(String of, int classes, State learned) implements LearnedModel {
    static final String KIND = "outside";

    @Override
    public State state() {
        return State.of(KIND).with("of", of).with("classes", classes).with("learned", learned);
    }

    static OutsideModel of(State state) {
        return new OutsideModel(state.text("of"), LearnedModel.classes(state), state.part("learned"));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.outsideModel(this);
    }
}
