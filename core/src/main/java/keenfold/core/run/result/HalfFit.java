package keenfold.core.run.result;

/**
 * A fit of a run on one half of the rows.
 *
 * @param half number of the half, from 0; 2s and 2s + 1 are the two of split s
 * @param fit repeat and fold are those within the half; its outcomes have the row numbers of the whole data set
 */
public record HalfFit(int half, Fit fit) {}
