package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;

/** Sentences broken into lines. */
public final class Wrap {
    /** The width that everything fits. */
    public static final int WIDTH = 100;

    private Wrap() {}

    /** Returns the length of the longest line as it is seen: emphasis has no width. */
    static int width(String text) {
        return text.replaceAll("\u001B\\[[0-9]+m", "")
                .lines()
                .mapToInt(String::length)
                .max()
                .orElse(0);
    }

    /**
     * Returns text as it may be shown: control characters, and those that turn the direction of writing, could change what
     * else is on the screen, and become question marks.
     */
    public static String visible(String text) {
        boolean plain = true;
        for (int i = 0; i < text.length() && plain; i++) {
            plain = text.charAt(i) >= ' ' && text.charAt(i) < 0x7F;
        }
        return plain ? text : text.replaceAll("[\\p{Cc}\u202A-\u202E\u2066-\u2069]", "?");
    }

    /** Returns text broken at spaces, lines after the first indented, each ended by a line feed. */
    public static String lines(String text, int indent) {
        List<String> lines = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : text.split(" ", -1)) {
            int start = lines.isEmpty() ? 0 : indent;
            if (line.length() > start && line.length() + 1 + word.length() > WIDTH) {
                lines.add(line.toString());
                line = new StringBuilder(" ".repeat(indent));
                start = indent;
            }
            line.append(line.length() > start ? " " : "").append(word);
        }
        lines.add(line.toString());
        return String.join("\n", lines) + "\n";
    }
}
