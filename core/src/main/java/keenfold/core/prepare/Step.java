package keenfold.core.prepare;

import keenfold.core.data.Table;

/** A preparing transformation that is learned from training rows alone. */
public interface Step {
    /** Returns the name as the catalog lists it. */
    String name();

    /**
     * Learns from training rows.
     *
     * @param training the rows, at least one
     * @param weights case counts, one per row, positive
     */
    Fitted fit(Table training, double[] weights);

    /** A fitted step. */
    interface Fitted {
        /** Returns the transformed rows; the table has the columns of the training rows. */
        Table apply(Table table);
    }
}
