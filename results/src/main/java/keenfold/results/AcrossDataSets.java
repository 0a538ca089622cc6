package keenfold.results;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.Across;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.MetricInference;
import keenfold.results.notice.Notices;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** Candidates compared across data sets: mean ranks and tests of ranks. */
public final class AcrossDataSets implements Result {
    private final Evaluation evaluation;
    private final List<OfMetric> parts;

    private AcrossDataSets(Evaluation evaluation, List<OfMetric> parts) {
        this.evaluation = evaluation;
        this.parts = parts;
    }

    /**
     * All data sets under one metric.
     *
     * @param each the metric on each data set
     */
    public record OfMetric(AcrossSets sets, List<MetricInference> each) {
        /** Copies the list. */
        public OfMetric {
            each = List.copyOf(each);
        }

        /** Returns the name of the metric. */
        public String name() {
            return each.get(0).metric().name();
        }

        /** Returns the names of the candidates that have a mean on every data set. */
        public List<String> candidates() {
            return sets.candidates().stream()
                    .map(c -> each.get(0).panel().candidates().get(c).name())
                    .toList();
        }

        /** Whether any data set has calls of its own, which adopted means have not. */
        public boolean calls() {
            return each.stream().anyMatch(MetricInference::calls);
        }

        /** Returns the pairs as they were tested, for programs. */
        ResultTable pairs() {
            List<String> names = candidates();
            double[] ranks = sets.across().averageRanks();
            List<Across.Pair> all = sets.across().wilcoxon();
            return ResultTable.<Integer>define()
                    .name("candidate", i -> names.get(all.get(i).candidate()))
                    .name("against", i -> names.get(all.get(i).against()))
                    .number("rank", ValueKind.fixed(3), i -> ranks[all.get(i).candidate()])
                    .csv()
                    .number(
                            "rank_against",
                            ValueKind.fixed(3),
                            i -> ranks[all.get(i).against()])
                    .csv()
                    .number("statistic", ValueKind.SHORT, i -> all.get(i).statistic())
                    .number("p", ValueKind.fixed(4), i -> all.get(i).p())
                    .number("p_adjusted", ValueKind.fixed(4), i -> all.get(i).pAdjusted())
                    .column("exact", ValueKind.WHOLE, i -> all.get(i).exact())
                    .column("wins", ValueKind.WHOLE, i -> sets.tallies().get(i).wins())
                    .column("draws", ValueKind.WHOLE, i -> sets.tallies().get(i).draws())
                    .column("losses", ValueKind.WHOLE, i -> sets.tallies()
                            .get(i)
                            .losses())
                    .text("metric", i -> name())
                    .csv()
                    .of(IntStream.range(0, all.size()).boxed().toList());
        }

        /** Returns the candidates in order of their mean ranks, the best first. */
        public List<Integer> ranked() {
            double[] average = sets.across().averageRanks();
            return IntStream.range(0, average.length)
                    .boxed()
                    .sorted(Comparator.comparingDouble(j -> average[j]))
                    .toList();
        }

        /** Returns the mean of a candidate on a data set, both 0-based among those compared here. */
        public double mean(int set, int candidate) {
            return each.get(set).means().get(sets.candidates().get(candidate)).mean();
        }

        /** Returns how many decimals all means on a data set are shown with: those of the least precise. */
        public int decimals(int set) {
            return NumberFormats.decimals(sets.candidates().stream()
                    .mapToDouble(c -> each.get(set).means().get(c).standardError())
                    .filter(Double::isFinite)
                    .max()
                    .orElse(Double.NaN));
        }

        /** Returns the mean on each data set and the mean rank, a line a candidate, the best ranked first. */
        public ResultTable means() {
            List<String> names = candidates();
            double[] average = sets.across().averageRanks();
            var table = ResultTable.<Integer>define().name("candidate", names::get);
            for (int t = 0; t < each.size(); t++) {
                int set = t;
                String name = each.get(t).panel().task().data().name();
                table.number("mean:" + name, ValueKind.fixed(decimals(t)), c -> mean(set, c))
                        .headed(name);
            }
            return table.number("mean_rank", ValueKind.fixed(3), c -> average[c])
                    .headed("mean rank")
                    .of(ranked());
        }

        /** Returns the pairs, in each the candidate first that the ranks favour, the smallest p-value on top. */
        public ResultTable favoured() {
            List<String> names = candidates();
            var table = ResultTable.<Favoured>define()
                    .name("candidate", f -> names.get(f.first()))
                    .name("against", f -> names.get(f.second()))
                    .number("statistic", ValueKind.SHORT, Favoured::statistic)
                    .headed("W+")
                    .number("p", ValueKind.P, f -> f.test().p())
                    .number("p_adjusted", ValueKind.P, f -> f.test().pAdjusted());
            if (calls()) {
                table.column("better", ValueKind.WHOLE, f -> f.tally().wins())
                        .column("neither", ValueKind.WHOLE, f -> f.tally().draws())
                        .column("worse", ValueKind.WHOLE, f -> f.tally().losses());
            }
            return table.of(pairsByP());
        }

