package keenfold.io.plan;

import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;

/**
 * How one candidate is chosen.
 *
 * @param rule the rule in force
 * @param simplerBy by what one candidate is simpler than another
 * @param failedAllowed whether candidates with many failed fits are compared, and may be picked
 */
public record Choosing(Rule rule, SimplerBy simplerBy, boolean failedAllowed) {
    /** The one-SE rule by size. */
    public static final Choosing PRESET = new Choosing(Rule.ONE_SE, SimplerBy.KIND, false);
}
