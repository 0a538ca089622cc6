package keenfold.io.plan;

import java.util.List;
import java.util.stream.Collectors;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.catalog.Measure;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.step.StepKinds;

/** Every key that a plan may hold: what the reader accepts, and what docs/plan.md says. */
public final class PlanKeys {
    /** Keys of a whole plan. */
    public static final List<Key> PLAN = List.of(
            new Key("keenfold", "1", "required", "version of the plan's form"),
            new Key("note", "text", "none", "a line about what is asked; shown by the reading commands"),
            new Key("data", "list of data entries", "required", "the data sets"),
            new Key("holdout", "map", "none", "rows set aside before anything else, to be scored once, at the end"),
            new Key("splits", "map", "10 x 10 stratified folds", "how rows are divided"),
            new Key("seed", "whole number", "drawn, shown and kept", "from which all randomness derives"),
            new Key(
                    "metrics",
                    "list of metrics",
                    "auc, accuracy, balanced-accuracy, log-loss; brier for auc with leave-one-out",
                    "what is scored; NAME, NAME:shares or NAME:class=LABEL"),
            new Key("primary", "one of the metrics", "the first", "by which candidates are compared and picked"),
            new Key("candidates", "map of name to candidate", "required", "what is compared"),
            new Key(
                    "presets",
                    "whole number from 1",
                    Setting.GENERATION + ", today's",
                    "whose presets hold where a candidate names no value: some became better as the program did; a ledger's"
                            + " plan says it, so that it means the same to a later program"),
            new Key(
                    "costs",
                    "{ACTUAL: {PREDICTED: cost}}",
                    "none",
                    "what each mistake costs, for the metric cost: every pair of classes, or else: COST for all that are not"
                            + " named"),
            new Key("evidence", "map", "see below", "how differences are tested"),
            new Key("pick", "map", "rule: one-se", "how one is chosen"),
            new Key(
                    "effort",
                    "{CANDIDATE: seconds}",
                    "all alike",
                    "what one unit of each candidate takes, by which shards get shares that take as long; scatter measures"
                            + " it"));

    /** Keys of an entry of {@code data}. */
    public static final List<Key> DATA = List.of(
            new Key(
                    "file",
                    "path",
                    "required",
                    "delimited text or JSON Lines, perhaps gzipped; FILE.db#TABLE; - for standard input; relative to the plan"),
            new Key("name", "text", "the file's stem", "the data set's name"),
            new Key("target", "column", "required", "the classes"),
            new Key("positive", "label", "the rarer of two classes", "the class that one-sided metrics speak of"),
            new Key(
                    "groups",
                    "column",
                    "none",
                    "rows with the same value stay on one side of every split; candidates do not see it"),
            new Key(
                    "order",
                    "column",
                    "none",
                    "numbers or dates that say which rows came first, for rolling-origin and rows: last; candidates do not see it"),
            new Key(
                    "weights",
                    "column",
                    "none",
                    "whole numbers that say for how many cases a row counts: the table as if each case stood in a row of its"
                            + " own, on whichever side of a split; for cases that are not independent, name groups too"),
            new Key(
                    "leave-out",
                    "list of columns",
                    "none",
                    "columns that candidates do not see; A..B for all from A to B"),
            new Key(
                    "text",
                    "list of columns, or all",
                    "none",
                    "columns to be read as categories whatever they hold; A..B for all from A to B; all for every one but"
                            + " those of number and order. One with another text in every row is left out unless its own name"
                            + " is here; then the step words can read it, and only that and candidates of kind command see it"),
            new Key(
                    "number",
                    "list of columns",
                    "none",
                    "columns that must be numbers, A..B for all from A to B; a word is an error"),
            new Key("missing", "list of texts", "\"\", NA, NaN, ?", "what stands for a missing value"),
            new Key("separator", "one of , ; | tab", "found by itself", "what stands between fields"),
            new Key("decimal", "one of . ,", ".", "what stands before the decimals of a number"),
            new Key("encoding", "name of an encoding", "UTF-8", "of the text, such as windows-1252 or UTF-16"));

    /** Keys of {@code holdout}. */
    public static final List<Key> HOLDOUT = List.of(
            new Key("share", "share between 0 and 1", "0.2", "how many of the rows; stratified, groups whole"),
            new Key("rows", "last", "drawn", "those that came last, by order, instead of drawn ones"),
            new Key("file", "path", "none", "all rows of another file with the same columns; alone"));

