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

    private Steps() {}

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
