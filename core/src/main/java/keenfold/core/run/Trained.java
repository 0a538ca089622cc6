package keenfold.core.run;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import keenfold.core.classify.Model;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
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
    private final List<String> columnsSeen;

    private Trained(
            Recipe recipe,
            Settings settings,
            Columns columns,
            Preparation preparation,
            Model model,
            Finish finish,
            List<String> columnsSeen) {
        this.recipe = recipe;
        this.settings = settings;
        this.columns = columns;
        this.preparation = preparation;
        this.model = model;
        this.finish = finish;
        this.columnsSeen = columnsSeen;
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
        return new Trained(
                plain.recipe, plain.settings, plain.columns, plain.preparation, plain.model, finish, plain.columnsSeen);
    }

    /** Trains a recipe without calibration and threshold. */
    static Trained plain(Recipe recipe, Settings settings, DataSet rows, double[] weights, Splits outer, Seed seed) {
        Columns columns = Columns.of(recipe, settings, rows, weights, outer, seed);
        Preparation preparation = Preparation.fit(recipe.steps(settings), columns.training());
        Training training = recipe.balanced(settings, preparation.training(), seed);
        Model model = recipe.fit(settings, training, training.table(), seed.chance());
        return new Trained(
                recipe,
                settings,
                columns,
                preparation,
                model,
                Finish.NONE,
                training.table().names());
    }

    /**
     * Returns what it takes to predict, and nothing else.
     *
     * @throws IllegalArgumentException if the classifier cannot be kept
     */
    Predictor predictor(DataSet rows) {
        return new Predictor(
                rows.classes().count(),
                rows.classes().positive(),
                columns.predictors(rows),
                columns.memberNames(),
                preparation.steps(),
                model,
                finish,
                recipe.kind().name(),
                recipe.classifier(settings).needs(),
                settings.values(),
                columnsSeen,
                size(rows.classes().count()));
    }

    /** Returns class probabilities of raw rows, K each. */
    double[] probabilities(Table raw, int classes) {
        Table prepared = preparation.apply(columns.apply(raw));
        recipe.classifier(settings).needs().require(prepared, recipe.kind().name());
        return finish.apply(model.probabilities(prepared), classes);
    }

    /** Returns the outcomes of raw rows. */
    Outcomes outcomes(int fold, int[] rows, int[] target, Table raw, int classes, int positive) {
        Outcomes plain = Outcomes.of(classes, fold, rows, target, probabilities(raw, classes));
        return finish.threshold().isPresent()
                ? plain.withThreshold(positive, finish.threshold().getAsDouble())
                : plain;
    }

    /**
     * Returns what the model itself says of raw columns, adding up to 1: the weights of all that was made of a column
     * together; empty if it says nothing, or if what was made of several columns cannot be told apart.
     */
    Map<String, Double> ownWeights(List<String> raw) {
        List<String> prepared = columnsSeen;
        double[] weights = model.columnWeights(prepared.size());
        Map<String, Double> own = new TreeMap<>();
        double total = 0;
        for (int j = 0; j < weights.length; j++) {
            Optional<String> source =
                    weights.length == prepared.size() ? source(prepared.get(j), raw) : Optional.empty();
            if (source.isEmpty()) {
                return Map.of();
            }
            own.merge(source.get(), weights[j], Double::sum);
            total += weights[j];
        }
        double all = total;
        own.replaceAll((name, weight) -> all > 0 ? weight / all : 0);
        return own;
    }

    /** The raw column that a prepared one was made of: its own name, or NAME=LEVEL and the like. */
    private static Optional<String> source(String prepared, List<String> raw) {
        return raw.stream()
                .filter(name -> prepared.equals(name) || (prepared.startsWith(name + "=") && !prepared.contains(" x ")))
                .max(java.util.Comparator.comparingInt(String::length));
    }

    /** Returns the effective number of parameters, before it is capped. */
    double size(int classes) {
        return model.size() + columns.largest() + finish.parameters(classes);
    }
}
