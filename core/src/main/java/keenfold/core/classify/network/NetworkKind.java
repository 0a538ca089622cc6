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
    private static final String BY_TABLE = "by-table";
    private static final Setting UNITS = new Setting(
                    "units",
                    Setting.Type.WHOLE,
                    BY_TABLE,
                    Bounds.from(1).to(Setting.MOST),
                    List.of(BY_TABLE),
                    Simpler.LOWER,
                    "of each hidden layer; by-table is twice the columns and classes, from 32 to 64")
            .formerly("8");
    private static final Setting WEIGHT_DECAY = Setting.number(
                    "weight-decay",
                    "5",
                    Bounds.from(0),
                    Simpler.HIGHER,
                    "penalty on squared weights, biases not counted")
            .formerly("1");
    private static final Setting STEPS = Setting.whole("steps", 100, 1, Simpler.LOWER, "most steps of descent")
            .formerly("200");
    private static final String NEVER = "never";
    private static final Setting PATIENCE = new Setting(
                    "patience",
                    Setting.Type.WHOLE,
                    NEVER,
                    Bounds.from(1),
                    List.of(NEVER),
                    Simpler.NEITHER,
                    "steps without gain on watched rows after which it stops")
            .formerly("10");
    private static final Setting ALL_ROWS = Setting.choice(
                    "all-rows",
                    true,
                    "whether, after patience ran out, it is retrained on all rows for as many steps as served best")
            .formerly("no")
            .unless("patience", NEVER);

    /** The kind. */
    public static final ClassifierKind KIND = new ClassifierKind(
                    "network",
                    "a feed-forward network with hidden layers of tanh units",
                    new About(
                            "minimum of the log-loss summed over rows plus weight-decay/2 times the sum of squared weights, a = tanh(W a +"
                                    + " b) layer by layer, softmax at the end; limited-memory BFGS on all rows from weights"
                                    + " drawn normal with variance 1/inputs; with patience, watched rows say after how many"
                                    + " steps to end, and with all-rows it is retrained on all",
                            "weights and biases",
                            "Rumelhart, Hinton and Williams (1986), Nature 323, doi:10.1038/323533a0; weight decay: Krogh and Hertz"
                                    + " (1992), NIPS 4; early stopping: Prechelt (1998), Neural Networks: Tricks of the Trade; then all rows:"
                                    + " Goodfellow, Bengio and Courville (2016), Deep Learning, algorithm 7.2"),
                    List.of(LAYERS, UNITS, WEIGHT_DECAY, STEPS, PATIENCE, WatchedRows.WATCHED, ALL_ROWS),
                    s -> new Network(
                            s.whole(LAYERS),
                            s.text(UNITS).equals(BY_TABLE) ? 0 : s.whole(UNITS),
                            s.number(WEIGHT_DECAY),
                            s.whole(STEPS),
                            s.text(PATIENCE).equals(NEVER) ? 0 : s.whole(PATIENCE),
                            s.number(WatchedRows.WATCHED),
                            s.yes(ALL_ROWS)),
                    Optional.empty())
            .inTier(5, "many weights, none of which means anything alone");

    private NetworkKind() {}
}
