package keenfold.core.learned;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.State;

/** What a classifier learned from its training rows. Immutable. */
public sealed interface LearnedModel
        permits ClassShares,
                SingleClass,
                LogisticCoefficients,
                NormalDensities,
                NearestRows,
                ColumnDensities,
                ClassTree,
                ClassForest,
                BoostedTrees,
                SupportVectors,
                NetworkWeights,
                MemberVotes,
                OutsideModel {
    /** More classes, columns or rows than any model has. */
    int MOST = 100_000_000;

    /** Returns the number of classes, K. */
    int classes();

    /** Returns the indices of the classes that it can predict, rising; others have the probability 0. */
    default List<Integer> present() {
        return IntStream.range(0, classes()).boxed().toList();
    }

    /** Returns it as a model file keeps it; docs/model.md says what each value means. */
    State state();

    /** Returns what is done with a model of its kind. */
    <R> R match(Cases<R> cases);

    /**
     * What is done with each kind of model.
     *
     * @param <R> what comes of it
     */
    interface Cases<R> {
        /** Takes class shares. */
        R classShares(ClassShares model);

        /** Takes a single class. */
        R singleClass(SingleClass model);

        /** Takes a logistic regression. */
        R logisticCoefficients(LogisticCoefficients model);

        /** Takes a discriminant. */
        R normalDensities(NormalDensities model);

        /** Takes the rows of nearest neighbours. */
        R nearestRows(NearestRows model);

        /** Takes a naive Bayes classifier. */
        R columnDensities(ColumnDensities model);

        /** Takes a classification tree. */
        R classTree(ClassTree model);

        /** Takes a forest. */
        R classForest(ClassForest model);

        /** Takes boosted trees. */
        R boostedTrees(BoostedTrees model);

        /** Takes a support vector machine. */
        R supportVectors(SupportVectors model);

        /** Takes a network. */
        R networkWeights(NetworkWeights model);

        /** Takes a vote of members. */
        R memberVotes(MemberVotes model);

        /** Takes what only a kind from outside understands. */
        R outsideModel(OutsideModel model);
    }

    /**
     * Returns the model of a state.
     *
     * @param columns how many prepared columns it will be handed
     * @throws IllegalArgumentException if the state is none of a model of so many columns
     */
    static LearnedModel of(State state, int columns) {
        Map<String, Function<State, LearnedModel>> makers = new LinkedHashMap<>();
        makers.put(ClassShares.KIND, ClassShares::of);
        makers.put(SingleClass.KIND, SingleClass::of);
        makers.put(LogisticCoefficients.KIND, s -> LogisticCoefficients.of(s, columns));
        makers.put(NormalDensities.KIND, s -> NormalDensities.of(s, columns));
        makers.put(NearestRows.KIND, s -> NearestRows.of(s, columns));
        makers.put(ColumnDensities.KIND, s -> ColumnDensities.of(s, columns));
        makers.put(ClassTree.KIND, s -> ClassTree.of(s, columns));
        makers.put(ClassForest.KIND, s -> ClassForest.of(s, columns));
        makers.put(BoostedTrees.KIND, s -> BoostedTrees.of(s, columns));
        makers.put(SupportVectors.KIND, s -> SupportVectors.of(s, columns));
        makers.put(NetworkWeights.KIND, s -> NetworkWeights.of(s, columns));
        makers.put(MemberVotes.KIND, s -> MemberVotes.of(s, columns));
        makers.put(OutsideModel.KIND, OutsideModel::of);
        return state.made("classifier", makers);
    }

    /** Refuses another number of columns than there are. */
    static void requireColumns(State state, int has, int columns) {
        Checks.that(has == columns, "%s of %d columns, where there are %d", state.kind(), has, columns);
    }

    /** Returns the number of classes of a state. */
    static int classes(State state) {
        return state.whole("classes", 2, MOST);
    }

    /** Returns the classes of a state that had training rows: rising, at least one. */
    static List<Integer> present(State state, int classes) {
        List<Integer> present = state.wholes("present", 0, classes - 1);
        for (int k = 1; k < present.size(); k++) {
            if (present.get(k) <= present.get(k - 1)) {
                throw Checks.wrong(state.kind() + ", \"present\": expected rising numbers");
            }
        }
        if (present.isEmpty()) {
            throw Checks.wrong(state.kind() + ", \"present\": expected at least one class");
        }
        return present;
    }
}
