package keenfold.core.run.pipeline;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;

/**
 * A recipe fitted to rows, from members and steps to calibration and threshold: raw columns to probabilities.
 *
 * <p>Whatever is fitted is fitted here: folds, tuning, members, calibration, importance, and the model that is trained at
 * last. What they share with others (prepared columns, a model of a joint fit, what all rows taught) is handed in.
 */
public final class Pipeline {
    private final Recipe recipe;
    private final Settings settings;
    private final Prepared prepared;
    private final Model model;
    private final PostProcessing finish;
    private final int classes;
    private final int positive;

    private Pipeline(
            Recipe recipe,
            Settings settings,
            Prepared prepared,
            Model model,
            PostProcessing finish,
            TrainingRows rows) {
        this.recipe = recipe;
        this.settings = settings;
        this.prepared = prepared;
        this.model = model;
        this.finish = finish;
        this.classes = rows.classes();
        this.positive = rows.rows().classes().positive();
    }

    /**
     * What a fit need not find by itself.
     *
     * @param model fitted already, together with others
     * @param whole what all rows of the data set taught the classifier
     */
    public record Known(Optional<Model> model, Optional<FullDataFit> whole) {
        public static final Known NOTHING = new Known(Optional.empty(), Optional.empty());
    }

    /**
     * Fits a candidate, from tuning to threshold, within its limit of time.
     *
     * @param scope the seed of everything that is fitted to these rows; the candidate's own is made of it and its family
     * @throws FitFailure if these rows give no model
     */
    static Pipeline of(Candidate candidate, TrainingRows rows, Seed scope) {
        return TimeLimit.within(candidate.timeLimit(), () -> {
            Seed own = own(candidate, scope);
            Settings settings = settings(candidate, rows, own);
            Prepared prepared = Prepared.of(candidate.recipe(), settings, rows, scope);
            return fit(
                    candidate.recipe(), settings, prepared, prepared.training().table(), rows, own, Known.NOTHING);
        });
    }

    /** The seed of a candidate's own draws: by the family, so that members that differ in one setting differ in no other. */
    public static Seed own(Candidate candidate, Seed scope) {
        return scope.with(candidate.seedName());
    }

    /** The settings that a candidate is fitted with: tuned where it is tuned. */
    public static Settings settings(Candidate candidate, TrainingRows rows, Seed own) {
        if (candidate.tuning().isEmpty()) {
            return candidate.settings();
        }
        Metric metric = candidate
                .tuning()
                .get()
                .metric()
                .bind(rows.rows().classes(), rows.rows().classCounts());
        return new Tuner(candidate, rows, metric, own).choose();
    }

    /**
     * Fits a recipe to rows whose columns are prepared.
     *
     * @param tested prepared rows that it is to predict, looked at only for what cannot be taken
     * @param rows the training rows, not prepared, of which calibration and threshold are learned
     */
    public static Pipeline fit(
            Recipe recipe,
            Settings settings,
            Prepared prepared,
            Table tested,
            TrainingRows rows,
            Seed own,
            Known known) {
        Model model = model(recipe, settings, prepared, tested, own, known);
        return new Pipeline(recipe, settings, prepared, model, PostProcessing.of(recipe, settings, rows, own), rows);
    }

    /** Fits a recipe without calibration and threshold, which learn from what it predicts. */
    static Pipeline plain(Recipe recipe, Settings settings, TrainingRows rows, Seed seed) {
        Prepared prepared = Prepared.of(recipe, settings, rows, seed);
        Model model = model(recipe, settings, prepared, prepared.training().table(), seed, Known.NOTHING);
        return new Pipeline(recipe, settings, prepared, model, PostProcessing.NONE, rows);
    }

    private static Model model(
            Recipe recipe, Settings settings, Prepared prepared, Table tested, Seed own, Known known) {
        if (known.model().isPresent()) {
            return known.model().get();
        }
        Training training = recipe.balanced(settings, prepared.training(), own);
        return recipe.fit(settings, training, tested, own.chance(), known.whole());
    }

    /**
     * Returns what it takes to predict, and nothing else.
     *
     * @throws IllegalArgumentException if the classifier cannot be kept
     */
    FittedPipeline predictor() {
        return new FittedPipeline(
                classes,
                positive,
                prepared.members(),
                prepared.memberColumns(),
                prepared.steps(),
                model,
                finish,
                recipe.kind().name(),
                recipe.classifier(settings).needs(),
                recipe.inForce(settings).values(),
                prepared.training().table().names(),
                size());
    }

    /** Returns the classifier as it was trained. */
    public Model model() {
        return model;
    }

    /** Returns what is done to its probabilities. */
    public PostProcessing finish() {
        return finish;
    }

    /** Returns class probabilities of raw rows, K each. */
    public double[] probabilities(Table raw) {
        Table table = prepared.apply(raw);
        recipe.classifier(settings).needs().require(table, recipe.kind().name());
        return ofPrepared(table);
    }

    /** Returns class probabilities of prepared rows, K each. */
    public double[] ofPrepared(Table table) {
        return finish.apply(model.probabilities(table), classes);
    }

    /**
     * Returns the outcomes of rows by their probabilities, which are kept as they are, to the bit.
     *
     * @param probabilities K per row, row after row
     * @throws FitFailure if one of them is none, or those of a row do not sum to 1
     */
    public Outcomes outcomes(int fold, int[] rows, int[] actual, double[] probabilities) {
        requireProbabilities(probabilities, classes);
        Outcomes plain = Outcomes.of(classes, fold, rows, actual, probabilities);
        return finish.threshold().isPresent()
                ? plain.withThreshold(positive, finish.threshold().getAsDouble())
                : plain;
    }

    private static void requireProbabilities(double[] probabilities, int classes) {
        for (int from = 0; from < probabilities.length; from += classes) {
            double sum = 0;
            for (int c = 0; c < classes; c++) {
                double p = probabilities[from + c];
                if (!Outcomes.isProbability(p)) {
                    throw new FitFailure("the model gave a probability of " + p);
                }
                sum += p;
            }
            if (!Outcomes.isWhole(sum)) {
                throw new FitFailure("the model gave a row probabilities that sum to " + sum + ", and not to 1");
            }
        }
    }

    /**
     * Returns what the model itself says of columns of the data, adding up to 1: the weights of all that was made of a
     * column together; empty if it says nothing, or if something was made of several columns.
     *
     * @param raw columns of the data
     */
    public Map<String, Double> ownWeights(Table raw) {
        List<ColumnOrigin> columns = ColumnOrigin.of(prepared.steps(), prepared.memberColumns(), raw);
        double[] weights = model.columnWeights(columns.size());
        Map<String, Double> own = new TreeMap<>();
        double total = 0;
        for (int j = 0; j < weights.length; j++) {
            if (weights.length != columns.size() || columns.get(j).raw().isEmpty()) {
                return Map.of();
            }
            own.merge(columns.get(j).raw(), weights[j], Double::sum);
            total += weights[j];
        }
        double all = total;
        own.replaceAll((name, weight) -> all > 0 ? weight / all : 0);
        return own;
    }

    /** Returns the effective number of parameters, before it is capped. */
    double size() {
        return model.size() + prepared.largest() + finish.parameters(classes);
    }

    /** Returns the effective number of parameters, at most (K − 1) times the weight of the training rows. */
    public double sizeUpTo(double weight) {
        return Math.min(size(), (classes - 1) * weight);
    }
}
