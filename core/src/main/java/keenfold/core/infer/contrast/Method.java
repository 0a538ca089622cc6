package keenfold.core.infer.contrast;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** How differences are tested. */
public enum Method {
    /** Draws of case weights, widened for other training rows. The one that is meant for general use. */
    PIVOT("pivot", "draws of cases, their variance made to allow for other training rows"),
    /** Draws of case weights alone: percentile intervals, for these fitted models only. */
    CASES("cases", "draws of cases alone, percentile interval; for these fitted models only"),
    /** The same with bias-corrected and accelerated intervals. */
    CASES_BCA(
            "cases-bca",
            "draws of cases alone, interval corrected for bias and skewness; for these fitted models only"),
    /** A t-test on fold differences whose variance allows for overlapping training rows. */
    CORRECTED_T("corrected-t", "t on the fold differences, their variance corrected for shared training rows"),
    /** Runs on halves of the rows, which share none. */
    HALVES("halves", "runs on halves of the rows, which show what other training rows change"),
    /** The exact test of discordant labels. */
    MCNEMAR("mcnemar", "exact test on the rows that one of two gets right; one repeat, labels only");

    private final String label;
    private final String meaning;

    Method(String label, String meaning) {
        this.label = label;
        this.meaning = meaning;
    }

    /** Returns the name in plans. */
    public String label() {
        return label;
    }

    /** Returns what it rests on, in a few words. */
    public String meaning() {
        return meaning;
    }

    /** Returns how p-values are adjusted unless something else is asked for. */
    public Adjust preset() {
        return this == PIVOT ? Adjust.MAX_T : Adjust.HOLM;
    }

    /** Returns the names. */
    public static List<String> labels() {
        return Arrays.stream(values()).map(Method::label).toList();
    }

    /** Returns the method of a name. */
    public static Optional<Method> of(String label) {
        return Arrays.stream(values()).filter(m -> m.label.equals(label)).findFirst();
    }
}
