package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.classify.Calibration;
import keenfold.core.classify.Model;
import keenfold.core.classify.catalog.Models;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.learned.CalibrationCurve;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.OutsideModel;
import keenfold.core.learned.WordCounts;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Needs;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Splits;

/**
 * A candidate trained on rows, with all that it takes to predict others: members, steps, classifier, calibration, threshold.
 *
 * <p>Its {@link #state} can be kept; one that is made again of it gives the same probabilities to the last bit. Immutable;
 * for any number of threads, one at a time for those that search training rows.
 */
public final class FittedPipeline {
    private final int classes;
    private final int positive;
    private final List<FittedPipeline> members;
    private final MemberColumns memberColumns;
    private final List<LearnedStep> steps;
    private final Model model;
    private final PostProcessing finish;
    private final String classifier;
    private final Needs needs;
    private final Map<String, String> settings;
    private final List<String> prepared;
    private final double size;

    FittedPipeline(
            int classes,
            int positive,
            List<FittedPipeline> members,
            MemberColumns memberColumns,
            List<LearnedStep> steps,
            Model model,
            PostProcessing finish,
            String classifier,
            Needs needs,
            Map<String, String> settings,
            List<String> prepared,
            double size) {
        this.classes = classes;
        this.positive = positive;
        this.members = List.copyOf(members);
        this.memberColumns = memberColumns;
        this.steps = List.copyOf(steps);
        this.model = model;
        this.finish = finish;
        this.classifier = classifier;
        this.needs = needs;
        this.settings = Collections.unmodifiableMap(new LinkedHashMap<>(settings));
        this.prepared = List.copyOf(prepared);
        this.size = size;
    }

    /**
     * Trains a candidate on all rows of a data set, as it is trained on the training side of a fold: tuning, calibration and
     * threshold are learned inside these rows.
     *
     * @param like how the comparison divides rows, which inner divisions follow
     * @param seed of the comparison
     * @throws keenfold.core.learned.FitFailure if these rows give no model
     * @throws IllegalArgumentException if the classifier cannot be kept
     */
    public static FittedPipeline train(Candidate candidate, DataSet rows, Splits like, long seed) {
        return train(candidate, rows, like, seed, Models::ofKind);
    }

    /**
     * Trains a candidate on all rows of a data set.
     *
     * @param outside makes models of kinds from outside again: one that another program makes is trained once, to be kept,
     *     and what is kept of it predicts from then on
     */
    public static FittedPipeline train(
            Candidate candidate, DataSet rows, Splits like, long seed, Function<OutsideModel, Model> outside) {
        double[] ones = new double[rows.rows()];
        Arrays.fill(ones, 1);
        Seed scope = new Seed(seed).with("fit").with("all");
        FittedPipeline made = Pipeline.of(candidate, new TrainingRows(rows, ones, like), scope)
                .predictor();
        State state = made.state();
        return made.asksAnotherProgram() ? restored(state, rows.features().select(new int[0]), outside) : made;
    }

    /** Returns whether another program makes its predictions, or those of a member. */
    public boolean asksAnotherProgram() {
        return model.asksAnotherProgram() || members.stream().anyMatch(FittedPipeline::asksAnotherProgram);
    }

    /** Returns the number of classes, K. */
    public int classes() {
        return classes;
    }

    /** Returns the index of the positive class. */
    public int positive() {
        return positive;
    }

    /** Returns the name of the classifier. */
    public String classifier() {
        return classifier;
    }

    /** Returns the settings that were given, tuned ones as tuning chose them; those of steps as {@code STEP.SETTING}. */
    public Map<String, String> settings() {
        return settings;
    }

    /** Returns the members whose predictions it is handed, none for most. */
    public List<FittedPipeline> members() {
        return members;
    }

    /** Returns the names of the members. */
    public List<String> memberNames() {
        return memberColumns.members();
    }

    /** Returns whether members give it a column for each class, and not for each but the first. */
    public boolean everyClass() {
        return memberColumns.everyClass();
    }

    /** The columns that the members make. */
    MemberColumns memberColumns() {
        return memberColumns;
    }

