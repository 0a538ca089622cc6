package keenfold.io.ledger.table;

import java.time.Instant;
import java.time.temporal.ChronoUnit;

/**
 * Something that happened to a ledger.
 *
 * @param at when, as ISO 8601 in UTC; empty if that is not known
 * @param event what: one of the constants, or what a later version writes
 * @param subject of what: a candidate, a data set, a version of the plan
 * @param details more of it; of a note its text
 */
public record Event(String at, String event, String subject, String details) {
    public static final String MADE = "made";
    public static final String JOINED = "ledger joined";
    public static final String PLAN = "plan changed";
    public static final String ADDED = "added";
    public static final String CHANGED = "settings changed";
    public static final String LEFT = "left the plan";
    public static final String BACK = "back in the plan";
    public static final String RENAMED = "renamed";
    public static final String FORGOTTEN = "forgotten";
    public static final String EVIDENCE = "evidence changed";
    public static final String PICK = "pick changed";
    public static final String HOLDOUT = "holdout opened";
    public static final String NOTE = "note";

    /** Returns an event of now, to the second. */
    public static Event of(Instant now, String event, String subject, String details) {
        return new Event(time(now), event, subject, details);
    }

    /** A time as a ledger holds it. */
    public static String time(Instant now) {
        return now.truncatedTo(ChronoUnit.SECONDS).toString();
    }
}
