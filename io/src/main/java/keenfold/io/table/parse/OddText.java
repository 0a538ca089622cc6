package keenfold.io.table.parse;

import java.util.List;
import java.util.regex.Pattern;
import keenfold.io.InputException;

/** What is odd about a text that is read as a category or a name: it is kept as it is, with a notice, or refused. */
public final class OddText {
    private static final int LONG = 60;
    private static final int HUGE = 10_000;
    private static final Pattern MARKUP = Pattern.compile("<[A-Za-z/!?]");
    private static final Pattern DISGUISED = Pattern.compile(
            "[+-]?[$€£]? ?(\\d{1,3}([ ,.'’\u00A0\u202F]\\d{3})+([.,]\\d+)?|\\d+,\\d+|\\d+(\\.\\d+)?(?= ?[%$€£]))"
                    + "(e[+-]?\\d+)? ?[%$€£]?");

    private OddText() {}

    /**
     * Looks at a text.
     *
     * @return whether a notice was given
     * @throws InputException if it holds a NUL
     */
    public static boolean in(String text, String place, String what, List<String> notices) {
        int before = notices.size();
        boolean control = false;
        boolean shapeless = false;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == 0) {
                throw new InputException(
                        place, what + " holds a NUL byte; the file is damaged, or is no text in this encoding");
            }
            control |= Character.isISOControl(c) && c != '\n' && c != '\r' && c != '\t';
            shapeless |= Character.getType(c) == Character.FORMAT || c == '\u2028' || c == '\u2029';
        }
        if (control) {
            notices.add(place + ": " + what + " holds control characters; they are kept, and shown as \"?\"");
        } else if (shapeless) {
            notices.add(
                    place + ": " + what + " holds characters that have no shape or turn the direction of writing; they"
                            + " are kept, and shown as \"?\"");
        } else if (text.length() > HUGE) {
            notices.add(place + ": " + what + " has " + text.length()
                    + " characters; if that is not meant, a quotation mark before it was never closed");
        } else if (text.indexOf('\n') >= 0 || text.indexOf('\r') >= 0) {
            notices.add(place + ": " + what + " goes over several lines; if that is not meant, a quotation mark was"
                    + " never closed");
        } else if (MARKUP.matcher(text).find()) {
            notices.add(place + ": " + what + " holds markup, " + quoted(text) + "; it is taken as plain text");
        } else if (text.startsWith("=") && text.length() > 1) {
            notices.add(place + ": " + what + " looks like a formula, " + quoted(text)
                    + "; it is taken as plain text, so save values instead of formulas");
        }
        return notices.size() > before;
    }

    /** Whether a text is a number that is written with thousands separators, a decimal comma or a sign of its unit. */
    static boolean disguised(String text) {
        return text.length() < LONG && DISGUISED.matcher(text).matches();
    }

    static String quoted(String text) {
        return "\"" + (text.length() > LONG ? text.substring(0, LONG) + "..." : text) + "\"";
    }
}
