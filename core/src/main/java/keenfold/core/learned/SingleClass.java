package keenfold.core.learned;

import keenfold.core.data.State;

/**
 * What any classifier learns from rows of one class alone: that class, whatever the row.
 *
 * @param classes K, with or without training rows
 * @param only the index of the class
 */
public record SingleClass(int classes, int only) implements LearnedModel {
    static final String KIND = "one-class";

    @Override
    public State state() {
        return State.of(KIND).with("classes", classes).with("only", only);
    }

    static SingleClass of(State state) {
        int classes = LearnedModel.classes(state);
        return new SingleClass(classes, state.whole("only", 0, classes - 1));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.singleClass(this);
    }
}