        private List<Favoured> pairsByP() {
            List<Across.Pair> all = sets.across().wilcoxon();
            double ranks = sets.across().sets() * (sets.across().sets() + 1) / 2.0;
            List<Favoured> pairs = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                Across.Pair pair = all.get(i);
                AcrossSets.Tally tally = sets.tallies().get(i);
                pairs.add(
                        pair.statistic() < ranks / 2
                                ? new Favoured(
                                        pair.against(),
                                        pair.candidate(),
                                        ranks - pair.statistic(),
                                        pair,
                                        tally.flipped())
                                : new Favoured(pair.candidate(), pair.against(), pair.statistic(), pair, tally));
            }
            pairs.sort(Comparator.comparingDouble(f -> f.test().p()));
            return pairs;
        }
    }

    /** A pair, the one that the ranks favour first; {@code statistic} is the sum of the ranks in its favour. */
    private record Favoured(int first, int second, double statistic, Across.Pair test, AcrossSets.Tally tally) {}

    /**
     * Compares candidates across data sets, which must have no rows in common.
     *
     * @throws IllegalArgumentException if too few data sets or candidates can be compared
     */
    public static AcrossDataSets of(Evaluation evaluation, List<String> metrics) {
        return new AcrossDataSets(
                evaluation, metrics.stream().map(m -> ofMetric(evaluation, m)).toList());
    }

    /**
     * Compares candidates across data sets under one metric.
     *
     * @throws IllegalArgumentException if too few data sets or candidates can be compared
     */
    public static OfMetric ofMetric(Evaluation evaluation, String metric) {
        List<MetricInference> each =
                evaluation.inferences().stream().map(i -> i.metric(metric)).toList();
        return new OfMetric(AcrossSets.of(each), each);
    }

    /** Returns what it was made of. */
    public Evaluation evaluation() {
        return evaluation;
    }

    /** Returns one part for each metric. */
    public List<OfMetric> parts() {
        return parts;
    }

    @Override
    public ResultTable table() {
        return ResultTable.joined(parts.stream().map(OfMetric::pairs).toList());
    }

    @Override
    public Map<String, Object> document() {
        OfMetric first = parts.get(0);
        Map<String, Object> document =
                Contrasts.settings(evaluation.inferences().get(0), first.each().get(0));
        document.put(
                "contrasts",
                ResultTable.joined(parts.stream()
                        .flatMap(p -> IntStream.range(0, p.each().size())
                                .mapToObj(t -> Contrasts.table(
                                        evaluation.inferences().get(t),
                                        p.each().get(t),
                                        p.each().get(t).contrasts())))
                        .toList()));
        document.put("across", across(first));
        if (parts.size() > 1) {
            Map<String, Object> byMetric = new LinkedHashMap<>();
            parts.forEach(p -> byMetric.put(p.name(), across(p)));
            document.put("across_by_metric", byMetric);
        }
        return document;
    }

    private Map<String, Object> across(OfMetric part) {
        Across across = part.sets().across();
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("sets", across.sets());
        Map<String, Object> ranks = new LinkedHashMap<>();
        for (int j = 0; j < part.candidates().size(); j++) {
            ranks.put(part.candidates().get(j), across.averageRanks()[j]);
        }
        all.put("ranks", ranks);
        Map<String, Object> friedman = new LinkedHashMap<>();
        friedman.put("statistic", across.friedman(false).statistic());
        friedman.put("p", across.friedman(false).p());
        friedman.put("statistic_ties", across.friedman(true).statistic());
        friedman.put("p_ties", across.friedman(true).p());
        all.put("friedman", friedman);
        Map<String, Object> iman = new LinkedHashMap<>();
        iman.put("statistic", across.imanDavenport(false).statistic());
        iman.put("p", across.imanDavenport(false).p());
        iman.put("statistic_ties", across.imanDavenport().statistic());
        iman.put("p_ties", across.imanDavenport().p());
        iman.put("exact", across.imanDavenport().exact());
        all.put("iman_davenport", iman);
        Map<String, Object> nemenyi = new LinkedHashMap<>();
        nemenyi.put("critical_difference", across.nemenyi(1 - evaluation.level()));
        nemenyi.put("level", evaluation.level());
        all.put("nemenyi", nemenyi);
        all.put("least_p_adjusted", across.leastAdjusted());
        all.put("wilcoxon", part.pairs());
        return all;
    }

    @Override
    public List<Notice> warnings() {
        List<Notice> warnings = new ArrayList<>(Notices.ofEqualRows(evaluation.inferences()));
        parts.forEach(p -> hopeless(p.sets().across(), evaluation.level()).ifPresent(warnings::add));
        return warnings;
    }

    /** Returns that no pair can be called, if so, however the data sets turn out. */
    private static Optional<Notice> hopeless(Across across, double level) {
        double least = across.leastAdjusted();
        double alpha = 1 - level;
        return least < alpha
                ? Optional.empty()
                : Optional.of(Notice.of(
                                "too-few-data-sets",
                                "with %s and %s of candidates no pair can reach p adjusted < %s by Wilcoxon's test,"
                                        + " whatever the differences: the least is %s; it takes %d data sets%s",
                                Plural.of(across.sets(), "data set"),
                                Plural.of(across.wilcoxon().size(), "pair"),
                                NumberFormats.shortest(alpha),
                                NumberFormats.fixed(least, 3),
                                across.setsFor(alpha),
                                across.wilcoxon().size() > 1 ? ", or fewer candidates" : "")
                        .with("datasets", across.sets())
                        .with("pairs", across.wilcoxon().size())
                        .with("needed", across.setsFor(alpha)));
    }

    @Override
    public List<Notice> notices() {
        return evaluation.notices();
    }
}
