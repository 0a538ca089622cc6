package keenfold.core.split;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;

/**
 * What a split keeps on one side: the rows of a group; where equal rows are bound, those too, and groups that share one;
 * otherwise each row by itself. Blocks are numbered by their first rows.
 */
final class Blocks {
    private final int[] blockOf;
    private final int count;
    private final String what;

    private Blocks(int[] blockOf, int count, String what) {
        this.blockOf = blockOf;
        this.count = count;
        this.what = what;
    }

    static Blocks of(DataSet data, boolean bindEqual) {
        int n = data.rows();
        int[] parent = new int[n];
        Arrays.setAll(parent, i -> i);
        Optional<Categories> groups = data.groups();
        groups.ifPresent(g -> {
            int[] first = new int[g.levels().size()];
            Arrays.fill(first, -1);
            for (int i = 0; i < n; i++) {
                if (first[g.code(i)] < 0) {
                    first[g.code(i)] = i;
                }
                join(parent, first[g.code(i)], i);
            }
        });
        if (bindEqual) {
            int[] first = EqualRows.firsts(data.labelled());
            for (int i = 0; i < n; i++) {
                join(parent, first[i], i);
            }
        }
        int[] number = new int[n];
        int[] blockOf = new int[n];
        int count = 0;
        Arrays.fill(number, -1);
        for (int i = 0; i < n; i++) {
            int root = root(parent, i);
            if (number[root] < 0) {
                number[root] = count++;
            }
            blockOf[i] = number[root];
        }
        String what = groups.isPresent() ? "groups" : bindEqual ? "different rows" : "rows";
        return new Blocks(blockOf, count, what);
    }

    /** The smaller root stays, so that the result does not depend on the order of joining. */
    private static void join(int[] parent, int a, int b) {
        int x = root(parent, a);
        int y = root(parent, b);
        parent[Math.max(x, y)] = Math.min(x, y);
    }

    private static int root(int[] parent, int i) {
        int at = i;
        while (parent[at] != at) {
            parent[at] = parent[parent[at]];
            at = parent[at];
        }
        return at;
    }

    int count() {
        return count;
    }

    int of(int row) {
        return blockOf[row];
    }

    /** Whether each row is a block of its own. */
    boolean single() {
        return count == blockOf.length;
    }

    /** What they are, in the plural. */
    String what() {
        return what;
    }

    /** Per block its rows of each class, then its size. */
    int[][] counts(DataSet data, boolean byClass) {
        int classes = byClass ? data.classes().count() : 0;
        int[][] counts = new int[count][classes + 1];
        for (int i = 0; i < blockOf.length; i++) {
            int[] own = counts[blockOf[i]];
            own[classes]++;
            if (byClass) {
                own[data.target(i)]++;
            }
        }
        return counts;
    }
}
