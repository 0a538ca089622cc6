package keenfold.core.split;

import keenfold.core.data.Rows;

/**
 * A pair of training and test rows.
 *
 * @param repeat 0-based repeat
 * @param fold 0-based fold within the repeat
 * @param train the rows to learn from
 * @param test the rows to be tested on, none of them in {@code train}
 */
public record Split(int repeat, int fold, Rows train, Rows test) {}
