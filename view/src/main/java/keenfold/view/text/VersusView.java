package keenfold.view.text;

import keenfold.core.data.Plural;
import keenfold.results.Versus;
import keenfold.results.table.NumberFormats;

/** Two ledgers against each other, a table for each data set and metric. */
public final class VersusView {
    private VersusView() {}

    /** Returns it as text. */
    public static String render(Versus versus, Ink ink) {
        StringBuilder text = new StringBuilder();
        String before = "";
        for (Versus.Part part : versus.parts()) {
            if (!part.dataset().equals(before)) {
                text.append(ink.strong(Wrap.lines(title(versus, part), 2).stripTrailing()))
                        .append('\n')
                        .append(Wrap.lines(how(part), 2));
                before = part.dataset();
            }
            text.append('\n')
                    .append(ink.strong(part.metric() + (part.higherIsBetter() ? " (higher" : " (lower")
                            + " is better); first - other"))
                    .append('\n')
                    .append(TextTable.of(part.table(versus.level())).render(ink));
        }
        text.append('\n');
        versus.only().forEach(o -> text.append(Wrap.lines(Wrap.visible(o), 4)));
        if (versus.parts().stream().anyMatch(Versus.Part::paired)) {
            text.append(Wrap.lines(
                    "call: better or worse where p adjusted (for the candidates of the table) < "
                            + NumberFormats.shortest(1 - versus.level())
                            + "; better means that the first is. An undecided pair is not shown to be equal.",
                    2));
        }
        return text.toString();
    }

    private static String title(Versus versus, Versus.Part part) {
        String other = part.otherDataset().equals(part.dataset()) ? "" : " (" + part.otherDataset() + " there)";
        return part.dataset() + ": " + versus.ledger() + " (first) against " + versus.other() + " (other)" + other;
    }

    private static String how(Versus.Part part) {
        if (part.paired()) {
            return Plural.of(part.rows(), "row") + " in the same folds of " + Plural.of(part.repeats(), "repeat")
                    + " in both" + (part.sameValues() ? "" : ", with other columns, or other values in them")
                    + ": differences are paired, and tested";
        }
        return part.rows() + " rows against " + part.otherRows() + ", " + part.apart()
                + ": means are not paired, and differences not tested";
    }
}
