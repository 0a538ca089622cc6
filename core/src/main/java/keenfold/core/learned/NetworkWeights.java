package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * A feed-forward network of tanh units. With present classes a and b its one output is the log-odds of b; with more there is
 * an output a class, whose softmax are the probabilities.
 *
 * @param classes K, with or without training rows
 * @param present the classes that had training rows
 * @param inputs prepared columns
 * @param layers hidden layers
 * @param units of each hidden layer
 * @param outputs 1, or one per present class
 * @param weights layer after layer, unit after unit: one per unit of the layer below, then the bias
 */
public record NetworkWeights(
        int classes, List<Integer> present, int inputs, int layers, int units, int outputs, Vector weights)
        implements LearnedModel {
    static final String KIND = "network";

    /** Copies the list. */
    public NetworkWeights {
        present = List.copyOf(present);
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withWholes("present", present)
                .with("layers", layers)
                .with("units", units)
                .with("outputs", outputs)
                .with("weights", weights);
    }

    /** Returns how many weights a network has. */
    public static int count(int inputs, int layers, int units, int outputs) {
        int count = 0;
        int below = inputs;
        for (int l = 0; l < layers; l++) {
            count += units * (below + 1);
            below = units;
        }
        return count + outputs * (below + 1);
    }

    static NetworkWeights of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> present = LearnedModel.present(state, classes);
        Vector weights = state.numbers("weights");
        // No layer has more units than there are weights: their count stays within whole numbers.
        int most = Math.min(weights.size(), 30_000);
        int layers = state.whole("layers", 0, 100);
        int units = state.whole("units", 0, most);
        int outputs = state.whole("outputs", 1, Math.max(1, most));
        Checks.that(
                outputs == (present.size() <= 2 ? 1 : present.size()),
                "network: %d outputs for %d classes",
                outputs,
                present.size());
        int count = count(columns, layers, units, outputs);
        Checks.that(weights.size() == count, "network: %d weights for %d", weights.size(), count);
        return new NetworkWeights(classes, present, columns, layers, units, outputs, weights);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.networkWeights(this);
    }
}
