package keenfold.results.table;

/** How the cells of a column stand below each other. */
public enum Alignment {
    /** Names, which lose their middle when they are long. */
    NAME,
    /** Other texts, on the left. */
    LEFT,
    /** Texts and numbers of one form, on the right. */
    RIGHT,
    /** Numbers, at their points. */
    POINT
}