    /** Keys of {@code splits}: first those of every scheme, then those of some. */
    public static final List<Key> SPLITS = List.of(
            new Key("scheme", "one of those below", "k-fold", "how training and test sides are made"),
            new Key("bind-equal", "true or false", "false", "whether rows equal in every used column stay on one side"),
            new Key("folds", "whole number from 2", "10", "k-fold: folds of a repeat"),
            new Key(
                    "repeats",
                    "whole number from 1",
                    "10, 50, 100",
                    "k-fold: fresh divisions; monte-carlo, out-of-bag: splits, 25 or more advised"),
            new Key(
                    "stratified",
                    "true or false",
                    "true; false for out-of-bag",
                    "k-fold, monte-carlo, out-of-bag: whether sides have the class shares of the whole"),
            new Key("share", "share between 0 and 1", "0.2", "monte-carlo: of the rows, tested"),
            new Key(
                    "first",
                    "share between 0 and 1",
                    "0.5",
                    "rolling-origin: of the rows, before the first tested one"),
            new Key("step", "share above 0", "0.1", "rolling-origin: of the rows, tested by one split"),
            new Key("gap", "share from 0", "0", "rolling-origin: of the rows, left out between training and testing"),
            new Key("window", "all, or a share", "all", "rolling-origin: the most of the rows that is trained on"),
            new Key("column", "column", "none", "given: rows with the same value are tested together"),
            new Key("file", "path", "none", "given: a CSV file of folds, as export --what folds writes it"),
            new Key("test", "path", "required", "apart: the file whose rows are tested"));

    private static final List<SchemeKeys> SCHEMES = List.of(
            new SchemeKeys(
                    "k-fold",
                    List.of("folds", "repeats", "stratified"),
                    "each repeat divides the rows (or whole groups) into folds, each tested once"),
            new SchemeKeys("leave-one-out", List.of(), "each row is tested alone; no metric of ranks"),
            new SchemeKeys("leave-group-out", List.of(), "each group is tested alone; needs groups"),
            new SchemeKeys(
                    "monte-carlo",
                    List.of("share", "repeats", "stratified"),
                    "a share is drawn for testing, again and again"),
            new SchemeKeys(
                    "rolling-origin",
                    List.of("first", "step", "gap", "window"),
                    "trains only on what came before, by order; training rows of a tested group are left out"),
            new SchemeKeys(
                    "out-of-bag",
                    List.of("repeats", "stratified"),
                    "trains on rows drawn with replacement, tests those never drawn"),
            new SchemeKeys("given", List.of("column", "file"), "splits made elsewhere"),
            new SchemeKeys("apart", List.of("test"), "one split: the data are trained on, a second file is tested"));

    /**
     * A scheme of splits.
     *
     * @param name as written
     * @param keys that it has, besides {@code scheme} and {@code bind-equal}
     * @param meaning one line
     */
    public record SchemeKeys(String name, List<String> keys, String meaning) {}

    /** Returns what a key of splits means for one scheme: the part of its meaning that speaks of it. */
    public static String meaningFor(String scheme, Key key) {
        for (String part : key.meaning().split("; ", -1)) {
            int colon = part.indexOf(": ");
            if (colon >= 0 && List.of(part.substring(0, colon).split(", ", -1)).contains(scheme)) {
                return part.substring(colon + 2);
            }
        }
        return key.meaning();
    }

    /** Returns the schemes with their keys. */
    public static List<SchemeKeys> schemeKeys() {
        return SCHEMES;
    }

    /** Returns the names of the schemes. */
    static List<String> schemes() {
        return SCHEMES.stream().map(SchemeKeys::name).toList();
    }

    /** Returns the keys of a scheme of its own. */
    static List<String> keysOf(String scheme) {
        return SCHEMES.stream()
                .filter(s -> s.name().equals(scheme))
                .flatMap(s -> s.keys().stream())
                .toList();
    }

