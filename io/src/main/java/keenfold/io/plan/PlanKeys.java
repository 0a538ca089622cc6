package keenfold.io.plan;

import java.util.List;
import java.util.stream.Collectors;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.ClassifierKinds;
import keenfold.core.classify.Setting;
import keenfold.core.metric.Measure;

/** Every key that a plan may hold: what the reader accepts, and what docs/plan.md says. */
public final class PlanKeys {
    /** Keys of a whole plan. */
    public static final List<Key> PLAN = List.of(
            new Key("keenfold", "1", "required", "version of the plan's form"),
            new Key("note", "text", "none", "a line about what is asked; shown by the reading commands"),
            new Key("data", "list of data entries", "required", "the data sets"),
            new Key("splits", "map", "10 x 10 stratified folds", "how rows are divided"),
            new Key("seed", "whole number", "drawn, shown and kept", "from which all randomness derives"),
            new Key(
                    "metrics",
                    "list of metrics",
                    "auc, accuracy, balanced-accuracy, log-loss",
                    "what is scored; NAME, NAME:shares or NAME:class=LABEL"),
            new Key("primary", "one of the metrics", "the first", "by which candidates are compared and picked"),
            new Key("candidates", "map of name to candidate", "required", "what is compared"),
            new Key("evidence", "map", "see below", "how differences are tested"),
            new Key("pick", "map", "rule: one-se", "how one is chosen"));

    /** Keys of an entry of {@code data}. */
    public static final List<Key> DATA = List.of(
            new Key("file", "path", "required", "delimited text, perhaps gzipped; relative to the plan"),
            new Key("name", "text", "the file's stem", "the data set's name"),
            new Key("target", "column", "required", "the classes"),
            new Key("positive", "label", "the rarer of two classes", "the class that one-sided metrics speak of"),
            new Key("groups", "column", "none", "rows with the same value stay on one side of every split"),
            new Key("leave-out", "list of columns", "none", "columns that candidates do not see"),
            new Key("text", "list of columns", "none", "columns to be read as categories whatever they hold"),
            new Key("number", "list of columns", "none", "columns that must be numbers; a word is an error"),
            new Key("missing", "list of texts", "\"\", NA, NaN, ?", "what stands for a missing value"),
            new Key("separator", "one of , ; tab", "found by itself", "what stands between fields"));

    /** Keys of {@code splits}. */
    public static final List<Key> SPLITS = List.of(
            new Key("scheme", "k-fold", "k-fold", "each repeat divides the rows into folds, each tested once"),
            new Key("folds", "whole number from 2", "10", "folds of a repeat"),
            new Key("repeats", "whole number from 1", "10", "fresh divisions"),
            new Key("stratified", "true or false", "true", "whether folds have the class shares of the whole"));

    /** Keys of a candidate, besides the settings of its classifier. */
    public static final List<Key> CANDIDATE =
            List.of(new Key("classifier", "name", "required", "one of those below; its settings stand beside it"));

    /** Keys of a varied setting. */
    public static final List<Key> VARY = List.of(new Key(
            "vary",
            "list, or {from, to, points, scale}",
            "none",
            "one candidate a value; several varied settings make the grid"));

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
            new Key("against", "candidate", "none: all pairs", "the one that all others are to be compared with"));

    /** Keys of {@code pick}. */
    public static final List<Key> PICK = List.of(new Key("rule", "one-se or best-mean", "one-se", "how one is chosen"));

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
        section(text, "`splits`", SPLITS);
        section(text, "An entry of `candidates`", CANDIDATE);
        section(text, "A varied setting", VARY);
        section(text, "A varied range", RANGE);
        section(text, "`evidence`", EVIDENCE);
        section(text, "`pick`", PICK);
        text.append("\n## Classifiers and their settings\n\n");
        for (ClassifierKind kind : ClassifierKinds.all()) {
            text.append("**")
                    .append(kind.name())
                    .append("**: ")
                    .append(kind.meaning())
                    .append(".\n\n");
            if (!kind.settings().isEmpty()) {
                text.append("| setting | values | if left out | meaning |\n|---|---|---|---|\n");
                for (Setting s : kind.settings()) {
                    row(text, s.name(), s.range(), s.preset(), s.meaning());
                }
                text.append('\n');
            }
        }
        text.append("## Metrics\n\n| metric | definition |\n|---|---|\n");
        for (Measure m : Measure.values()) {
            text.append("| `")
                    .append(m.label())
                    .append("` | ")
                    .append(m.definition())
                    .append(" |\n");
        }
        text.append("\nOf three or more classes, ")
                .append(java.util.Arrays.stream(Measure.values())
                        .filter(Measure::oneSided)
                        .map(Measure::label)
                        .collect(Collectors.joining(", ")))
                .append(" are plain means over classes; `:shares` weights classes by their share, `:class=LABEL` is one"
                        + " class.\n");
        return text.toString();
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
