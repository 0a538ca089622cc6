package keenfold.core.data;

import java.util.Comparator;

/** The order of labels, levels and names: by Unicode code point, the same in every locale. */
public final class CodePoints {
    /** Compares two texts code point by code point (UTF-16 order would put astral characters too early). */
    public static final Comparator<String> ORDER = CodePoints::compare;

    private CodePoints() {}

    private static int compare(String a, String b) {
        int i = 0;
        int n = Math.min(a.length(), b.length());
        while (i < n) {
            int x = a.codePointAt(i);
            int y = b.codePointAt(i);
            if (x != y) {
                return Integer.compare(x, y);
            }
            i += Character.charCount(x);
        }
        return Integer.compare(a.length(), b.length());
    }
}
