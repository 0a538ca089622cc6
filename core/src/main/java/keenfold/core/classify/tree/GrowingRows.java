package keenfold.core.classify.tree;

/** The rows that a tree is grown from: those of a node are one stretch of an array, in the order of the table. */
final class GrowingRows {
    final int[] row;

    /** The class of each row of the table. */
    final int[] classOf;

    /** The weight of each row of the table, 0 for a row that is not there. */
    final double[] weight;

    private final int[] spare;

    /**
     * @param target class index per row of the table
     * @param weights per row of the table, 0 for a row that is not there
     */
    GrowingRows(int[] target, double[] weights) {
        int n = 0;
        for (double w : weights) {
            n += w > 0 ? 1 : 0;
        }
        this.classOf = target;
        this.weight = weights;
        this.row = new int[n];
        this.spare = new int[n];
        int at = 0;
        for (int i = 0; i < weights.length; i++) {
            if (weights[i] > 0) {
                row[at++] = i;
            }
        }
    }

    int count() {
        return row.length;
    }

    /** Adds the class weights of a stretch. */
    void addClassWeights(int begin, int end, double[] to) {
        for (int i = begin; i < end; i++) {
            to[classOf[row[i]]] += weight[row[i]];
        }
    }

    /**
     * Moves the rows of bins up to {@code bin} to the front of a stretch, keeping their order.
     *
     * @param codes of the column that is split
     * @return where the rest begins
     */
    int partition(int begin, int end, byte[] codes, int bin) {
        int a = begin;
        int b = 0;
        for (int i = begin; i < end; i++) {
            int here = row[i];
            // Written to both sides, of which one moves on: a branch would be guessed wrong every other time.
            int left = ((codes[here] & 0xFF) - bin - 1) >>> (Integer.SIZE - 1);
            row[a] = here;
            spare[b] = here;
            a += left;
            b += 1 - left;
        }
        System.arraycopy(spare, 0, row, a, b);
        return a;
    }
}
