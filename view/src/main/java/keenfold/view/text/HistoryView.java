package keenfold.view.text;

import keenfold.results.LedgerHistory;

/** What happened to a ledger, an event a line. */
public final class HistoryView {
    private static final int TO_THE_MINUTE = 16;
    private static final String UNKNOWN = "at some time    ";

    private HistoryView() {}

    /** Returns it as text. */
    public static String render(LedgerHistory history, Ink ink) {
        StringBuilder out = new StringBuilder();
        out.append(ink.strong("what happened to " + Wrap.visible(history.ledger())))
                .append(" (times are UTC)\n");
        int width = history.events().stream()
                .mapToInt(e -> e.event().length())
                .max()
                .orElse(0);
        for (LedgerHistory.Entry event : history.events()) {
            String what = event.subject()
                    + (event.subject().isEmpty() || event.details().isEmpty() ? "" : ": ")
                    + event.details();
            String line = when(event.at()) + "  " + event.event()
                    + " ".repeat(width - event.event().length()) + "  " + Wrap.visible(what);
            out.append(Wrap.lines(line, TO_THE_MINUTE + 2 + width + 2).stripTrailing())
                    .append('\n');
        }
        if (!history.former().isEmpty()) {
            out.append('\n')
                    .append(Wrap.lines(
                                    "not in the plan any more: " + Wrap.visible(String.join(", ", history.former()))
                                            + " (--with-former compares them)",
                                    4)
                            .stripTrailing())
                    .append('\n');
        }
        return out.toString();
    }

    private static String when(String at) {
        return at.length() < TO_THE_MINUTE
                ? UNKNOWN
                : at.substring(0, TO_THE_MINUTE).replace('T', ' ');
    }
}
