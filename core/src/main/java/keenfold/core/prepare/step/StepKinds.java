package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Checks;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.StepKind;

/** The kinds of steps there are. */
public final class StepKinds {
    /** The kind of step that needs columns of dates. */
    public static final StepKind DATE_PARTS = DateParts.KIND;

    /** The kind of step that needs columns of texts. */
    public static final StepKind WORDS = TextWords.KIND;

    private static final List<StepKind> ALL = List.of(
            Fill.KIND,
            Standardise.KIND,
            Rescale.KIND,
            Log.KIND,
            Power.KIND,
            OneHot.KIND,
            Ordinal.KIND,
            Bins.KIND,
            TargetMeans.KIND,
            DATE_PARTS,
            WORDS,
            Components.KIND,
            Strongest.KIND,
            DropConstant.KIND,
            DropCorrelated.KIND,
            Interactions.KIND,
            Keep.LEAVE_OUT,
            Keep.KEEP_ONLY);

    private StepKinds() {}

    /** Behind these, days are other numbers, whose years and months would be made without a word. */
    private static final List<StepKind> CHANGING_NUMBERS =
            List.of(Standardise.KIND, Rescale.KIND, Log.KIND, Power.KIND, Bins.KIND, Components.KIND);

    /**
     * Refuses parts of dates behind a step that changes numbers.
     *
     * @param steps of a candidate, in order
     * @throws IllegalArgumentException if there are such
     */
    public static void requireDatesAsTheyAre(List<StepKind> steps) {
        int at = steps.lastIndexOf(DATE_PARTS);
        steps.stream()
                .limit(Math.max(0, at))
                .filter(CHANGING_NUMBERS::contains)
                .findFirst()
                .ifPresent(before -> {
                    throw Checks.wrong("date-parts stands behind " + before.name()
                            + ", which changes numbers: put it before that");
                });
    }

    /** Returns all kinds, in the order in which they are commonly used. */
    public static List<StepKind> all() {
        return ALL;
    }

    /** Returns the kind of a name. */
    public static Optional<StepKind> of(String name) {
        return ALL.stream().filter(k -> k.name().equals(name)).findFirst();
    }

    /** Returns the steps that a classifier gets when the plan names none. */
    public static List<StepKind> neededBy(Needs needs) {
        List<StepKind> steps = new ArrayList<>();
        if (needs.noMissing()) {
            steps.add(Fill.KIND);
        }
        if (needs.numbersOnly()) {
            steps.add(OneHot.KIND);
        }
        if (needs.oneScale()) {
            steps.add(Standardise.KIND);
        }
        return List.copyOf(steps);
    }
}
