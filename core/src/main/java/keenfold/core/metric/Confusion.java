package keenfold.core.metric;

/**
 * A confusion matrix: cell (a, p) is the weight of the rows of class a that were predicted as class p.
 *
 * <p>A view of one lane of several interleaved matrices.
 */
public final class Confusion {
    private final int classes;
    private final double[] cells;
    private final int lane;
    private final int lanes;

    Confusion(int classes, double[] cells, int lane, int lanes) {
        this.classes = classes;
        this.cells = cells;
        this.lane = lane;
        this.lanes = lanes;
    }

    /** Returns the joint matrix of outcomes. */
    public static Confusion of(Outcomes outcomes) {
        int k = outcomes.classes();
        double[] cells = new double[k * k];
        for (int i = 0; i < outcomes.size(); i++) {
            cells[outcomes.actual(i) * k + outcomes.predicted(i)]++;
        }
        return new Confusion(k, cells, 0, 1);
    }

    /** Returns the number of classes, K. */
    public int classes() {
        return classes;
    }

    /** Returns the weight of one cell. */
    public double at(int actual, int predicted) {
        return cells[(actual * classes + predicted) * lanes + lane];
    }

    /** Returns the weight of the rows of a class. */
    public double actual(int c) {
        double sum = 0;
        for (int p = 0; p < classes; p++) {
            sum += at(c, p);
        }
        return sum;
    }

    /** Returns the weight of the rows predicted as a class. */
    public double predicted(int c) {
        double sum = 0;
        for (int a = 0; a < classes; a++) {
            sum += at(a, c);
        }
        return sum;
    }

    /** Returns the weight of the rows predicted as what they are. */
    public double correct() {
        double sum = 0;
        for (int c = 0; c < classes; c++) {
            sum += at(c, c);
        }
        return sum;
    }

    /** Returns the weight of all rows. */
    public double total() {
        double sum = 0;
        for (int c = 0; c < classes; c++) {
            sum += actual(c);
        }
        return sum;
    }

    /** Subtracts a weight of one from a cell of this view's own array; for leaving a row out and putting it back. */
    void add(int cell, double weight) {
        cells[cell * lanes + lane] += weight;
    }
}
