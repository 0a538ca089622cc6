package keenfold.io.plan;

import keenfold.core.data.Checks;

/**
 * How large a plan may be. A plan can come from somebody else, and a slip of one digit asks for a million times the work:
 * what is beyond these limits is refused before anything is made of it.
 */
final class PlanLimits {
    /** Bytes of the file. */
    static final int BYTES = 1 << 22;

    /** Characters of one value. */
    static final int CHARACTERS = 10_000;

    /** Repeats of a division of the rows, and splits of a scheme that draws each by itself. */
    static final int REPEATS = 10_000;

    /** Values of a range. */
    static final int POINTS = 1_000;

    /** Candidates of a plan, members of families included; combinations of chosen settings of one candidate. */
    static final int CANDIDATES = 10_000;

    /** Draws of the bootstrap. */
    static final int DRAWS = 1_000_000;

    /** Divisions of the rows into halves. */
    static final int HALVES = 10_000;

    private PlanLimits() {}

    /** Returns a number that is not beyond its limit. */
    static int most(String name, long value, int most) {
        Checks.that(value <= most, "%s = %d: at most %d are possible", name, value, most);
        return (int) value;
    }

    /** Returns how many combinations some lists of values have, which must not be too many. */
    static int combinations(String name, Iterable<? extends java.util.Collection<?>> lists) {
        long product = 1;
        for (java.util.Collection<?> values : lists) {
            product = most(name, product * values.size(), CANDIDATES);
        }
        return (int) product;
    }
}
