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
     * Whether a character is not to be shown as it is: control characters and those that turn the direction of writing could
     * change what else is on the screen, separators of lines could make one line look like two, and characters without a
     * shape (of zero width) make two texts look the same.
     */
    public static boolean hidden(int codePoint) {
        return switch (Character.getType(codePoint)) {
            case Character.CONTROL, Character.FORMAT, Character.LINE_SEPARATOR, Character.PARAGRAPH_SEPARATOR -> true;
            default -> false;
        };
    }

    /** Returns text in which each character that is {@link #hidden} has become a question mark. */
    public static String visible(String text) {
        boolean plain = true;
        for (int i = 0; i < text.length() && plain; i++) {
            plain = text.charAt(i) >= ' ' && text.charAt(i) < 0x7F;
        }
        if (plain) {
            return text;
        }
        StringBuilder shown = new StringBuilder(text.length());
        text.codePoints().map(c -> hidden(c) ? '?' : c).forEach(shown::appendCodePoint);
        return shown.toString();
    }

    /** Returns text, made {@link #visible}, broken at spaces, lines after the first indented, each ended by a line feed. */
    public static String lines(String text, int indent) {
        List<String> lines = new ArrayList<>();
        StringBuilder line = new StringBuilder();
        for (String word : visible(text).split(" ", -1)) {
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
