package keenfold.core.run.candidate;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.WrapperKind;
import keenfold.core.data.Checks;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.data.ValueException;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.metric.catalog.MetricLimit;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.LabelWeights;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.Training;
import keenfold.core.prepare.step.DropTexts;
import keenfold.core.prepare.step.StepKinds;

/**
 * What a candidate is made of, but for the values of its settings.
 *
 * @param prepare the steps that the plan names; absent if the classifier gets those that it needs
 * @param kind the classifier
 * @param wrappers what it is wrapped in, in the order of {@link WrapperKind#all}
 * @param members the candidates whose predictions it is trained on, if its kind is
 * @param costs of predictions, for a threshold that is found for the metric cost
 */
public record Recipe(
        Optional<StepLists> prepare,
        ClassifierKind kind,
        List<WrapperKind> wrappers,
        List<Candidate> members,
        Costs costs) {
    /** Copies the lists. */
    public Recipe {
        wrappers = List.copyOf(wrappers);
        members = List.copyOf(members);
        boolean wants = kind.input() != ClassifierKind.Input.COLUMNS;
        Checks.that(!wants || members.size() >= 2, "%s needs two or more members", kind.name());
    }

    /** Returns a recipe without members, of one list of steps at most. */
    public Recipe(Optional<List<StepUse>> prepare, ClassifierKind kind, List<WrapperKind> wrappers) {
        this(prepare.map(StepLists::single), kind, wrappers, List.of(), Costs.NONE);
    }

    /** Returns the metric that a threshold is found for. */
    public MetricName thresholdMetric(Settings all) {
        return MetricName.parse(text(all, WrapperKind.THRESHOLD, "for")).withCosts(costs);
    }

    /** Returns a classifier that gets the steps that it needs. */
    public static Recipe of(ClassifierKind kind) {
        return new Recipe(Optional.empty(), kind, List.of());
    }

    /**
     * Makes the classifier.
     *
     * @param all settings of steps and classifier; those of steps as {@code STEP.SETTING}
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    public Classifier classifier(Settings all) {
        return kind.make(all.plain());
    }

    /**
     * Fits several settings to the same prepared rows at once, where that shares work.
     *
     * @param tested the prepared rows that they are to predict, looked at only for what cannot be taken
     * @return a model per settings; none at all where nothing is shared, or where a member has to say why it fails
     */
    public List<Model> together(List<Settings> all, Training prepared, Table tested, Seed seed) {
        for (Settings each : all) {
            Needs needs = classifier(each).needs();
            if (!needs.met(prepared.table()) || !needs.met(tested)) {
                return List.of();
            }
        }
        boolean alike = all.stream()
                        .map(s -> s.of(WrapperKind.BALANCE.name()))
                        .distinct()
                        .count()
                == 1;
        return alike
                ? kind.fitTogether(
                        all.stream().map(Settings::plain).toList(), balanced(all.get(0), prepared, seed), seed::chance)
                : List.of();
    }

    /** Fits the classifier to prepared rows, from the beginning. */
    public Model fit(Settings all, Training prepared, Table tested, RandomSource chance) {
        return fit(all, prepared, tested, chance, Optional.empty());
    }

    /**
     * Fits the classifier to prepared rows.
     *
     * @param tested the prepared rows that it is to predict, looked at only for what cannot be taken
     * @param whole what all rows taught the classifier, if that is to be used
     * @throws FitFailure if these rows give no model
     */
    public Model fit(Settings all, Training prepared, Table tested, RandomSource chance, Optional<FullDataFit> whole) {
        Classifier classifier = classifier(all);
        classifier.needs().require(prepared.table(), kind.name());
        classifier.needs().require(tested, kind.name());
        return whole.flatMap(w -> w.near(prepared)).orElseGet(() -> classifier.fit(prepared, chance));
    }

    /**
     * Makes the steps.
     *
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    public List<Step> steps(Settings all) {
        return steps(uses(all), all);
    }

    /** Behind the last step that reads texts, or before all others, what is left of them goes. */
    private List<Step> steps(List<StepUse> uses, Settings all) {
        List<Step> steps =
                new ArrayList<>(uses.stream().map(use -> use.make(all)).toList());
        if (!classifier(all).readsTexts()) {
            List<StepKind> kinds = uses.stream().map(StepUse::kind).toList();
            steps.add(kinds.lastIndexOf(StepKinds.WORDS) + 1, new DropTexts());
        }
        return List.copyOf(steps);
    }

    /** Returns what settings must agree in for the prepared columns to be the same. */
    public Object columnsKey(Settings all) {
        return kind.input() == ClassifierKind.Input.COLUMNS
                ? steps(all)
                : List.of(steps(all), all.plain().values());
    }

    /** Returns every list of steps that can be in force, made. */
    public List<List<Step>> stepLists(Settings all) {
        return prepare.isPresent() && !all.values().containsKey(StepLists.SETTING)
                ? prepare.get().byName().values().stream()
                        .map(uses -> steps(uses, all))
                        .toList()
                : List.of(steps(all));
    }

    /** Returns the same with other lists of steps. */
    public Recipe withLists(StepLists lists) {
        return new Recipe(Optional.of(lists), kind, wrappers, members, costs);
    }

    /** Returns settings without those of lists of steps that are not in force. */
    public Settings inForce(Settings all) {
        return prepare.map(lists -> lists.settingsAlone(all)).orElse(all);
    }

    /** Returns the steps as a reader is to see them. */
    public List<String> stepTexts(Settings all) {
        return uses(all).stream().map(use -> use.text(all)).toList();
    }

    private List<StepUse> uses(Settings all) {
        return prepare.map(lists -> lists.inForce(all))
                .orElseGet(() -> StepUse.of(StepKinds.neededBy(classifier(all).needs())));
    }

    /** Returns the setting of a name, {@code STEP.SETTING} if it is a step's. */
    public Optional<Setting> setting(String name) {
        int dot = name.lastIndexOf('.');
        if (dot < 0) {
            return kind.setting(name);
        }
        String part = name.substring(0, dot);
        Optional<WrapperKind> wrapper =
                wrappers.stream().filter(w -> w.name().equals(part)).findFirst();
        return wrapper.isPresent()
                ? wrapper.get().setting(name.substring(dot + 1))
                : prepare.stream()
                        .flatMap(lists -> lists.all().stream())
                        .flatMap(use -> setting(use, name, dot))
                        .findFirst();
    }

    /** Returns the bound that a threshold is to keep, if there is one. */
    public Optional<MetricLimit> thresholdLimit(Settings all) {
        String where = text(all, WrapperKind.THRESHOLD, "where");
        return where.isBlank() ? Optional.empty() : Optional.of(MetricLimit.parse(where));
    }

    /** Returns whether the classifier is wrapped in something. */
    public boolean has(WrapperKind wrapper) {
        return wrappers.contains(wrapper);
    }

    /** Returns the value of a wrapper's setting. */
    public String text(Settings all, WrapperKind wrapper, String setting) {
        return all.of(wrapper.name()).text(wrapper.setting(setting).orElseThrow());
    }

    /**
     * Checks the settings of all parts by making them.
     *
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    void check(Settings all) {
        steps(all);
        classifier(all);
        for (WrapperKind wrapper : wrappers) {
            Setting.checkAll(wrapper.name(), wrapper.settings(), all.of(wrapper.name()));
        }
        StepKinds.requireDatesAsTheyAre(uses(all).stream().map(StepUse::kind).toList());
        Checks.that(
                !has(WrapperKind.BALANCE)
                        || namedWeights(all).isEmpty()
                        || text(all, WrapperKind.BALANCE, "by").equals("weights"),
                "balance: of goes with by: weights; resampling makes classes equal");
        if (has(WrapperKind.THRESHOLD)) {
            MetricName metric = thresholdMetric(all);
            Checks.that(
                    !Measures.needsCosts(metric.measure()) || !costs.none(),
                    "threshold: for = cost: the plan says nothing of costs; add costs: {ACTUAL: {PREDICTED: cost}}");
            Checks.that(
                    metric.measure().byLabels(),
                    "threshold: for = %s: expected a metric of labels, such as f1 or balanced-accuracy",
                    metric.text());
            try {
                thresholdLimit(all);
            } catch (ValueException e) {
                throw Checks.wrong("threshold: where = " + e.getMessage(), e);
            }
            Checks.that(
                    !has(WrapperKind.CALIBRATE)
                            || !all.of(WrapperKind.THRESHOLD.name()).values().containsKey("folds"),
                    "threshold: folds says nothing beside calibrate, whose folds serve both");
        }
    }

    /** Returns the wrappers as a reader is to see them. */
    public List<String> wrapperTexts(Settings all) {
        return wrappers.stream()
                .map(w -> w.name() + " " + text(all, w, w.settings().get(0).name()) + named(all, w))
                .toList();
    }

    private String named(Settings all, WrapperKind wrapper) {
        if (wrapper.equals(WrapperKind.THRESHOLD)) {
            return thresholdLimit(all).map(l -> " where " + l.text()).orElse("");
        }
        return wrapper.equals(WrapperKind.BALANCE)
                ? namedWeights(all).entrySet().stream()
                        .map(e -> " " + e.getKey() + " x " + e.getValue())
                        .collect(Collectors.joining(","))
                : "";
    }

    /** Returns how often a row of each class counts that balance names; nothing if it names none. */
    public Map<String, String> namedWeights(Settings all) {
        return has(WrapperKind.BALANCE) ? LabelWeights.split(text(all, WrapperKind.BALANCE, "of")) : Map.of();
    }

    /** Returns prepared training rows with the weights that the classifier is to see. */
    public Training balanced(Settings all, Training prepared, Seed seed) {
        if (!has(WrapperKind.BALANCE)) {
            return prepared;
        }
        Map<String, String> named = namedWeights(all);
        if (!named.isEmpty()) {
            return weighted(named, prepared);
        }
        double[] classWeights = prepared.classWeights();
        double present = Arrays.stream(classWeights).filter(w -> w > 0).count();
        double[] weights = prepared.weights();
        if (text(all, WrapperKind.BALANCE, "by").equals("weights")) {
            double whole = prepared.totalWeight();
            for (int i = 0; i < weights.length; i++) {
                weights[i] *= whole / (present * classWeights[prepared.target(i)]);
            }
            return prepared.withWeights(weights);
        }
        double most = Arrays.stream(classWeights).max().orElse(0);
        RandomSource chance = seed.with("balance").chance();
        for (int c = 0; c < classWeights.length; c++) {
            int wanted = c;
            // Each row as often as it counts, so that a row of weight two is drawn as two rows are.
            int[] copies = IntStream.range(0, weights.length)
                    .filter(i -> prepared.target(i) == wanted)
                    .flatMap(i -> IntStream.range(0, (int) prepared.weight(i)).map(t -> i))
                    .toArray();
            for (double more = most - classWeights[c]; copies.length > 0 && more > 0; more--) {
                weights[copies[chance.below(copies.length)]]++;
            }
        }
        return prepared.withWeights(weights);
    }

    private static Training weighted(Map<String, String> named, Training prepared) {
        double[] ofClass = new double[prepared.classes()];
        Arrays.setAll(
                ofClass,
                c -> Double.parseDouble(named.getOrDefault(prepared.labels().get(c), "1")));
        double[] weights = prepared.weights();
        double sum = 0;
        for (int i = 0; i < weights.length; i++) {
            weights[i] *= ofClass[prepared.target(i)];
            sum += weights[i];
        }
        double scale = prepared.totalWeight() / sum;
        for (int i = 0; i < weights.length; i++) {
            weights[i] *= scale;
        }
        return prepared.withWeights(weights);
    }

    private static Stream<Setting> setting(StepUse use, String name, int dot) {
        return use.key().equals(name.substring(0, dot))
                ? use.kind().setting(name.substring(dot + 1)).stream()
                : Stream.empty();
    }
}
