package keenfold.core.data;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The known name that was probably meant. */
public final class Suggestion {
    private static final int MOST_LISTED = 20;

    private Suggestion() {}

    /**
     * Returns the known name with the fewest changed, added, dropped or swapped letters, if a third of them at most are so;
     * else one that begins as the wanted name does but for its last letter, or has a whole word of it.
     */
    public static Optional<String> to(String wanted, Collection<String> known) {
        int letters = wanted.replace("-", "").length();
        int most = letters < 2 ? 0 : Math.max(1, letters / 3);
        Optional<String> near = known.stream()
                .filter(k -> distance(wanted, k) <= most)
                .min(Comparator.comparingInt((String k) -> distance(wanted, k)));
        return letters < 2
                ? near
                : near.or(() -> known.stream()
                                .filter(k -> letters > 2 && lower(k).startsWith(beginning(wanted)))
                                .min(Comparator.comparingInt(String::length)))
                        .or(() -> known.stream()
                                .filter(k -> sharesWord(wanted, k))
                                .findFirst());
    }

    /** Returns "; the nearest is "NAME"", or the known names if none is near and they are not too many to be read. */
    public static String hint(String wanted, Collection<String> known) {
        return to(wanted, known)
                .map(k -> "; the nearest is \"" + k + "\"")
                .orElse(
                        known.isEmpty()
                                ? ""
                                : known.size() > MOST_LISTED
                                        ? "; there are " + known.size() + ", such as "
                                                + String.join(
                                                        ", ", List.copyOf(known).subList(0, MOST_LISTED))
                                        : "; there are " + String.join(", ", known));
    }

    /** A name without its last letter, which another number of it may change, unless too few letters stay. */
    private static String beginning(String name) {
        return lower(name.replace("-", "").length() > 4 ? name.substring(0, name.length() - 1) : name);
    }

    /** Whether one name is a word of the other. */
    private static boolean sharesWord(String wanted, String known) {
        return List.of(lower(wanted).split("[-_ ]+")).contains(lower(known))
                || List.of(lower(known).split("[-_ ]+")).contains(lower(wanted));
    }

    /** Optimal string alignment distance, letters compared without case; hyphens, underscores and spaces count as the same. */
    private static int distance(String one, String other) {
        String a = lower(one);
        String b = lower(other);
        int[][] d = new int[a.length() + 1][b.length() + 1];
        for (int i = 0; i <= a.length(); i++) {
            for (int j = 0; j <= b.length(); j++) {
                if (i == 0 || j == 0) {
                    d[i][j] = i + j;
                    continue;
                }
                int cost = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                d[i][j] = Math.min(Math.min(d[i - 1][j], d[i][j - 1]) + 1, d[i - 1][j - 1] + cost);
                if (i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1)) {
                    d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
                }
            }
        }
        return d[a.length()][b.length()];
    }

    private static String lower(String text) {
        return text.toLowerCase(Locale.ROOT).replaceAll("[_ ]", "-");
    }
}
