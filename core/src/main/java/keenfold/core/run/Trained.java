package keenfold.core.run;

import keenfold.core.classify.Model;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Metric;
import keenfold.core.prepare.FitFailure;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.split.Splits;

/** A recipe fitted to rows, from tuning to threshold: raw columns to probabilities. */
final class Trained {
    private final Recipe recipe;
    private final Settings settings;
    private final Columns columns;
    private final Preparation preparation;
    private final Model model;
    private final Finish finish;

    private Trained(
            Recipe recipe, Settings settings, Columns columns, Preparation preparation, Model model, Finish finish) {
        this.recipe = recipe;
        this.settings = settings;
        this.columns = columns;
        this.preparation = preparation;
        this.model = model;
        this.finish = finish;
    }

    /**
     * Trains a candidate as it is trained in a fold.
     *
     * @param rows the training rows
     * @param weights case weight per row
     * @param outer how the comparison divides rows
     * @throws FitFailure if these rows give no model
     */
    static Trained of(Candidate candidate, DataSet rows, double[] weights, Splits outer, Seed seed) {
        return TimeLimit.within(candidate.timeLimit(), () -> unlimited(candidate, rows, weights, outer, seed));
    }

    private static Trained unlimited(Candidate candidate, DataSet rows, double[] weights, Splits outer, Seed seed) {
        Settings settings = candidate.settings();
        if (candidate.tuning().isPresent()) {
            Metric metric = candidate.tuning().get().metric().bind(rows.classes(), rows.classCounts());
            settings = new Tuner(candidate, rows, weights, outer, metric, seed).choose();
        }
        Trained plain = plain(candidate.recipe(), settings, rows, weights, outer, seed);
        Finish finish = Finish.of(candidate.recipe(), settings, rows, weights, outer, seed);
        return new Trained(plain.recipe, plain.settings, plain.columns, plain.preparation, plain.model, finish);
    }

    /** Trains a recipe without calibration and threshold. */
    static Trained plain(Recipe recipe, Settings settings, DataSet rows, double[] weights, Splits outer, Seed seed) {
        Columns columns = Columns.of(recipe, settings, rows, weights, outer, seed);
        Preparation preparation = Preparation.fit(recipe.steps(settings), columns.training());
        Training training = recipe.balanced(settings, preparation.training(), seed);
        Model model = recipe.fit(settings, training, training.table(), seed.chance());
        return new Trained(recipe, settings, columns, preparation, model, Finish.NONE);
    }

    /** Returns class probabilities of raw rows, K each. */
    double[] probabilities(Table raw, int classes) {
        Table prepared = preparation.apply(columns.apply(raw));
        recipe.classifier(settings).needs().require(prepared, recipe.kind().name());
        return finish.apply(model.probabilities(prepared), classes);
    }

    /** Returns the effective number of parameters, before it is capped. */
    double size(int classes) {
        return model.size() + columns.largest() + finish.parameters(classes);
    }
}
