package keenfold.core.learned;

import keenfold.core.data.State;

/**
 * A classification tree.
 *
 * @param classes K, with or without training rows
 * @param nodes the tree
 */
public record ClassTree(int classes, ClassNodes nodes) implements LearnedModel {
    static final String KIND = "tree";

    @Override
    public State state() {
        return State.of(KIND).with("classes", classes).with("root", nodes.state());
    }

    static ClassTree of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        return new ClassTree(classes, ClassNodes.of(state.part("root"), classes, columns));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.classTree(this);
    }
}
