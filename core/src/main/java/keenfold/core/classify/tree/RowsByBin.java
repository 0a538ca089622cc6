package keenfold.core.classify.tree;

/**
 * The rows of a node in the order of their bins of one column; rows of one bin keep theirs.
 *
 * <p>Few rows are sorted by insertion, more by counting, of which only the bins that occur are visited.
 */
public final class RowsByBin {
    private static final int FEW = 24;
    private static final int BITS = 8;

    private final int[] counts = new int[Binned.MOST];
    private final OccupiedBins occupied = new OccupiedBins();
    private final int[] found;
    private final int[] ordered;

    /** @param most rows of a node */
    public RowsByBin(int most) {
        this.found = new int[most];
        this.ordered = new int[most];
    }

    /**
     * Orders rows.
     *
     * @param codes the bin of each row of the table
     * @param row the rows of nodes, of which those from {@code begin} to {@code end} are ordered
     * @return for each, its {@link #place} and {@link #bin}; to be read until the next call
     */
    public int[] order(byte[] codes, int[] row, int begin, int end) {
        int n = end - begin;
        return n <= FEW ? inserted(codes, row, begin, n) : counted(codes, row, begin, n);
    }

    /** The place of an ordered row in its stretch, from 0 on. */
    public static int place(int ordered) {
        return ordered >>> BITS;
    }

    /** The bin of an ordered row. */
    public static int bin(int ordered) {
        return ordered & 0xFF;
    }

    private int[] inserted(byte[] codes, int[] row, int begin, int n) {
        int[] to = ordered;
        for (int i = 0; i < n; i++) {
            int bin = codes[row[begin + i]] & 0xFF;
            int at = i;
            while (at > 0 && (to[at - 1] & 0xFF) > bin) {
                to[at] = to[at - 1];
                at--;
            }
            to[at] = i << BITS | bin;
        }
        return to;
    }

    private int[] counted(byte[] codes, int[] row, int begin, int n) {
        occupied.markNone();
        long[] marks = occupied.words();
        for (int i = 0; i < n; i++) {
            int bin = codes[row[begin + i]] & 0xFF;
            found[i] = bin;
            counts[bin]++;
            marks[bin >> 6] |= 1L << bin;
        }
        int next = 0;
        for (int word = 0; word < marks.length; word++) {
            for (long bits = marks[word]; bits != 0; bits &= bits - 1) {
                int bin = word * Long.SIZE + Long.numberOfTrailingZeros(bits);
                int here = counts[bin];
                counts[bin] = next;
                next += here;
            }
        }
        for (int i = 0; i < n; i++) {
            int bin = found[i];
            ordered[counts[bin]++] = i << BITS | bin;
        }
        for (int word = 0; word < marks.length; word++) {
            for (long bits = marks[word]; bits != 0; bits &= bits - 1) {
                counts[word * Long.SIZE + Long.numberOfTrailingZeros(bits)] = 0;
            }
        }
        return ordered;
    }
}