    /** Keys of a candidate, besides the settings of its classifier. */
    public static final List<Key> CANDIDATE = List.of(
            new Key("classifier", "name", "required", "one of those below; its settings stand beside it"),
            new Key(
                    "prepare",
                    "list of steps, or several lists with vary or choose",
                    "those that the classifier needs",
                    "what is done to the columns first, step by step, each learned from the training rows alone; [] for"
                            + " nothing"),
            new Key(
                    "balance",
                    "map",
                    "none",
                    "trains on classes of equal weight, or of weights that you name; see below"),
            new Key("calibrate", "map", "none", "maps probabilities to what they are worth; see below"),
            new Key("threshold", "map", "none", "where the positive class begins; see below"),
            new Key("tuning", "map", "see below", "how settings with choose are chosen inside each training side"),
            new Key(
                    "sample",
                    "whole number from 1",
                    "all",
                    "how many members of the grid of varied settings are drawn, always the same ones"),
            new Key(
                    "time-limit",
                    "time, such as 90s, 5m or 2h",
                    "none",
                    "that one fit may take by the clock, from its steps to its predictions; one that takes longer fails"),
            new Key(
                    "rank",
                    "whole number from 1",
                    "none",
                    "its place in your own order of simplicity, 1 being the simplest; for pick: {simpler-by: rank}"),
            new Key(
                    "seeded-as",
                    "name",
                    "its own name",
                    "the name that its random numbers derive from; rename writes it, so that a renamed candidate keeps its"
                            + " fits"));

    /** Keys of {@code tuning}. */
    public static final List<Key> TUNING = List.of(
            new Key(
                    "folds",
                    "whole number from 2",
                    "5",
                    "inner folds; stratified and group-true, or in time, as outer ones"),
            new Key("repeats", "whole number from 1", "1", "inner divisions; one in time"),
            new Key(
                    "by",
                    "best-mean or one-se",
                    "best-mean",
                    "the best, or the simplest within one standard error of it"),
            new Key("metric", "metric", "the primary one", "by which; need not be among the metrics"),
            new Key(
                    "sample",
                    "whole number from 1",
                    "all",
                    "how many combinations of chosen values are tried, drawn by the seed for each training side"));

    /** Keys of a varied setting. */
    public static final List<Key> VARY = List.of(
            new Key(
                    "vary",
                    "list, or {from, to, points, scale}",
                    "none",
                    "one candidate a value; several varied settings make the grid"),
            new Key(
                    "choose",
                    "list, or {from, to, points, scale}",
                    "none",
                    "one candidate, for which a value is chosen inside each training side; several make a grid"));

    /** Keys of a range that is varied. */
    public static final List<Key> RANGE = List.of(
            new Key("from", "number", "required", "the first value"),
            new Key("to", "number", "required", "the last value"),
            new Key("points", "whole number from 2", "required", "how many values"),
            new Key("scale", "linear or log", "linear", "whether steps are equal, or equal in ratio"));

    /** Keys of {@code evidence}. */
    public static final List<Key> EVIDENCE = List.of(
            new Key("draws", "whole number from 100", "5000", "bootstrap resamples"),
            new Key("level", "share from 0.5", "0.95", "of intervals; one minus it is the error rate of calls"),
            new Key("margin", "number from 0", "0", "differences surely smaller than this are called equivalent"),
            new Key("against", "candidate", "none: all pairs", "the one that all others are to be compared with"),
            new Key(
                    "method",
                    "one of " + String.join(", ", Method.labels()),
                    "pivot",
                    "how differences are tested; see docs/methods.md before taking another than pivot"),
            new Key(
                    "adjust",
                    "one of " + String.join(", ", Adjust.labels()),
                    "max-t; holm with other methods than pivot",
                    "how p-values are adjusted for multiple comparisons"),
            new Key(
                    "halves",
                    "whole number from 0, or a map",
                    "0",
                    "how often the rows are divided into halves, in each of which all candidates are run, for method"
                            + " halves; 25 serve well, and calls need 10"));

    /** Keys of {@code halves}. */
    public static final List<Key> HALVES = List.of(
            new Key("splits", "whole number from 0", "required", "how often the rows are divided into halves"),
            new Key("repeats", "whole number from 2", "2", "how often k-fold is run in each half"));

    /** Keys of {@code pick}. */
    public static final List<Key> PICK = List.of(
            new Key(
                    "rule",
                    "one of " + String.join(", ", Rule.labels()) + ", or {m-se: 0.5}",
                    "one-se",
                    "how one is chosen"),
            new Key(
                    "simpler-by",
                    "one of " + String.join(", ", SimplerBy.labels()),
                    "kind",
                    "by what one candidate is simpler than another: kind is the tier of its classifier, which the catalog"
                            + " names, then size; times differ from run to run"),
            new Key(
                    "failed",
                    "allow or refuse",
                    "refuse",
                    "whether candidates with more than a tenth of their fits failed are compared and may be picked"));

