package keenfold.core.run;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Stream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.data.Chance;
import keenfold.core.data.Table;
import keenfold.core.prepare.FitFailure;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKinds;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.Training;

/**
 * What a candidate is made of, but for the values of its settings.
 *
 * @param prepare the steps that the plan names; absent if the classifier gets those that it needs
 * @param kind the classifier
 */
public record Recipe(Optional<List<StepUse>> prepare, ClassifierKind kind) {
    /** Copies the steps. */
    public Recipe {
        prepare = prepare.map(List::copyOf);
    }

    /** Returns a classifier that gets the steps that it needs. */
    public static Recipe of(ClassifierKind kind) {
        return new Recipe(Optional.empty(), kind);
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
     * @return a model per settings; none at all where nothing is shared
     */
    List<Model> together(List<Settings> all, Training prepared, Supplier<Chance> fresh) {
        return kind.fitTogether(all.stream().map(Settings::plain).toList(), prepared, fresh);
    }

    /**
     * Fits the classifier to prepared rows.
     *
     * @param tested the prepared rows that it is to predict, looked at only for what cannot be taken
     * @throws FitFailure if these rows give no model
     */
    Model fit(Settings all, Training prepared, Table tested, Chance chance) {
        Classifier classifier = classifier(all);
        classifier.needs().require(prepared.table(), kind.name());
        classifier.needs().require(tested, kind.name());
        return classifier.fit(prepared, chance);
    }

    /**
     * Makes the steps.
     *
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    public List<Step> steps(Settings all) {
        return uses(all).stream().map(use -> use.make(all)).toList();
    }

    /** Returns the steps as a reader is to see them. */
    public List<String> stepTexts(Settings all) {
        return uses(all).stream().map(use -> use.text(all)).toList();
    }

    private List<StepUse> uses(Settings all) {
        return prepare.orElseGet(
                () -> StepUse.of(StepKinds.neededBy(classifier(all).needs())));
    }

    /** Returns the setting of a name, {@code STEP.SETTING} if it is a step's. */
    public Optional<Setting> setting(String name) {
        int dot = name.lastIndexOf('.');
        return dot < 0
                ? kind.setting(name)
                : prepare.stream()
                        .flatMap(List::stream)
                        .flatMap(use -> setting(use, name, dot))
                        .findFirst();
    }

    private static Stream<Setting> setting(StepUse use, String name, int dot) {
        return use.key().equals(name.substring(0, dot))
                ? use.kind().setting(name.substring(dot + 1)).stream()
                : Stream.empty();
    }
}
