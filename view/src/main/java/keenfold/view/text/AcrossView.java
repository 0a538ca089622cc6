package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import keenfold.core.infer.Across;
import keenfold.results.AcrossDataSets;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** A comparison across data sets. */
public final class AcrossView {
    private static final int MOST_PAIRS = 30;

    private AcrossView() {}

    /** Returns average ranks, the tests of all candidates at once, and the pairs, metric by metric. */
    public static String render(AcrossDataSets across, Ink ink) {
        return across.parts().stream()
                .map(p -> render(p, across.evaluation().level(), ink) + "\n")
                .collect(Collectors.joining());
    }

    private static String render(AcrossDataSets.OfMetric part, double level, Ink ink) {
        Across across = part.sets().across();
        return ink.strong(String.format(Locale.ROOT, "%s across %d data sets", part.name(), across.sets())) + "\n"
                + means(part, ink) + "\n"
                + tests(across, level) + "\n"
                + pairs(part, ink);
    }

    /** The means, a line a data set, the best ranked candidate first; as many tables as it takes to fit the page. */
    private static String means(AcrossDataSets.OfMetric part, Ink ink) {
        List<Integer> order = part.ranked();
        StringBuilder text = new StringBuilder();
        int from = 0;
        while (from < order.size()) {
            int to = order.size();
            String table = means(part, order.subList(from, to), ink);
            while (to > from + 1 && Wrap.width(table) > Wrap.WIDTH) {
                to--;
                table = means(part, order.subList(from, to), ink);
            }
            text.append(from == 0 ? "" : "\n").append(table);
            from = to;
        }
        return text.toString();
    }

    private static String means(AcrossDataSets.OfMetric part, List<Integer> shown, Ink ink) {
        double[] average = part.sets().across().averageRanks();
        TextTable table = TextTable.empty().column("data set", Alignment.NAME);
        shown.forEach(j -> table.column(part.candidates().get(j), Alignment.POINT));
        for (int t = 0; t < part.each().size(); t++) {
            int set = t;
            List<String> cells = new ArrayList<>(
                    List.of(part.each().get(t).panel().task().data().name()));
            shown.forEach(j -> cells.add(NumberFormats.fixed(part.mean(set, j), part.decimals(set))));
            table.row(cells);
        }
        List<String> last = new ArrayList<>(List.of("mean rank"));
        shown.forEach(j -> last.add(NumberFormats.fixed(average[j], 3)));
        table.row(last);
        return table.render(ink);
    }

    /** Returns the tests of all candidates at once, in a sentence or two, broken into lines. */
    public static String tests(Across across, double level) {
        Across.Test friedman = across.friedman(true);
        Across.Test plain = across.friedman(false);
        Across.Test iman = across.imanDavenport();
        Across.Test ofPlain = across.imanDavenport(false);
        boolean ties = friedman.statistic() != plain.statistic();
        String text = ties
                ? String.format(
                        Locale.ROOT,
                        "Friedman chi-square %s, p %s, and Iman-Davenport F %s, p %s%s, both corrected for ties; without the"
                                + " correction chi-square %s, p %s, and F %s, p %s.",
                        NumberFormats.fixed(friedman.statistic(), 2),
                        p(friedman.p()),
                        NumberFormats.fixed(iman.statistic(), 2),
                        p(iman.p()),
                        iman.exact() ? " (exact)" : "",
                        NumberFormats.fixed(plain.statistic(), 2),
                        p(plain.p()),
                        NumberFormats.fixed(ofPlain.statistic(), 2),
                        p(ofPlain.p()))
                : String.format(
                        Locale.ROOT,
                        "Friedman chi-square %s, p %s; Iman-Davenport F %s from it, p %s%s.",
                        NumberFormats.fixed(friedman.statistic(), 2),
                        p(friedman.p()),
                        NumberFormats.fixed(iman.statistic(), 2),
                        p(iman.p()),
                        iman.exact() ? " (exact)" : "");
        text += iman.p() < 1 - level
                ? String.format(
                        Locale.ROOT,
                        " Mean ranks that differ by less than %s (Nemenyi's critical difference, %s) are not told apart;"
                                + " a description, the pairs are tested below.",
                        NumberFormats.fixed(across.nemenyi(1 - level), 2),
                        NumberFormats.level(level))
                : " The candidates are not shown to differ across these data sets.";
        return Wrap.lines(text, 0);
    }

    private static String p(double p) {
        return p < 0.0001 ? "< 0.0001" : NumberFormats.fixed(p, 4);
    }

    /** How often the first of a pair is called better, neither or worse, and its test; the smallest p-value first. */
    private static String pairs(AcrossDataSets.OfMetric part, Ink ink) {
        ResultTable all = part.favoured();
        String more =
                all.size() > MOST_PAIRS ? (all.size() - MOST_PAIRS) + " more pairs are left to --csv and --json\n" : "";
        String legend =
                "Wilcoxon's signed-rank test over data sets, W+ the ranks in favour of the first; adjusted by Holm"
                        + " for all pairs."
                        + (part.calls()
                                ? " better, neither, worse: on how many data sets the first is called so within the data"
                                        + " set."
                                : "");
        return TextTable.of(all.first(MOST_PAIRS)).render(ink)
                + more
                + ink.quiet(Wrap.lines(legend, 0).stripTrailing())
                + "\n";
    }
}
