package keenfold.io.ledger;

import java.util.List;
import keenfold.core.run.result.Results;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.Stated;
import keenfold.io.plan.Plan;

/**
 * What a ledger holds.
 *
 * @param plan the plan in force; with former candidates and data sets, if they were asked for
 * @param results tasks (without feature columns), candidates and fits
 * @param expected how many fits the whole plan comes to
 * @param stated what the plan said of evidence and pick before the first fit, and later changes; none if that is not known
 * @param history what happened to the ledger, the first event first
 * @param former names of candidates and data sets that are not in the plan any more, as they are called if asked for
 * @param program that wrote the plan in force, with its version
 * @param damage what was lost of the file, in words; none as a rule
 */
public record LedgerContent(
        Plan plan,
        Results results,
        int expected,
        List<Stated> stated,
        List<Event> history,
        List<String> former,
        String program,
        List<String> damage) {
    /** Copies the list. */
    public LedgerContent {
        stated = List.copyOf(stated);
        history = List.copyOf(history);
        former = List.copyOf(former);
        damage = List.copyOf(damage);
    }

    /** Returns the notes, the first one first. */
    public List<Event> notes() {
        return history.stream().filter(e -> e.event().equals(Event.NOTE)).toList();
    }

    /** Returns the notes in words, each with its time. */
    public List<String> datedNotes() {
        return notes().stream()
                .map(n -> n.at().replace('T', ' ').replaceFirst(":\\d\\dZ$", " UTC") + ": " + n.details())
                .toList();
    }

    /** Returns how many fits failed. */
    public long failed() {
        return results.fits().stream()
                .filter(keenfold.core.run.result.Fit::failed)
                .count();
    }
}
