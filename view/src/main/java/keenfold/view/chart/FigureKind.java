package keenfold.view.chart;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a figure shows. */
public enum FigureKind {
    /** Means with interval, and the fold scores behind them. */
    MEANS("means", "means with interval, and the fold scores behind them"),
    /** Spread. */
    SPREAD("spread", "spread of scores by fold and by repeat"),
    /** Differences from one candidate. */
    DIFFERENCES("differences", "differences from the best, intervals for all of them at once, margin of equivalence"),
    /** Ranks within a data set. */
    STANDINGS("standings", "ranks that each candidate may have; those that may be the best are marked"),
    /** Mean against size. */
    PICK("pick", "mean and standard error against size, the limit of the rule, the pick"),
    /** Scores along a varied setting. */
    FAMILY("family", "score along the setting that a family varies; training scores where there are any"),
    /** Means as repeats are added. */
    SETTLING("settling", "how means settle as repeats are added"),
    /** ROC curves. */
    ROC("roc", "ROC curves: each repeat, their mean, a bootstrap band"),
    /** Precision against recall. */
    PRECISION_RECALL("precision-recall", "precision against recall: each repeat, their mean, a bootstrap band"),
    /** Reliability of probabilities. */
    CALIBRATION("calibration", "observed against predicted probabilities, and how many rows had each"),
    /** Confusion matrices. */
    CONFUSION("confusion", "confusion matrices: rows and shares"),
    /** Rates against the threshold. */
    THRESHOLDS("thresholds", "rates and cost (or another metric of labels) against the threshold"),
    /** Score against time. */
    TIME("time", "score against seconds of training and prediction"),
    /** Scores of splits that follow each other in time. */
    ORDER("order", "splits in time: the score of each, and its difference from the best candidate's"),
    /** Ranks over data sets. */
    RANKS("ranks", "mean ranks over data sets, groups that the test does not separate"),
    /** What columns are worth. */
    COLUMNS("columns", "what columns are worth, by shuffling them (retrains)"),
    /** How often each is picked. */
    FREQUENCY("frequency", "how often draws would have led to each pick"),
    /** The tree of a model. */
    TREE("tree", "the tree of a model");

    private final String label;
    private final String meaning;

    FigureKind(String label, String meaning) {
        this.label = label;
        this.meaning = meaning;
    }

    /** Returns the name on the command line and of files. */
    public String label() {
        return label;
    }

    /** Returns what it shows, in words. */
    public String meaning() {
        return meaning;
    }

    /** Returns whether it shows several candidates one by one, each in a frame. */
    public boolean oneByOne() {
        return this == ROC
                || this == PRECISION_RECALL
                || this == CALIBRATION
                || this == CONFUSION
                || this == THRESHOLDS
                || this == COLUMNS;
    }

    /** Returns those that are drawn of a ledger, and not of a model. */
    public static List<FigureKind> ofLedger() {
        return Arrays.stream(values()).filter(k -> k != TREE).toList();
    }

    /** Returns the names of those that are drawn of a ledger. */
    public static List<String> labels() {
        return ofLedger().stream().map(FigureKind::label).toList();
    }

    /** Returns the kind of a name, of those that are drawn of a ledger. */
    public static Optional<FigureKind> of(String label) {
        return ofLedger().stream().filter(k -> k.label.equals(label)).findFirst();
    }
}
