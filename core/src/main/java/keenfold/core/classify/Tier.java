package keenfold.core.classify;

import java.util.List;
import keenfold.core.data.Checks;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;

/**
 * How much of a classifier a person can read and check, from 1, a single guess, to {@value #LAST}, a sum of many models or
 * what nothing is known of.
 *
 * @param number 1 … {@value #LAST}
 * @param reason in a few words
 */
public record Tier(int number, String reason) {
    /** The last tier. */
    public static final int LAST = 6;

    /** The setting by which a candidate states its tier itself; no fit depends on it. */
    public static final Setting SETTING = new Setting(
            "tier",
            Setting.Type.WHOLE,
            Integer.toString(LAST),
            Bounds.from(1).to(LAST),
            List.of(),
            Simpler.NEITHER,
            "how readily a person can read and check it, 1 (a guess) to 6 (a sum of many models); decides no fit");

    /** The tier of what says nothing of itself. */
    public static final Tier UNKNOWN = new Tier(LAST, "nothing is known of it");

    /** Checks the number. */
    public Tier {
        Checks.that(number >= 1 && number <= LAST, "tier = %d: expected 1 to %d", number, LAST);
    }
}
