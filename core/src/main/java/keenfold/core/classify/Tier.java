package keenfold.core.classify;

import keenfold.core.data.Checks;

/**
 * How much of a classifier a person can read and check, from 1, a single guess, to {@value #LAST}, a sum of many models or
 * what nothing is known of.
 *
 * @param number 1 … {@value #LAST}
 * @param reason in a few words
 */
public record Tier(int number, String reason) {
    /** The last tier. */
    public static final int LAST = 6;

    /** The tier of what says nothing of itself. */
    public static final Tier UNKNOWN = new Tier(LAST, "nothing is known of it");

    /** Checks the number. */
    public Tier {
        Checks.that(number >= 1 && number <= LAST, "tier = %d: expected 1 to %d", number, LAST);
    }
}
