package keenfold.io.ledger;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Plural;

/**
 * What a plan changes about a ledger that was filled by another one before.
 *
 * @param version of the plan that is in force now
 * @param added names of candidates and data sets that are new
 * @param back names of those that were in the plan before, and are again
 * @param changed names of candidates whose settings or program have changed, so that they are new ones
 * @param renamed old and new names of candidates that are only called otherwise
 * @param left names of what is not in the plan any more, as they are called from now on
 * @param repeats what is said of repeats, a data set each
 * @param metrics names of metrics that earlier fits were not scored by
 * @param others keys of the plan that differ otherwise
 * @param kept how many fits of the ledger the plan has
 * @param unused how many it has not
 */
public record LedgerChange(
        int version,
        List<String> added,
        List<String> back,
        List<String> changed,
        List<String> renamed,
        List<String> left,
        List<String> repeats,
        List<String> metrics,
        List<String> others,
        int kept,
        int unused) {
    private static final int MOST_NAMED = 6;

    /** Copies the lists. */
    public LedgerChange {
        added = List.copyOf(added);
        back = List.copyOf(back);
        changed = List.copyOf(changed);
        renamed = List.copyOf(renamed);
        left = List.copyOf(left);
        repeats = List.copyOf(repeats);
        metrics = List.copyOf(metrics);
        others = List.copyOf(others);
    }

    /** The plan is that of the ledger. */
    static LedgerChange none(int version) {
        return new LedgerChange(
                version, List.of(), List.of(), List.of(), List.of(), List.of(), List.of(), List.of(), List.of(), 0, 0);
    }

    /** Returns whether nothing differs. */
    public boolean isNone() {
        return added.isEmpty()
                && back.isEmpty()
                && changed.isEmpty()
                && renamed.isEmpty()
                && left.isEmpty()
                && repeats.isEmpty()
                && metrics.isEmpty()
                && others.isEmpty();
    }

    /** Returns it in words, a line each; none if nothing differs. */
    public List<String> lines() {
        List<String> lines = new ArrayList<>();
        if (isNone()) {
            return lines;
        }
        lines.add("the plan differs from the ledger's; it is version " + version + " there now, and "
                + Plural.of(kept, "fit is", "fits are") + " kept");
        named(lines, "new: ", added, "");
        named(lines, "back in the plan: ", back, ", with the fits made before");
        named(lines, "changed, and so refitted: ", changed, "; the fits made before are kept under the names below");
        named(lines, "renamed: ", renamed, "");
        named(
                lines,
                "not in the plan any more: ",
                left,
                "; kept in the ledger, and not compared unless --with-former asks for it");
        named(lines, "repeats: ", repeats, "");
        named(lines, "metrics computed for the fits made before: ", metrics, "");
        named(lines, "changed besides: ", others, "");
        return lines;
    }

    private static void named(List<String> lines, String what, List<String> names, String more) {
        if (!names.isEmpty()) {
            lines.add("  " + what + String.join(", ", names.subList(0, Math.min(MOST_NAMED, names.size())))
                    + (names.size() > MOST_NAMED ? " and " + (names.size() - MOST_NAMED) + " more" : "") + more);
        }
    }
}
