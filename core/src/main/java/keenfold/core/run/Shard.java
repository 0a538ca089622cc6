package keenfold.core.run;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import keenfold.core.data.Checks;

/**
 * One of several shares of a comparison's units.
 *
 * @param number from 1
 * @param of how many there are
 */
public record Shard(int number, int of) {
    private static final Pattern FORM = Pattern.compile("(\\d{1,9})/(\\d{1,9})");

    /** Checks that it is one of them. */
    public Shard {
        Checks.that(
                of >= 1 && number >= 1 && number <= of, "shard %d/%d: expected a number from 1 to %d", number, of, of);
    }

    /**
     * Reads {@code i/n}.
     *
     * @throws IllegalArgumentException if it is none
     */
    public static Shard parse(String text) {
        Matcher form = FORM.matcher(text);
        Checks.that(form.matches(), "shard \"%s\": expected a number and how many there are, such as 3/8", text);
        return new Shard(Integer.parseInt(form.group(1)), Integer.parseInt(form.group(2)));
    }

    @Override
    public String toString() {
        return number + "/" + of;
    }
}