    /**
     * Returns the columns whose texts are read for their words, so that a value that was not trained on says something too.
     *
     * @param columns of the data
     */
    public Set<String> textColumns(Table columns) {
        Set<String> texts = new LinkedHashSet<>();
        members.forEach(m -> texts.addAll(m.textColumns(columns)));
        Table at = members.isEmpty() ? columns.select(new int[0]) : new Table(0, List.of());
        for (LearnedStep step : members.isEmpty() ? steps : List.<LearnedStep>of()) {
            if (step instanceof LearnedStep.ColumnByColumn each) {
                for (int j = 0; j < each.transforms().size(); j++) {
                    if (each.transforms().get(j) instanceof WordCounts) {
                        texts.add(at.columns().get(j).name());
                    }
                }
            }
            at = step.apply(at);
        }
        return texts;
    }

    /** Returns the fitted steps in order. */
    public List<LearnedStep> steps() {
        return steps;
    }

    /** Returns the classifier as it was trained. */
    public Model model() {
        return model;
    }

    /** Returns the names of the columns that the classifier is handed. */
    public List<String> prepared() {
        return prepared;
    }

    /** Returns what the classifier learned; of a predictor that can be kept alone. */
    public LearnedModel learned() {
        return model.learned().orElseThrow();
    }

    /** Returns the curves by which probabilities are calibrated: none, one for the second class of two, or one a class. */
    public List<CalibrationCurve> curves() {
        return finish.calibration().map(Calibration::curves).orElse(List.of());
    }

    /** Returns from which probability on the positive class is predicted, if not where it is the most probable. */
    public OptionalDouble threshold() {
        return finish.threshold();
    }

    /** Returns the effective number of parameters; NaN if it is not known. */
    public double size() {
        return size;
    }

    /**
     * Returns class probabilities.
     *
     * @param raw rows with the columns of the training rows, in their order and of their kinds
     * @return K values per row, row after row
     * @throws keenfold.core.learned.FitFailure if a row cannot be predicted, with the reason
     */
    public double[] probabilities(Table raw) {
        Table table = members.isEmpty()
                ? raw
                : memberColumns.table(
                        members.stream().map(m -> m.probabilities(raw)).toList(), raw.rows());
        for (LearnedStep step : steps) {
            table = step.apply(table);
        }
        needs.require(table, classifier);
        return finish.apply(model.probabilities(table), classes);
    }

    /**
     * Returns the outcomes of rows whose class is known.
     *
     * @param target class index per row
     */
    public Outcomes outcomes(Table raw, int[] target) {
        int[] rows = new int[target.length];
        Arrays.setAll(rows, i -> i);
        Outcomes plain = Outcomes.of(classes, 0, rows, target, probabilities(raw));
        return threshold().isPresent()
                ? plain.withThreshold(positive, threshold().getAsDouble())
                : plain;
    }

    /** Returns the predicted class of each row, by the threshold if there is one. */
    public int[] labels(double[] probabilities) {
        int n = probabilities.length / classes;
        Outcomes plain = Outcomes.of(classes, 0, new int[n], new int[n], probabilities);
        return (threshold().isPresent()
                        ? plain.withThreshold(positive, threshold().getAsDouble())
                        : plain)
                .labels();
    }

    /**
     * Returns all that it learned.
     *
     * @throws IllegalArgumentException if the classifier cannot be kept
     */
    public State state() {
        Optional<LearnedModel> own = model.learned();
        Checks.that(
                own.isPresent(),
                "a trained %s cannot be kept in a file: what it learned is known to its own program alone",
                classifier);
        State state = State.of("predictor")
                .with("classes", classes)
                .with("positive", positive)
                .with("classifier", classifier)
                .with("no-missing", needs.noMissing())
                .with("numbers-only", needs.numbersOnly())
                .with("size", size)
                .withTexts("setting-names", List.copyOf(settings.keySet()))
                .withTexts("setting-values", List.copyOf(settings.values()))
                .withTexts("prepared", prepared)
                .withTexts("member-names", memberColumns.members())
                .with("every-class", memberColumns.everyClass())
                .withParts(
                        "members", members.stream().map(FittedPipeline::state).toList())
                .withParts("steps", steps.stream().map(LearnedStep::state).toList())
                .with("model", own.orElseThrow().state());
        if (finish.calibration().isPresent()) {
            state = state.with("calibration", finish.calibration().get().state());
        }
        return finish.threshold().isPresent()
                ? state.with("threshold", finish.threshold().getAsDouble())
                : state;
    }

