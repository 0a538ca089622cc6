package keenfold.io.ledger.table;

import java.nio.file.Path;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;

/**
 * A plan that a ledger was filled by; the last one is in force.
 *
 * @param number from 1
 * @param at when it came into force, as ISO 8601 in UTC; empty if that is not known
 * @param program that wrote it, with its version
 * @param fits how many fits the ledger had then
 * @param yaml as {@link PlanWriter} writes it
 */
public record PlanVersion(int number, String at, String program, int fits, String yaml) {
    /**
     * Reads the plan.
     *
     * @param file of the ledger, for messages
     * @throws keenfold.io.InputException if it is not a plan
     */
    public Plan plan(Path file) {
        return PlanReader.kept(file + " (plan)", yaml);
    }

    /** Returns the sections {@code evidence} and {@code pick}, as they are written. */
    String stated() {
        return PlanWriter.stated(yaml);
    }
}
