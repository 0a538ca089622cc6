package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;

/** The steps there are. */
public final class Steps {
    /** Fills missing values. */
    public static final Step FILL = new Fill();
    /** Turns categories into columns of zeros and ones. */
    public static final Step ONE_HOT = new OneHot();
    /** Gives number columns mean 0 and standard deviation 1. */
    public static final Step STANDARDISE = new Standardise();

    /**
     * What is to be known of a step.
     *
     * @param name as outputs write it
     * @param meaning one line
     * @param definition what it learns and does
     * @param fromTarget whether it looks at the classes of the training rows
     */
    public record About(String name, String meaning, String definition, boolean fromTarget) {}

    private Steps() {}

    /** Returns what is to be known of each step. */
    public static List<About> catalog() {
        return List.of(
                new About(
                        FILL.name(),
                        "puts something into missing values",
                        "numbers: the weighted median of the training rows; categories: their most frequent level, the first in"
                                + " code point order among equals; a column without any value: 0, or its first level",
                        false),
                new About(
                        ONE_HOT.name(),
                        "turns categories into columns of zeros and ones",
                        "one column per level that the training rows show, one for two levels, none for one; a level they do not"
                                + " show gives zeros",
                        false),
                new About(
                        STANDARDISE.name(),
                        "gives number columns mean 0 and standard deviation 1",
                        "(x - m)/s with the weighted mean m and standard deviation s of the training rows (divisor n); columns"
                                + " that are constant there are dropped",
                        false));
    }

    /** Returns the steps that a classifier gets when the plan names none. */
    public static List<Step> neededBy(Needs needs) {
        List<Step> steps = new ArrayList<>();
        if (needs.noMissing()) {
            steps.add(FILL);
        }
        if (needs.numbersOnly()) {
            steps.add(ONE_HOT);
        }
        if (needs.oneScale()) {
            steps.add(STANDARDISE);
        }
        return List.copyOf(steps);
    }
}
