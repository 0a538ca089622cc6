package keenfold.core.learned;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;

/**
 * The training rows among which the nearest ones vote.
 *
 * @param classes K, with or without training rows
 * @param neighbours how many vote, at least 1
 * @param distance how far two rows are apart
 * @param byDistance whether votes count 1/distance
 * @param targets class index per row
 * @param weights case weight per row
 * @param rows prepared columns of the training rows
 */
public record NearestRows(
        int classes,
        int neighbours,
        Distance distance,
        boolean byDistance,
        List<Integer> targets,
        Vector weights,
        Table rows)
        implements LearnedModel {
    static final String KIND = "nearest";

    /** How far two rows x and z are apart. */
    public enum Distance {
        /** √Σ(x − z)². */
        EUCLIDEAN,
        /** Σ|x − z|. */
        MANHATTAN,
        /** max|x − z|. */
        CHEBYSHEV,
        /** The mean over columns that both have of |x − z|/range for numbers, 0 or 1 for levels (Gower 1971). */
        MIXED
    }

    /** Copies the list. */
    public NearestRows {
        targets = List.copyOf(targets);
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .with("neighbours", neighbours)
                .with("distance", distance.name())
                .with("by-distance", byDistance)
                .withWholes("targets", targets)
                .with("weights", weights)
                .withParts(
                        "columns",
                        rows.columns().stream().map(NearestRows::state).toList());
    }

    private static State state(Column column) {
        return column.match(n -> State.of("numbers").with("of", n.toArray()), x -> State.of("codes")
                .withTexts("levels", x.levels())
                .with("of", IntStream.range(0, x.rows()).map(x::code).toArray()));
    }

    static NearestRows of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> targets = state.wholes("targets", 0, classes - 1);
        List<Column> own = new ArrayList<>();
        List<State> parts = state.parts("columns");
        LearnedModel.requireColumns(state, parts.size(), columns);
        for (int c = 0; c < parts.size(); c++) {
            own.add(column(parts.get(c), Integer.toString(c)));
        }
        return new NearestRows(
                classes,
                state.whole("neighbours", 1, Integer.MAX_VALUE),
                state.named("distance", Distance.class),
                state.truth("by-distance"),
                targets,
                state.numbers("weights"),
                new Table(targets.size(), own));
    }

    private static Column column(State state, String name) {
        return state.kind().equals("codes")
                ? Categories.ofCodes(
                        name,
                        state.texts("levels"),
                        state.wholes("of", -1, MOST).stream()
                                .mapToInt(Integer::intValue)
                                .toArray())
                : Numbers.owning(name, state.numbers("of").toArray());
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.nearestRows(this);
    }
}
