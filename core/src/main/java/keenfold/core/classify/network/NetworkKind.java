package keenfold.core.classify.network;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.WatchedRows;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/** The kind of {@link Network}: settings, presets and how it is made. */
public final class NetworkKind {
    private static final Setting LAYERS = Setting.whole("layers", 1, 1, Simpler.LOWER, "how many hidden layers");
    private static final Setting UNITS = Setting.whole("units", 8, 1, Simpler.LOWER, "of each hidden layer");
    private static final Setting WEIGHT_DECAY = Setting.number(
            "weight-decay", "1", Bounds.from(0), Simpler.HIGHER, "penalty on squared weights, biases not counted");
    private static final Setting STEPS = Setting.whole("steps", 200, 1, Simpler.LOWER, "most steps of descent");
    private static final Setting PATIENCE = new Setting(
            "patience",
            Setting.Type.WHOLE,
            "10",
            Bounds.from(1),
            List.of("never"),
            Simpler.NEITHER,
            "steps without gain on watched rows after which it stops");

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "network",
                    "a feed-forward network with hidden layers of tanh units",
                    new About(
                            "minimum of the log-loss summed over rows plus weight-decay/2 times the sum of squared weights, a = tanh(W a +"
                                    + " b) layer by layer, softmax at the end; limited-memory BFGS on all rows from weights"
                                    + " drawn normal with variance 1/inputs; with patience, the weights that served watched rows"
                                    + " best are kept",
                            "weights and biases",
                            "Rumelhart, Hinton and Williams (1986), Nature 323, doi:10.1038/323533a0; weight decay: Krogh and Hertz"
                                    + " (1992), NIPS 4; early stopping: Prechelt (1998), Neural Networks: Tricks of the Trade"),
                    List.of(LAYERS, UNITS, WEIGHT_DECAY, STEPS, PATIENCE, WatchedRows.WATCHED),
                    s -> new Network(
                            s.whole(LAYERS),
                            s.whole(UNITS),
                            s.number(WEIGHT_DECAY),
                            s.whole(STEPS),
                            s.text(PATIENCE).equals("never") ? 0 : s.whole(PATIENCE),
                            s.number(WatchedRows.WATCHED)),
                    Optional.empty())
            .inTier(5, "many weights, none of which means anything alone");

    private NetworkKind() {}
}