    /**
     * Makes a predictor again. It is tried on a row of nothing, so that one that cannot predict is refused here.
     *
     * @param columns the columns of the training rows, without rows
     * @throws IllegalArgumentException if the state is none of a predictor of these columns
     */
    public static FittedPipeline restored(State state, Table columns) {
        return restored(state, columns, Models::ofKind);
    }

    /**
     * Makes a predictor again.
     *
     * @param columns the columns of the training rows, without rows
     * @param outside makes models of kinds from outside
     * @throws IllegalArgumentException if the state is none of a predictor of these columns
     */
    public static FittedPipeline restored(State state, Table columns, Function<OutsideModel, Model> outside) {
        Checks.that(state.kind().equals("predictor"), "\"%s\" is no predictor", state.kind());
        int classes = state.whole("classes", 2, 1_000_000);
        List<String> names = state.texts("member-names");
        List<FittedPipeline> members = new ArrayList<>();
        for (State member : state.parts("members")) {
            FittedPipeline one = restored(member, columns, outside);
            Checks.that(one.classes == classes, "a member of %d classes among %d", one.classes, classes);
            members.add(one);
        }
        Checks.that(names.size() == members.size(), "%d names of %d members", names.size(), members.size());
        List<LearnedStep> steps =
                state.parts("steps").stream().map(LearnedStep::of).toList();
        MemberColumns memberColumns = new MemberColumns(names, classes, state.truth("every-class"));
        Table none = members.isEmpty() ? columns : memberColumns.blank(0);
        List<String> prepared = state.texts("prepared");
        try {
            for (LearnedStep step : steps) {
                none = step.apply(none);
            }
        } catch (IndexOutOfBoundsException | ClassCastException e) {
            throw Checks.wrong("steps that do not suit the columns", e);
        }
        Checks.that(none.names().equals(prepared), "steps make columns %s, not %s", none.names(), prepared);
        Model model = Models.restored(LearnedModel.of(state.part("model"), prepared.size()), outside);
        PostProcessing finish = new PostProcessing(
                state.has("calibration")
                        ? Optional.of(Calibration.restored(state.part("calibration"), classes))
                        : Optional.empty(),
                state.has("threshold") ? OptionalDouble.of(state.number("threshold")) : OptionalDouble.empty());
        Checks.that(finish.threshold().isEmpty() || classes == 2, "a threshold for %d classes", classes);
        FittedPipeline made = new FittedPipeline(
                classes,
                state.whole("positive", 0, classes - 1),
                members,
                memberColumns,
                steps,
                model,
                finish,
                state.text("classifier"),
                new Needs(state.truth("no-missing"), state.truth("numbers-only"), false),
                settings(state),
                prepared,
                state.number("size"));
        if (model.asksAnotherProgram()) {
            return made;
        }
        int given;
        try {
            given = model.probabilities(row(none)).length;
        } catch (RuntimeException e) {
            throw Checks.wrong("a classifier that cannot predict: " + e.getMessage(), e);
        }
        Checks.that(given == classes, "a classifier of %d classes, where there are %d", given, classes);
        return made;
    }

    private static Map<String, String> settings(State state) {
        List<String> names = state.texts("setting-names");
        List<String> values = state.texts("setting-values");
        Checks.that(names.size() == values.size(), "%d settings with %d values", names.size(), values.size());
        Map<String, String> settings = new LinkedHashMap<>();
        for (int i = 0; i < names.size(); i++) {
            settings.put(names.get(i), values.get(i));
        }
        return settings;
    }

    /** A row of zeros and first levels. */
    private static Table row(Table columns) {
        List<Column> one = new ArrayList<>();
        for (Column c : columns.columns()) {
            one.add(c.match(
                    n -> Numbers.owning(n.name(), new double[1]),
                    k -> Categories.ofCodes(
                            k.name(), k.levels(), new int[] {k.levels().isEmpty() ? -1 : 0})));
        }
        return new Table(1, one);
    }
}
