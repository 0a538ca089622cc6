package keenfold.core.run;

import keenfold.core.data.Checks;

/**
 * How often the rows are divided into two halves, and how often the candidates are run in each.
 *
 * @param splits S; 0 for not at all
 * @param repeats H, runs of k-fold in each half, with new folds each time; 2 to {@link #MOST_REPEATS}
 */
public record Halving(int splits, int repeats) {
    /** How often each half is run unless something else is asked for. */
    public static final int PRESET_REPEATS = 2;

    /** More repeats of a half than this are not asked for, and are in no sound ledger. */
    public static final int MOST_REPEATS = 100;

    /** Not at all. */
    public static final Halving NONE = new Halving(0, PRESET_REPEATS);

    /** Checks the ranges. */
    public Halving {
        Checks.atLeast("splits", splits, 0);
        Checks.atLeast("repeats", repeats, 2);
        Checks.that(repeats <= MOST_REPEATS, "repeats = %d: at most %d are possible", repeats, MOST_REPEATS);
    }

    /** Returns how many halves there are, two of each split: number 2s and 2s + 1 are those of split s. */
    public int halves() {
        return 2 * splits;
    }
}
