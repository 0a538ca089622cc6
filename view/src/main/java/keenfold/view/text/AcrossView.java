package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import keenfold.core.infer.Across;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.MetricInference;

/** A comparison across data sets. */
public final class AcrossView {
    private static final int MOST_PAIRS = 30;

    private AcrossView() {}

    /**
     * Returns average ranks, the tests of all candidates at once, and the pairs.
     *
     * @param metrics the same metric on each data set
     */
    public static String render(AcrossSets sets, List<MetricInference> metrics, double level, Ink ink) {
        Across across = sets.across();
        List<String> names = sets.candidates().stream()
                .map(c -> metrics.get(0).panel().candidates().get(c).name())
                .toList();
        String metric = metrics.get(0).metric().name();
        StringBuilder text = new StringBuilder(
                ink.strong(String.format(Locale.ROOT, "%s across %d data sets", metric, across.sets())) + "\n");
        text.append(ranks(across, names, metrics, sets, ink)).append('\n');
        text.append(tests(across, level)).append('\n');
        text.append(pairs(sets, names, ink));
        return text.toString();
    }

    private static String ranks(
            Across across, List<String> names, List<MetricInference> metrics, AcrossSets sets, Ink ink) {
        double[] average = across.averageRanks();
        // Means of more data sets than fit the page are left to --csv and scores --by dataset.
        int shown = Math.min(metrics.size(), 5);
        TextTable table =
                TextTable.empty().column("candidate", TextTable.Align.NAME).column("mean rank", TextTable.Align.POINT);
        for (int t = 0; t < shown; t++) {
            table.column(metrics.get(t).panel().task().data().name(), TextTable.Align.POINT);
        }
        IntStream.range(0, names.size())
                .boxed()
                .sorted(Comparator.comparingDouble(j -> average[j]))
                .forEach(j -> {
                    List<String> cells = new ArrayList<>(List.of(names.get(j), Figures.fixed(average[j], 2)));
                    for (int t = 0; t < shown; t++) {
                        var mean = metrics.get(t).means().get(sets.candidates().get(j));
                        cells.add(Figures.mean(mean.mean(), mean.standardError()));
                    }
                    table.row(cells);
                });
        return table.render(ink);
    }

    /** Returns the tests of all candidates at once, in a sentence or two, broken into lines. */
    public static String tests(Across across, double level) {
        Across.Test friedman = across.friedman(true);
        Across.Test plain = across.friedman(false);
        Across.Test iman = across.imanDavenport();
        boolean significant = iman.p() < 1 - level;
        String text = String.format(
                Locale.ROOT,
                "Friedman chi-square %s, p %s%s; Iman-Davenport F %s, p %s%s.",
                Figures.fixed(friedman.statistic(), 2),
                p(friedman.p()),
                friedman.statistic() == plain.statistic()
                        ? ""
                        : " (corrected for ties; " + Figures.fixed(plain.statistic(), 2) + ", p " + p(plain.p())
                                + " without)",
                Figures.fixed(iman.statistic(), 2),
                p(iman.p()),
                iman.exact() ? " (exact)" : "");
        text += significant
                ? String.format(
                        Locale.ROOT,
                        " Mean ranks that differ by less than %s (Nemenyi's critical difference, %s) are not told apart;"
                                + " a description, the pairs are tested below.",
                        Figures.fixed(across.nemenyi(1 - level), 2),
                        Figures.level(level))
                : " The candidates are not shown to differ across these data sets.";
        return Wrap.lines(text, 0);
    }

    private static String p(double p) {
        return p < 0.0001 ? "< 0.0001" : Figures.fixed(p, 4);
    }

    private static String pairs(AcrossSets sets, List<String> names, Ink ink) {
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column("against", TextTable.Align.NAME)
                .column("W+", TextTable.Align.RIGHT)
                .column("p", TextTable.Align.RIGHT)
                .column("p adjusted", TextTable.Align.RIGHT)
                .column("better", TextTable.Align.RIGHT)
                .column("neither", TextTable.Align.RIGHT)
                .column("worse", TextTable.Align.RIGHT);
        List<Across.Pair> all = sets.across().wilcoxon();
        List<Integer> order = IntStream.range(0, all.size())
                .boxed()
                .sorted(Comparator.comparingDouble(i -> all.get(i).p()))
                .toList();
        for (int i : order.subList(0, Math.min(MOST_PAIRS, order.size()))) {
            Across.Pair pair = all.get(i);
            AcrossSets.Tally tally = sets.tallies().get(i);
            // The one that the ranks favour stands first.
            double ranks = sets.across().sets() * (sets.across().sets() + 1) / 2.0;
            boolean turned = pair.statistic() < ranks / 2;
            table.row(List.of(
                    names.get(turned ? pair.against() : pair.candidate()),
                    names.get(turned ? pair.candidate() : pair.against()),
                    Figures.shortest(turned ? ranks - pair.statistic() : pair.statistic()),
                    p(pair.p()),
                    p(pair.pAdjusted()),
                    Integer.toString(turned ? tally.losses() : tally.wins()),
                    Integer.toString(tally.draws()),
                    Integer.toString(turned ? tally.wins() : tally.losses())));
        }
        String more = order.size() > MOST_PAIRS
                ? (order.size() - MOST_PAIRS) + " more pairs are left to --csv and --json\n"
                : "";
        String legend =
                "Wilcoxon's signed-rank test over data sets, W+ the ranks in favour of the first; adjusted by Holm"
                        + " for all pairs. better, neither, worse: on how many data sets the first is called so within the data set.";
        return table.render(ink) + more + ink.quiet(Wrap.lines(legend, 0).stripTrailing()) + "\n";
    }
}
