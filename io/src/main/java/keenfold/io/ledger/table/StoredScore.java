package keenfold.io.ledger.table;

import java.util.Comparator;
import keenfold.core.data.CodePoints;

/**
 * A score as a ledger holds it.
 *
 * @param side {@link #TEST} or {@link #TRAIN}
 * @param metric its name
 * @param value NaN where it is undefined
 */
public record StoredScore(String side, String metric, double value) {
    /** Scores of the rows that a fit was tested on. */
    public static final String TEST = "test";
    /** Scores of the rows that a fit was trained on. */
    public static final String TRAIN = "train";

    /** The order in which a checksum covers them, and the database holds them. */
    static final Comparator<StoredScore> ORDER =
            Comparator.comparing(StoredScore::side).thenComparing(StoredScore::metric, CodePoints.ORDER);
}
