package keenfold.core.classify;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import keenfold.core.data.Checks;
import keenfold.core.data.State;

/** Makes trained classifiers again from what they learned. */
public final class Models {
    /** More classes, columns or rows than any model has. */
    static final int MOST = 100_000_000;

    private Models() {}

    /**
     * Returns the model of a state: it gives the same probabilities to the last bit.
     *
     * @param columns how many prepared columns it will be handed
     * @throws IllegalArgumentException if the state is none of a model of so many columns
     */
    public static Model restored(State state, int columns) {
        Map<String, Function<State, Model>> makers = new LinkedHashMap<>();
        makers.put("majority", Majority::restored);
        makers.put("one-class", OneClass::restored);
        makers.put("naive-bayes", s -> NaiveBayes.restored(s, columns));
        makers.put("logistic", s -> Logistic.Linear.restored(s, columns));
        makers.put("nearest", s -> Nearest.restored(s, columns));
        makers.put("discriminant", s -> Discriminant.restored(s, columns));
        makers.put("tree", s -> Tree.restored(s, columns));
        makers.put("forest", s -> Forest.restored(s, columns));
        makers.put("boosting", s -> Boosting.restored(s, columns));
        makers.put("svm", s -> Svm.restored(s, columns));
        makers.put("network", s -> Network.restored(s, columns));
        makers.put("vote", s -> Vote.restored(s, columns));
        return state.made("classifier", makers);
    }

    /** Refuses another number of columns than there are. */
    static void requireColumns(State state, int has, int columns) {
        Checks.that(has == columns, "%s of %d columns, where there are %d", state.kind(), has, columns);
    }

    /** The number of classes of a state. */
    static int classes(State state) {
        return state.whole("classes", 2, MOST);
    }

    /** The classes that had training rows: rising, at least one. */
    static int[] present(State state, int classes) {
        int[] present = state.wholes("present", 0, classes - 1);
        for (int k = 1; k < present.length; k++) {
            if (present[k] <= present[k - 1]) {
                throw new IllegalArgumentException(state.kind() + ", \"present\": expected rising numbers");
            }
        }
        if (present.length == 0) {
            throw new IllegalArgumentException(state.kind() + ", \"present\": expected at least one class");
        }
        return present;
    }
}
