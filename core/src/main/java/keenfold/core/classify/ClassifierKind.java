package keenfold.core.classify;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import keenfold.core.data.Checks;
import keenfold.core.data.RandomSource;
import keenfold.core.data.State;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;

/**
 * A kind of classifier, as plans name it.
 *
 * @param name the trade's name
 * @param meaning one line
 * @param about definition, size and source
 * @param settings what can be set
 * @param maker makes the classifier from checked settings
 * @param joint fits several settings at once, where that shares work
 * @param input what it is trained on
 * @param restorer makes a model again of what it learned, for kinds from outside whose models can be kept
 * @param tier how much of it a person can read and check
 */
public record ClassifierKind(
        String name,
        String meaning,
        About about,
        List<Setting> settings,
        Function<Settings, Classifier> maker,
        Optional<Joint> joint,
        Input input,
        Optional<Function<State, Model>> restorer,
        Tier tier) {
    /** The setting that names the members of a kind that is trained on their predictions. */
    public static final String MEMBERS = "members";

    /** What a kind is trained on. */
    public enum Input {
        /** The prepared columns. */
        COLUMNS,
        /** Predictions of other candidates, which it need not see for training rows. */
        MEMBERS,
        /** Predictions of other candidates, made for training rows by fits that did not see them. */
        MEMBERS_OUT_OF_FOLD
    }

    /** Returns a kind whose models {@link LearnedModel} knows. */
    public ClassifierKind(
            String name,
            String meaning,
            About about,
            List<Setting> settings,
            Function<Settings, Classifier> maker,
            Optional<Joint> joint,
            Input input) {
        this(name, meaning, about, settings, maker, joint, input, Optional.empty(), Tier.UNKNOWN);
    }

    /** Returns the same kind, whose models are made again of what they learned. */
    public ClassifierKind restoring(Function<State, Model> made) {
        return new ClassifierKind(name, meaning, about, settings, maker, joint, input, Optional.of(made), tier);
    }

    /**
     * Returns the same kind in a tier.
     *
     * @param number 1 … {@link Tier#LAST}
     * @param reason why, in a few words
     */
    public ClassifierKind inTier(int number, String reason) {
        return new ClassifierKind(
                name, meaning, about, settings, maker, joint, input, restorer, new Tier(number, reason));
    }

    /** Returns a kind that is trained on columns. */
    public ClassifierKind(
            String name,
            String meaning,
            About about,
            List<Setting> settings,
            Function<Settings, Classifier> maker,
            Optional<Joint> joint) {
        this(name, meaning, about, settings, maker, joint, Input.COLUMNS);
    }

    /** Returns a kind whose settings share no work. */
    public ClassifierKind(String name, String meaning, List<Setting> settings, Function<Settings, Classifier> maker) {
        this(name, meaning, About.NOTHING, settings, maker, Optional.empty());
    }

    /** Copies the settings. */
    public ClassifierKind {
        settings = List.copyOf(settings);
        Checks.that(
                settings.stream()
                        .allMatch(s -> s.equals(Tier.SETTING) || !s.name().equals(Tier.SETTING.name())),
                "the classifier \"%s\" has a setting called tier that is not Tier.SETTING; call it something else",
                name);
    }

    /** Returns the setting of a name. */
    public Optional<Setting> setting(String wanted) {
        return settings.stream().filter(s -> s.name().equals(wanted)).findFirst();
    }

    /**
     * Fits several settings to the same rows at once.
     *
     * @param fresh gives the random numbers that each would start with alone
     * @return a model per settings, in order; none at all where the kind shares no work, or where these rows give no model:
     *     each is then to be fitted by itself, and fails, if it does, for its own reason
     */
    public List<Model> fitTogether(List<Settings> all, Training training, Supplier<RandomSource> fresh) {
        if (joint.isEmpty() || all.size() < 2) {
            return List.of();
        }
        try {
            return joint.get().fit(all, training, fresh);
        } catch (FitFailure e) {
            return List.of();
        }
    }

    /**
     * Makes a classifier.
     *
     * @throws IllegalArgumentException if a setting is unknown or out of its range
     */
    public Classifier make(Settings given) {
        Setting.checkAll(name, settings, given);
        return maker.apply(given);
    }

    /** Names are unique, and how a kind is made cannot be compared: kinds of one name are the same. */
    @Override
    public boolean equals(Object other) {
        return other instanceof ClassifierKind kind && name.equals(kind.name);
    }

    @Override
    public int hashCode() {
        return name.hashCode();
    }
}