    private PlanKeys() {}

    /**
     * A key of a plan.
     *
     * @param name as written
     * @param form what may stand behind it
     * @param preset what holds if it is left out
     * @param meaning one line
     */
    public record Key(String name, String form, String preset, String meaning) {}

    /** Returns docs/plan.md. */
    public static String markdown() {
        StringBuilder text = new StringBuilder("# The plan\n\n"
                + "Made from the reader's own list of keys (`PlanKeys`); do not edit. A plan is YAML; JSON is accepted,"
                + " being YAML. A plain scalar is text where text is wanted: `positive: no` is the label `no`. Unknown"
                + " keys are errors.\n");
        section(text, "The whole", PLAN);
        section(text, "An entry of `data`", DATA);
        section(text, "`holdout`", HOLDOUT);
        section(text, "`splits`", SPLITS);
        text.append("\n| scheme | its own keys | meaning |\n|---|---|---|\n");
        SCHEMES.forEach(s -> text.append("| `")
                .append(s.name())
                .append("` | ")
                .append(s.keys().isEmpty() ? "none" : String.join(", ", s.keys()))
                .append(" | ")
                .append(s.meaning())
                .append(" |\n"));
        section(text, "An entry of `candidates`", CANDIDATE);
        section(text, "`tuning`", TUNING);
        section(text, "A varied or chosen setting", VARY);
        section(text, "A range of values", RANGE);
        section(text, "`evidence`", EVIDENCE);
        section(text, "`halves` of `evidence`, as a map", HALVES);
        section(text, "`pick`", PICK);
        text.append("\n## Classifiers and their settings\n\n");
        ClassifierKinds.all().forEach(k -> settings(text, k.name(), k.meaning(), k.settings()));
        text.append("## Steps and their settings\n\n");
        text.append(
                "An item of `prepare` is a step's name, or `{NAME: VALUE}` with a value of its first setting, or"
                        + " `{NAME: {SETTING: VALUE, ..}}`. Values may be varied or chosen as a classifier's. Whole lists may be too:"
                        + " `{vary: [[fill], [fill, {components: 5}]]}`, or with names, by which the candidates are called then,"
                        + " `{vary: {plain: [fill], short: [fill, {components: 5}]}}`; settings in them have one value each.\n\n");
        StepKinds.all().forEach(k -> settings(text, k.name(), k.meaning(), k.settings()));
        text.append("## Wrappers and their settings\n\n");
        text.append("Each takes a value of its first setting, or `{SETTING: VALUE, ..}`.\n\n");
        WrapperKind.all().forEach(k -> settings(text, k.name(), k.meaning(), k.settings()));
        text.append("## Metrics\n\n| metric | definition |\n|---|---|\n");
        for (Measure m : Measures.all()) {
            text.append("| `")
                    .append(m.label())
                    .append("` | ")
                    .append(m.definition())
                    .append(" |\n");
        }
        text.append("\nOf three or more classes, ")
                .append(Measures.all().stream()
                        .filter(Measure::oneSided)
                        .map(Measure::label)
                        .collect(Collectors.joining(", ")))
                .append(" are plain means over classes; `:shares` weights classes by their share, `:class=LABEL` is one"
                        + " class.\n");
        return text.toString();
    }

    private static void settings(StringBuilder text, String name, String meaning, List<Setting> settings) {
        text.append("**").append(name).append("**: ").append(meaning).append(".\n\n");
        if (!settings.isEmpty()) {
            text.append("| setting | values | if left out | meaning |\n|---|---|---|---|\n");
            for (Setting s : settings) {
                row(text, s.name(), s.range(), s.preset().isEmpty() ? "none" : s.preset(), s.meaning());
            }
            text.append('\n');
        }
    }

    private static void section(StringBuilder text, String title, List<Key> keys) {
        text.append("\n## ").append(title).append("\n\n| key | form | if left out | meaning |\n|---|---|---|---|\n");
        keys.forEach(k -> row(text, k.name, k.form, k.preset, k.meaning));
    }

    private static void row(StringBuilder text, String name, String form, String preset, String meaning) {
        text.append("| `").append(name).append("` | ");
        text.append(String.join(" | ", form, preset, meaning)).append(" |\n");
    }
}
