package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * Support vector machines, one for each pair of present classes, with their calibration. Of a row x, divided by {@link
 * #scale}, the margin of a pair is Σ coefficient·kernel(x, support) and its bias, or of a linear kernel Σ coefficient·x and
 * its bias.
 *
 * @param classes K, with or without training rows
 * @param present the classes that had training rows, two or more
 * @param shape of the kernel
 * @param width of the kernel in columns' units; 0 is the square root of the number of columns
 * @param degree of a polynomial kernel
 * @param pairs in the order (1, 2), (1, 3), … (2, 3), … of the present classes
 * @param support support vectors, divided by {@link #scale}; none of a linear kernel
 * @param coefficients a row per pair, of one number per support vector, or per column of a linear kernel
 * @param size effective number of parameters
 */
public record SupportVectors(
        int classes,
        List<Integer> present,
        Shape shape,
        double width,
        int degree,
        List<Pair> pairs,
        List<Vector> support,
        List<Vector> coefficients,
        double size)
        implements LearnedModel {
    static final String KIND = "svm";

    /** The family of a kernel. */
    public enum Shape {
        /** x·z. */
        LINEAR,
        /** exp(−|x − z|²/2) of columns divided by the width. */
        RADIAL,
        /** (1 + x·z)^degree of columns divided by the width. */
        POLYNOMIAL
    }

    /**
     * What tells two classes apart: the second has the probability 1/(1 + exp(−(slope·margin + offset))).
     *
     * @param first place of the one class among those present
     * @param second place of the other, of which positive margins speak
     * @param bias of the margin
     * @param slope of the calibration
     * @param offset of the calibration
     */
    public record Pair(int first, int second, double bias, double slope, double offset) {
        private State state() {
            return State.of("pair")
                    .with("first", first)
                    .with("second", second)
                    .with("bias", bias)
                    .with("slope", slope)
                    .with("offset", offset);
        }

        private static Pair of(State state, int present) {
            int first = state.whole("first", 0, present - 1);
            return new Pair(
                    first,
                    state.whole("second", first + 1, present - 1),
                    state.number("bias"),
                    state.number("slope"),
                    state.number("offset"));
        }
    }

    /** Copies the lists. */
    public SupportVectors {
        present = List.copyOf(present);
        pairs = List.copyOf(pairs);
        support = List.copyOf(support);
        coefficients = List.copyOf(coefficients);
    }

    /** Returns whether the kernel is linear. */
    public boolean linear() {
        return shape == Shape.LINEAR;
    }

    /** Returns what prepared columns are divided by, of so many of them. */
    public double scale(int columns) {
        return scale(shape, width, columns);
    }

    /** Returns what columns are divided by: 1 of a linear kernel, else the width, else the root of their number. */
    public static double scale(Shape shape, double width, int columns) {
        return shape == Shape.LINEAR ? 1 : width > 0 ? width : Math.sqrt(Math.max(1, columns));
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withWholes("present", present)
                .with("shape", shape.name())
                .with("width", width)
                .with("degree", degree)
                .withParts("pairs", pairs.stream().map(Pair::state).toList())
                .withRows("support", support)
                .withRows("coefficients", coefficients)
                .with("size", size);
    }

    static SupportVectors of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> present = LearnedModel.present(state, classes);
        Shape shape = state.named("shape", Shape.class);
        List<Pair> pairs = state.parts("pairs").stream()
                .map(p -> Pair.of(p, present.size()))
                .toList();
        Checks.that(
                present.size() > 1 && pairs.size() == present.size() * (present.size() - 1) / 2,
                "svm: %d pairs of %d classes",
                pairs.size(),
                present.size());
        List<Vector> support = state.rows("support", columns);
        List<Vector> coefficients = state.rows("coefficients", shape == Shape.LINEAR ? columns : support.size());
        Checks.that(coefficients.size() == pairs.size(), "svm: %d rows of coefficients", coefficients.size());
        double width = state.number("width");
        Checks.atLeast("width", width, 0);
        return new SupportVectors(
                classes,
                present,
                shape,
                width,
                state.whole("degree", 1, MOST),
                pairs,
                support,
                coefficients,
                state.number("size"));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.supportVectors(this);
    }
}
