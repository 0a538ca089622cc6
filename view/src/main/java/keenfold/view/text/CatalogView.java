package keenfold.view.text;

import java.util.List;
import keenfold.results.Catalog;

/** What can be asked for, as text. */
public final class CatalogView {
    private static final int INDENT = 4;

    /** Stands for an indenting blank until lines are broken, so that it is not taken for a gap between words. */
    private static final String BLANK = "\u00A0";

    private CatalogView() {}

    /** Returns sections with their entries. */
    public static String render(Catalog catalog, Ink ink) {
        StringBuilder text = new StringBuilder();
        catalog.sections().forEach((title, entries) -> text.append(render(title, entries, ink)));
        return text.toString();
    }

    private static String render(String title, List<Catalog.Entry> entries, Ink ink) {
        StringBuilder text = new StringBuilder(ink.strong(title) + "\n\n");
        for (Catalog.Entry entry : entries) {
            text.append(Wrap.lines(entry.name() + ": " + entry.meaning(), INDENT)
                    .replaceFirst("^[^:]+", ink.strong(entry.name())));
            entry.facts().forEach((key, value) -> text.append(indented(key + ": " + value)));
            for (Catalog.Choice s : entry.settings()) {
                text.append(indented("- " + s.name() + ": " + s.meaning() + " (" + s.values() + preset(s) + ")"));
            }
            text.append('\n');
        }
        return text.toString();
    }

    private static String preset(Catalog.Choice s) {
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
