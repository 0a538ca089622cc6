package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.List;
import keenfold.core.metric.Outcomes;

/**
 * The tested rows of a comparison and the fold of each in each repeat, which all candidates share. Rows of a class that has
 * only one are left out.
 */
final class TestedRows {
    private final int[] positions;
    private final int[] classOf;
    private final int[] classCounts;
    private final int[] repeats;
    private final int[][] folds;
    /** Per repeat the rows that were tested at least twice, fold by fold, and where each fold ends. */
    private final int[][] byFold;

    private final int[][] foldEnds;
    private final int count;

    /**
     * @param parts the outcomes of any candidate, repeat by repeat
     * @param rows how many rows the data set has
     * @param classes how many classes
     */
    TestedRows(List<Outcomes> parts, int rows, int classes) {
        int[] actual = new int[rows];
        Arrays.fill(actual, -1);
        for (Outcomes part : parts) {
            for (int i = 0; i < part.size(); i++) {
                actual[part.row(i)] = part.actual(i);
            }
        }
        classCounts = new int[classes];
        for (int a : actual) {
            if (a >= 0) {
                classCounts[a]++;
            }
        }
        positions = new int[rows];
        int[] ofPosition = new int[rows];
        int n = 0;
        for (int row = 0; row < rows; row++) {
            boolean kept = actual[row] >= 0 && classCounts[actual[row]] > 1;
            positions[row] = kept ? n : -1;
            if (kept) {
                ofPosition[n++] = actual[row];
            }
        }
        count = n;
        classOf = Arrays.copyOf(ofPosition, n);
        folds = new int[parts.size()][n];
        repeats = new int[n];
        for (int r = 0; r < folds.length; r++) {
            Arrays.fill(folds[r], -1);
            Outcomes part = parts.get(r);
            for (int i = 0; i < part.size(); i++) {
                int at = positions[part.row(i)];
                if (at >= 0) {
                    folds[r][at] = part.fold(i);
                    repeats[at]++;
                }
            }
        }
        byFold = new int[folds.length][];
        foldEnds = new int[folds.length][];
        for (int r = 0; r < folds.length; r++) {
            sortByFold(r);
        }
    }

    private void sortByFold(int repeat) {
        int[] fold = folds[repeat];
        int[] ends = new int[Arrays.stream(fold).max().orElse(-1) + 1];
        for (int i = 0; i < count; i++) {
            if (fold[i] >= 0 && repeats[i] > 1) {
                ends[fold[i]]++;
            }
        }
        Arrays.parallelPrefix(ends, Integer::sum);
        int[] sorted = new int[ends.length == 0 ? 0 : ends[ends.length - 1]];
        int[] next = new int[ends.length + 1];
        System.arraycopy(ends, 0, next, 1, ends.length);
        for (int i = 0; i < count; i++) {
            if (fold[i] >= 0 && repeats[i] > 1) {
                sorted[next[fold[i]]++] = i;
            }
        }
        byFold[repeat] = sorted;
        foldEnds[repeat] = ends;
    }

    /** How many rows there are. */
    int count() {
        return count;
    }

    /** How many classes the data set has. */
    int classes() {
        return classCounts.length;
    }

    /** How many rows of a class were tested. */
    int ofClass(int c) {
        return classCounts[c];
    }

    /** The position of a row of the data set; −1 if it is left out. */
    int position(int row) {
        return positions[row];
    }

    /** The class of the row at a position. */
    int classOf(int position) {
        return classOf[position];
    }

    /** The classes of all rows; not to be changed. */
    int[] byPosition() {
        return classOf;
    }

    /** In how many repeats a row was tested. */
    int repeatsOf(int position) {
        return repeats[position];
    }

    /** How many repeats there are. */
    int repeats() {
        return folds.length;
    }

    /** The fold in which each row was tested, by position; −1 if it was not tested in that repeat; not to be changed. */
    int[] folds(int repeat) {
        return folds[repeat];
    }

    /** The positions of the rows tested in a repeat, and in another one too, fold by fold; not to be changed. */
    int[] byFold(int repeat) {
        return byFold[repeat];
    }

    /** Where the rows of each fold end in {@link #byFold}; not to be changed. */
    int[] foldEnds(int repeat) {
        return foldEnds[repeat];
    }
}
