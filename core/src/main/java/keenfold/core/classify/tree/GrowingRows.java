package keenfold.core.classify.tree;

/**
 * The rows that a tree is grown from: those of a node are one stretch of an array, with their classes and weights beside them.
 */
final class GrowingRows {
    final int[] row;
    final int[] classOf;
    final double[] weight;
    private final int[] spareRow;
    private final int[] spareClass;
    private final double[] spareWeight;

    /**
     * @param target class index per row of the table
     * @param weights per row of the table, 0 for a row that is not there
     */
    GrowingRows(int[] target, double[] weights) {
        int n = 0;
        for (double w : weights) {
            n += w > 0 ? 1 : 0;
        }
        this.row = new int[n];
        this.classOf = new int[n];
        this.weight = new double[n];
        this.spareRow = new int[n];
        this.spareClass = new int[n];
        this.spareWeight = new double[n];
        int at = 0;
        for (int i = 0; i < weights.length; i++) {
            if (weights[i] > 0) {
                row[at] = i;
                classOf[at] = target[i];
                weight[at++] = weights[i];
            }
        }
    }

    int count() {
        return row.length;
    }

    /**
     * Moves the rows of bins up to {@code bin} to the front of a stretch, keeping their order.
     *
     * @param codes of the column that is split
     * @param leftWeights where the class weights of the front are added
     * @param rightWeights where those of the rest are added
     * @return where the rest begins
     */
    int partition(int begin, int end, byte[] codes, int bin, double[] leftWeights, double[] rightWeights) {
        int a = begin;
        int b = 0;
        for (int i = begin; i < end; i++) {
            int here = row[i];
            if ((codes[here] & 0xFF) <= bin) {
                leftWeights[classOf[i]] += weight[i];
                classOf[a] = classOf[i];
                weight[a] = weight[i];
                row[a++] = here;
            } else {
                rightWeights[classOf[i]] += weight[i];
                spareClass[b] = classOf[i];
                spareWeight[b] = weight[i];
                spareRow[b++] = here;
            }
        }
        System.arraycopy(spareRow, 0, row, a, b);
        System.arraycopy(spareClass, 0, classOf, a, b);
        System.arraycopy(spareWeight, 0, weight, a, b);
        return a;
    }
}
