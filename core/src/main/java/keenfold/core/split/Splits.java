package keenfold.core.split;

import java.util.Arrays;
import java.util.HashSet;
import java.util.Set;
import keenfold.core.data.Checks;
import keenfold.core.data.Rows;

/**
 * Repeated partitions of the rows of one data set into folds: in each repeat every row is tested exactly once, and
 * trained on whenever another fold is tested.
 */
public final class Splits {
    private final int folds;
    private final int[][] foldOf;

    private Splits(int folds, int[][] foldOf) {
        this.folds = folds;
        this.foldOf = foldOf;
    }

    /**
     * Returns the splits of given assignments.
     *
     * @param folds number of folds of each repeat, k ≥ 2
     * @param foldOf per repeat and row the 0-based fold that tests it
     * @throws IllegalArgumentException if a fold is out of range or has no row
     */
    public static Splits of(int folds, int[][] foldOf) {
        Checks.atLeast("folds", folds, 2);
        int[][] copy = new int[foldOf.length][];
        for (int r = 0; r < foldOf.length; r++) {
            copy[r] = foldOf[r].clone();
            int[] sizes = new int[folds];
            for (int f : copy[r]) {
                Checks.that(f >= 0 && f < folds, "fold %d: expected 0 to %d", f, folds - 1);
                sizes[f]++;
            }
            for (int f = 0; f < folds; f++) {
                Checks.that(sizes[f] > 0, "repeat %d: fold %d has no row", r + 1, f + 1);
            }
        }
        return new Splits(folds, copy);
    }

    /** Returns the number of repeats, R. */
    public int repeats() {
        return foldOf.length;
    }

    /** Returns the number of folds of each repeat, k. */
    public int folds() {
        return folds;
    }

    /** Returns the 0-based fold that tests a row in a repeat. */
    public int foldOf(int repeat, int row) {
        return foldOf[repeat][row];
    }

    /** Returns a copy of a repeat's folds, one per row. */
    public int[] foldsOf(int repeat) {
        return foldOf[repeat].clone();
    }

    /** Returns one split. */
    public Split at(int repeat, int fold) {
        int[] of = foldOf[repeat];
        int tested = 0;
        for (int f : of) {
            if (f == fold) {
                tested++;
            }
        }
        int[] test = new int[tested];
        int[] train = new int[of.length - tested];
        int a = 0;
        int b = 0;
        for (int i = 0; i < of.length; i++) {
            if (of[i] == fold) {
                test[a++] = i;
            } else {
                train[b++] = i;
            }
        }
        return new Split(repeat, fold, Rows.of(train), Rows.of(test));
    }

    /** Returns how many different partitions the repeats are, whatever their folds are numbered. */
    public int distinctPartitions() {
        Set<String> seen = new HashSet<>();
        for (int[] of : foldOf) {
            seen.add(canonical(of));
        }
        return seen.size();
    }

    /** Folds renumbered by first appearance: equal for equal partitions. */
    private String canonical(int[] of) {
        int[] rename = new int[folds];
        Arrays.fill(rename, -1);
        int next = 0;
        int[] canonical = new int[of.length];
        for (int i = 0; i < of.length; i++) {
            if (rename[of[i]] < 0) {
                rename[of[i]] = next++;
            }
            canonical[i] = rename[of[i]];
        }
        return Arrays.toString(canonical);
    }
}
