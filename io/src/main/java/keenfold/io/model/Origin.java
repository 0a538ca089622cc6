package keenfold.io.model;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.results.ModelScore;

/**
 * Where a model comes from.
 *
 * @param candidate its name in the plan
 * @param settings as they were, tuned ones as tuning chose them
 * @param data name of the data set
 * @param rows how many it was trained on
 * @param fingerprint of the data
 * @param plan the frozen plan as text
 * @param seed of the comparison
 * @param program which trained it
 * @param scores what is known of it
 */
public record Origin(
        String candidate,
        String settings,
        String data,
        int rows,
        String fingerprint,
        String plan,
        long seed,
        String program,
        List<ModelScore> scores) {
    /** Copies the scores. */
    public Origin {
        scores = List.copyOf(scores);
    }

    State state() {
        return State.of("origin")
                .with("candidate", candidate)
                .with("settings", settings)
                .with("data", data)
                .with("rows", rows)
                .with("fingerprint", fingerprint)
                .with("plan", plan)
                .with("seed", Long.toString(seed))
                .with("program", program)
                .withParts(
                        "scores",
                        scores.stream()
                                .map(s -> State.of("score")
                                        .with("metric", s.metric())
                                        .with("of", s.of())
                                        .with("mean", s.mean())
                                        .with("low", s.low())
                                        .with("high", s.high()))
                                .toList());
    }

    static Origin restored(State state) {
        List<ModelScore> scores = new ArrayList<>();
        for (State s : state.parts("scores")) {
            scores.add(new ModelScore(
                    s.text("metric"), s.text("of"), s.number("mean"), s.number("low"), s.number("high")));
        }
        return new Origin(
                state.text("candidate"),
                state.text("settings"),
                state.text("data"),
                state.whole("rows", 1, Integer.MAX_VALUE),
                state.text("fingerprint"),
                state.text("plan"),
                seed(state.text("seed")),
                state.text("program"),
                scores);
    }

    private static long seed(String text) {
        try {
            return Long.parseLong(text);
        } catch (NumberFormatException e) {
            throw Checks.wrong("its seed, \"" + text + "\", is not a whole number", e);
        }
    }
}
