package keenfold.core.learned;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * A logistic regression. With present classes a and b one row of coefficients gives the log-odds of b; with more, one row a
 * class gives scores whose softmax are the probabilities.
 *
 * @param classes K, with or without training rows
 * @param present the classes that had training rows
 * @param coefficients rows of one number per column and the intercept last
 * @param size effective number of parameters
 */
public record LogisticCoefficients(int classes, List<Integer> present, List<Vector> coefficients, double size)
        implements LearnedModel {
    static final String KIND = "logistic";

    /** Copies the lists. */
    public LogisticCoefficients {
        present = List.copyOf(present);
        coefficients = List.copyOf(coefficients);
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .withWholes("present", present)
                .withRows("coefficients", coefficients)
                .with("size", size);
    }

    static LogisticCoefficients of(State state, int columns) {
        int classes = LearnedModel.classes(state);
        List<Integer> present = LearnedModel.present(state, classes);
        List<Vector> rows = state.rows("coefficients", columns + 1);
        Checks.that(
                rows.size() == (present.size() <= 2 ? 1 : present.size()),
                "logistic, \"coefficients\": %d rows for %d classes",
                rows.size(),
                present.size());
        return new LogisticCoefficients(classes, present, rows, state.number("size"));
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.logisticCoefficients(this);
    }
}
