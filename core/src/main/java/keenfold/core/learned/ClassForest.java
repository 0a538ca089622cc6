package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;

/**
 * Classification trees, of whose class shares the mean is taken.
 *
 * @param classes K, with or without training rows
 * @param trees at least one
 */
public record ClassForest(int classes, List<ClassNodes> trees) implements LearnedModel {
    static final String KIND = "forest";

    /** Copies the list. */
    public ClassForest {
        trees = List.copyOf(trees);
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withParts("roots", trees.stream().map(ClassNodes::state).toList());
    }

    static ClassForest of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<ClassNodes> trees = state.parts("roots").stream()
                .map(s -> ClassNodes.of(s, classes, columns))
                .toList();
        Checks.that(!trees.isEmpty(), "forest without trees");
        return new ClassForest(classes, trees);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.classForest(this);
    }
}
