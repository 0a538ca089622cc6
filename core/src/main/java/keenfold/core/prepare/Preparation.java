package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;

/** A fitted sequence of steps, with the training rows as the last of them left them. */
public final class Preparation {
    private final List<LearnedStep> fitted;
    private final Training training;

    private Preparation(List<LearnedStep> fitted, Training training) {
        this.fitted = fitted;
        this.training = training;
    }

    /**
     * Fits the steps one after another, each on what the ones before made of the training rows.
     *
     * @param seed of what steps draw, such as inner folds
     * @throws FitFailure if a step cannot learn from these rows
     */
    public static Preparation fit(List<Step> steps, Training training, Seed seed) {
        List<LearnedStep> fitted = new ArrayList<>();
        Training prepared = training;
        for (Step step : steps) {
            FitFailure.ifInterrupted();
            if (step.concerns(prepared.table())) {
                LearnedStep one = step.fit(prepared);
                prepared = prepared.with(step.ofTraining(one, prepared, seed));
                fitted.add(one);
            }
        }
        return new Preparation(List.copyOf(fitted), prepared);
    }

    /** Returns the fitted steps in order. */
    public List<LearnedStep> steps() {
        return fitted;
    }

    /** Returns the prepared training rows. */
    public Training training() {
        return training;
    }

    /** Returns other rows, prepared with what was learned from the training rows. */
    public Table apply(Table table) {
        Table prepared = table;
        for (LearnedStep step : fitted) {
            prepared = step.apply(prepared);
        }
        return prepared;
    }
}
