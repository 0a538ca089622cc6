package keenfold.io;

import java.util.Collection;
import java.util.Comparator;
import java.util.Optional;

/** The known name that was probably meant. */
public final class Nearest {
    private Nearest() {}

    /** Returns the known name with the fewest changed, added, dropped or swapped letters, if it is near at all. */
    public static Optional<String> to(String wanted, Collection<String> known) {
        int most = Math.max(2, wanted.length() / 2);
        return known.stream()
                .filter(k -> distance(wanted, k) <= most)
                .min(Comparator.comparingInt((String k) -> distance(wanted, k)));
    }

    /** Returns "; the nearest is "NAME"", or the known names if none is near. */
    public static String hint(String wanted, Collection<String> known) {
        return to(wanted, known)
                .map(k -> "; the nearest is \"" + k + "\"")
                .orElse(known.isEmpty() ? "" : "; there are " + String.join(", ", known));
    }

    /** Optimal string alignment distance, letters compared without case. */
    private static int distance(String a, String b) {
        int[][] d = new int[a.length() + 1][b.length() + 1];
        for (int i = 0; i <= a.length(); i++) {
            for (int j = 0; j <= b.length(); j++) {
                if (i == 0 || j == 0) {
                    d[i][j] = i + j;
                    continue;
                }
                int cost = lower(a, i - 1) == lower(b, j - 1) ? 0 : 1;
                d[i][j] = Math.min(Math.min(d[i - 1][j], d[i][j - 1]) + 1, d[i - 1][j - 1] + cost);
                if (i > 1 && j > 1 && lower(a, i - 1) == lower(b, j - 2) && lower(a, i - 2) == lower(b, j - 1)) {
                    d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
                }
            }
        }
        return d[a.length()][b.length()];
    }

    private static char lower(String text, int i) {
        return Character.toLowerCase(text.charAt(i));
    }
}
