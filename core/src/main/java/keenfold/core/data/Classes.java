package keenfold.core.data;

import java.util.List;

/**
 * The classes of a target: labels in code point order, and which of them is the positive one.
 *
 * @param labels at least two distinct labels, sorted by code point
 * @param positive index of the positive class: what one-sided metrics speak of when there are two classes
 */
public record Classes(List<String> labels, int positive) {
    /** Checks the order of the labels and the range of {@code positive}. */
    public Classes {
        labels = List.copyOf(labels);
        Checks.that(labels.size() >= 2, "%d classes: expected at least two", labels.size());
        for (int i = 1; i < labels.size(); i++) {
            Checks.that(
                    CodePoints.ORDER.compare(labels.get(i - 1), labels.get(i)) < 0,
                    "labels must be distinct and sorted: \"%s\" stands before \"%s\"",
                    labels.get(i - 1),
                    labels.get(i));
        }
        Checks.that(positive >= 0 && positive < labels.size(), "positive = %d: there is no such class", positive);
    }

    /** Returns the number of classes, K. */
    public int count() {
        return labels.size();
    }

    /** Returns whether there are two classes. */
    public boolean binary() {
        return labels.size() == 2;
    }

    /** Returns the index of a label, −1 if it is none of these. */
    public int indexOf(String label) {
        return labels.indexOf(label);
    }

    /** Returns the label of the positive class. */
    public String positiveLabel() {
        return labels.get(positive);
    }

    /** Returns the rarest class, among equally rare ones the last: the positive class where none was named. */
    public static int rarest(int[] counts) {
        int best = 0;
        for (int c = 1; c < counts.length; c++) {
            if (counts[c] <= counts[best]) {
                best = c;
            }
        }
        return best;
    }
}
