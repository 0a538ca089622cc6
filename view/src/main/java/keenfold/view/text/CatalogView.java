package keenfold.view.text;

import java.util.List;
import java.util.Map;

/** What can be asked for, as text. */
public final class CatalogView {
    private static final int INDENT = 4;

    /** Stands for an indenting blank until lines are broken, lest it be taken for a gap between words. */
    private static final String BLANK = "\u00A0";

    private CatalogView() {}

    /**
     * One thing that can be asked for.
     *
     * @param name as plans write it
     * @param meaning one line
     * @param facts title to text, in order
     * @param settings its settings, perhaps none
     */
    public record Entry(String name, String meaning, Map<String, String> facts, List<Choice> settings) {}

    /**
     * A setting of an entry.
     *
     * @param name as plans write it
     * @param values which values it takes
     * @param preset the value where none is named; {@code none} or {@code required}
     * @param meaning one line
     */
    public record Choice(String name, String values, String preset, String meaning) {}

    /** Returns a section with its entries. */
    public static String render(String title, List<Entry> entries, Ink ink) {
        StringBuilder text = new StringBuilder(ink.strong(title) + "\n\n");
        for (Entry entry : entries) {
            text.append(Wrap.lines(entry.name() + ": " + entry.meaning(), INDENT)
                    .replaceFirst("^[^:]+", ink.strong(entry.name())));
            entry.facts().forEach((key, value) -> text.append(indented(key + ": " + value)));
            for (Choice s : entry.settings()) {
                text.append(indented("- " + s.name() + ": " + s.meaning() + " (" + s.values() + preset(s) + ")"));
            }
            text.append('\n');
        }
        return text.toString();
    }

    private static String preset(Choice s) {
        return switch (s.preset()) {
            case "none" -> "";
            case "required" -> "; must be named";
            default -> "; " + s.preset() + " if left out";
        };
    }

    private static String indented(String text) {
        return Wrap.lines(BLANK.repeat(INDENT) + text, INDENT + 2).replace(BLANK, " ");
    }
}
