package keenfold.core.classify;

import java.util.List;
import java.util.Optional;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;

/**
 * Something that any classifier can be wrapped in, as plans name it. Its settings stand among a candidate's own, each named
 * {@code WRAPPER.SETTING}.
 *
 * @param name as plans write it
 * @param meaning one line
 * @param about definition, size and source
 * @param settings what can be set; the first may be given alone
 */
public record WrapperKind(String name, String meaning, About about, List<Setting> settings) {
    private static final Setting FOLDS = new Setting(
            "folds",
            Setting.Type.WHOLE,
            "5",
            Setting.Bounds.from(2),
            List.of(),
            Simpler.NEITHER,
            "inner folds, stratified and group-true, or in time, as outer ones");

    /** Evens out the classes. */
    public static final WrapperKind BALANCE = new WrapperKind(
            "balance",
            "trains on classes of equal weight, or of weights that you name",
            new About(
                    "by weights: each row counts W/(K W_c) times, or, where of names weights, as often as its class has there (once if it"
                            + " has none), scaled so that all count W; by resampling: rows of each class are drawn with replacement, beside"
                            + " its own, until it has as many as the largest. Training rows only, behind the steps; probabilities are"
                            + " then those of classes so weighted, unless calibrate follows",
                    "that of the classifier",
                    "King and Zeng (2001), Polit. Anal. 9(2), doi:10.1093/oxfordjournals.pan.a004868"),
            List.of(
                    Setting.word("by", "weights", List.of("weights", "resampling"), "what is changed"),
                    Setting.labelWeights(
                            "of",
                            "how often a row of each class counts, such as {no: 5}; 1 for classes that are not named; goes with"
                                    + " weights")));

    /** Makes probabilities mean what they say. */
    public static final WrapperKind CALIBRATE = new WrapperKind(
            "calibrate",
            "maps probabilities to what they were worth on rows not trained on",
            new About(
                    "inner folds of the training rows give predictions of each of them; on these, class by class, platt fits a"
                            + " logistic curve of the log-odds, isotonic a rising step function; several classes are then made to"
                            + " sum to 1. The classifier itself is fitted to all training rows",
                    "adds 2 for platt, its steps for isotonic, of each class but one",
                    "Platt (2000), Advances in Large Margin Classifiers; Zadrozny and Elkan (2002), KDD, doi:10.1145/775047.775151"),
            List.of(Setting.word("by", "platt", List.of("platt", "isotonic"), "the form of the curve"), FOLDS));

    /** Chooses where the positive class begins. */
    public static final WrapperKind THRESHOLD = new WrapperKind(
            "threshold",
            "predicts the positive class at and above the probability that serves a metric best",
            new About(
                    "inner folds of the training rows give predictions of each of them (calibrated, if calibrate is there, whose folds then serve both); the"
                            + " threshold midway between two of their probabilities at which the metric is best is used, among equals"
                            + " the one nearest to 1/2; with where, of the thresholds that keep that bound, or miss it least. Two"
                            + " classes only; probabilities stay as they are",
                    "adds 1",
                    ""),
            List.of(
                    Setting.text("for", "balanced-accuracy", "a metric of labels, such as f1 or balanced-accuracy"),
                    Setting.text(
                            "where", "", "a bound that another metric of labels is to keep, such as specificity>=0.9"),
                    FOLDS));

    private static final List<WrapperKind> ALL = List.of(BALANCE, CALIBRATE, THRESHOLD);

    /** Copies the settings. */
    public WrapperKind {
        settings = List.copyOf(settings);
    }

    /** Returns all kinds, in the order in which they work. */
    public static List<WrapperKind> all() {
        return ALL;
    }

    /** Returns the setting of a name. */
    public Optional<Setting> setting(String wanted) {
        return settings.stream().filter(s -> s.name().equals(wanted)).findFirst();
    }

    @Override
    public String toString() {
        return name;
    }
}
