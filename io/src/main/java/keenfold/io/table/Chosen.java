package keenfold.io.table;

/** Which rows of a data set are chosen. */
public final class Chosen {
    private final boolean[] mask;

    Chosen(boolean[] mask) {
        this.mask = mask;
    }

    /** Returns whether a row is. */
    public boolean has(int row) {
        return mask[row];
    }
}
