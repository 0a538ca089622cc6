package keenfold.io.ledger;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/**
 * What came of joining ledgers.
 *
 * @param parts in the order of the ledgers
 * @param fits how many there are now
 * @param expected how many a whole run has
 * @param missing how many are missing, by candidate, of those that miss any
 */
public record MergeReport(List<Part> parts, long fits, long expected, Map<String, Long> missing) {
    /** Copies the list. */
    public MergeReport {
        parts = List.copyOf(parts);
    }

    /**
     * What came of one ledger.
     *
     * @param file its name
     * @param taken how many fits came from it
     * @param twice how many were there already, and the same
     * @param damaged what was left out, in words
     */
    public record Part(Path file, long taken, long twice, List<String> damaged) {
        /** Copies the list. */
        public Part {
            damaged = List.copyOf(damaged);
        }
    }
}
