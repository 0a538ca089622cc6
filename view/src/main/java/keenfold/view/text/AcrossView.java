package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Plural;
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
        text.append(means(across, names, metrics, sets, ink)).append('\n');
        text.append(tests(across, level)).append('\n');
        // Where no data set has calls of its own, as with adopted means, there is nothing to count.
        boolean calls = metrics.stream().anyMatch(MetricInference::calls);
        text.append(pairs(sets, names, calls, ink));
        return text.toString();
    }

    /** The means, a line a data set, the best ranked candidate first; as many tables as it takes to fit the page. */
    private static String means(
            Across across, List<String> names, List<MetricInference> metrics, AcrossSets sets, Ink ink) {
        double[] average = across.averageRanks();
        List<Integer> order = IntStream.range(0, names.size())
                .boxed()
                .sorted(Comparator.comparingDouble(j -> average[j]))
                .toList();
        StringBuilder text = new StringBuilder();
        int from = 0;
        while (from < order.size()) {
            int to = order.size();
            String table = means(across, names, metrics, sets, order.subList(from, to), ink);
            while (to > from + 1 && Wrap.width(table) > Wrap.WIDTH) {
                to--;
                table = means(across, names, metrics, sets, order.subList(from, to), ink);
            }
            text.append(from == 0 ? "" : "\n").append(table);
            from = to;
        }
        return text.toString();
    }

    private static String means(
            Across across,
            List<String> names,
            List<MetricInference> metrics,
            AcrossSets sets,
            List<Integer> shown,
            Ink ink) {
        double[] average = across.averageRanks();
        TextTable table = TextTable.empty().column("data set", TextTable.Align.NAME);
        shown.forEach(j -> table.column(names.get(j), TextTable.Align.POINT));
        for (MetricInference metric : metrics) {
            List<String> cells =
                    new ArrayList<>(List.of(metric.panel().task().data().name()));
            for (int j : shown) {
                var mean = metric.means().get(sets.candidates().get(j));
                cells.add(NumberFormats.mean(mean.mean(), mean.standardError()));
            }
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

    /** Returns that no pair can be called, if so, however the data sets turn out. */
    public static Optional<String> hopeless(Across across, double level) {
        double least = across.leastAdjusted();
        double alpha = 1 - level;
        return least < alpha
                ? Optional.empty()
                : Optional.of(String.format(
                        Locale.ROOT,
                        "with %s and %s of candidates no pair can reach p adjusted < %s by Wilcoxon's test,"
                                + " whatever the differences: the least is %s; it takes %d data sets%s",
                        Plural.of(across.sets(), "data set"),
                        Plural.of(across.wilcoxon().size(), "pair"),
                        NumberFormats.shortest(alpha),
                        NumberFormats.fixed(least, 3),
                        across.setsFor(alpha),
                        across.wilcoxon().size() > 1 ? ", or fewer candidates" : ""));
    }

    private static String p(double p) {
        return p < 0.0001 ? "< 0.0001" : NumberFormats.fixed(p, 4);
    }

    /** How often the first of a pair is called better, neither or worse, and its test; the smallest p-value first. */
    private static String pairs(AcrossSets sets, List<String> names, boolean calls, Ink ink) {
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column("against", TextTable.Align.NAME)
                .column("W+", TextTable.Align.RIGHT)
                .column("p", TextTable.Align.RIGHT)
                .column("p adjusted", TextTable.Align.RIGHT);
        if (calls) {
            table.column("better", TextTable.Align.RIGHT)
                    .column("neither", TextTable.Align.RIGHT)
                    .column("worse", TextTable.Align.RIGHT);
        }
        List<Favoured> all = favoured(sets);
        for (Favoured pair : all.subList(0, Math.min(MOST_PAIRS, all.size()))) {
            List<String> cells = new ArrayList<>(List.of(
                    names.get(pair.first()),
                    names.get(pair.second()),
                    NumberFormats.shortest(pair.statistic()),
                    p(pair.test().p()),
                    p(pair.test().pAdjusted())));
            if (calls) {
                cells.add(Integer.toString(pair.tally().wins()));
                cells.add(Integer.toString(pair.tally().draws()));
                cells.add(Integer.toString(pair.tally().losses()));
            }
            table.row(cells);
        }
        String more =
                all.size() > MOST_PAIRS ? (all.size() - MOST_PAIRS) + " more pairs are left to --csv and --json\n" : "";
        String legend =
                "Wilcoxon's signed-rank test over data sets, W+ the ranks in favour of the first; adjusted by Holm"
                        + " for all pairs."
                        + (calls
                                ? " better, neither, worse: on how many data sets the first is called so within the data"
                                        + " set."
                                : "");
        return table.render(ink) + more + ink.quiet(Wrap.lines(legend, 0).stripTrailing()) + "\n";
    }

    /**
     * A pair, the one that the ranks favour first.
     *
     * @param first position among the candidates
     * @param second position of the other
     * @param statistic sum of the ranks in favour of the first
     * @param test of the pair
     * @param tally of the calls, as the first sees them
     */
    public record Favoured(int first, int second, double statistic, Across.Pair test, AcrossSets.Tally tally) {}

    /** Returns all pairs, the smallest p-value first. */
    public static List<Favoured> favoured(AcrossSets sets) {
        List<Across.Pair> all = sets.across().wilcoxon();
        double ranks = sets.across().sets() * (sets.across().sets() + 1) / 2.0;
        List<Favoured> pairs = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            Across.Pair p = all.get(i);
            AcrossSets.Tally t = sets.tallies().get(i);
            pairs.add(
                    p.statistic() < ranks / 2
                            ? new Favoured(p.against(), p.candidate(), ranks - p.statistic(), p, t.flipped())
                            : new Favoured(p.candidate(), p.against(), p.statistic(), p, t));
        }
        pairs.sort(Comparator.comparingDouble(f -> f.test().p()));
        return pairs;
    }
}
