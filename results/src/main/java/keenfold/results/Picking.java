package keenfold.results;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.ToDoubleFunction;
import keenfold.core.data.Notice;
import keenfold.core.data.ValueException;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.results.notice.Notices;
import keenfold.results.notice.PickNotices;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** The picks of the rules on each data set, and over all of them. */
public final class Picking implements Result {
    private final Evaluation evaluation;
    private final String metric;
    private final Rule rule;
    private final List<OfSet> sets;
    private final Optional<Overall> overall;
    private final List<Notice> afterwards;

    private Picking(
            Evaluation evaluation,
            String metric,
            Rule rule,
            List<OfSet> sets,
            Optional<Overall> overall,
            List<Notice> afterwards) {
        this.evaluation = evaluation;
        this.metric = metric;
        this.rule = rule;
        this.sets = List.copyOf(sets);
        this.overall = overall;
        this.afterwards = List.copyOf(afterwards);
    }

    /** Returns the same picks, with what was settled only when results could be seen. */
    public Picking afterwards(List<Notice> notices) {
        return new Picking(evaluation, metric, rule, sets, overall, notices);
    }

    /**
     * What choosing is worth on rows that the choice did not see.
     *
     * @param bestMean by the best mean
     * @param rule by the rule in force
     */
    public record Worth(Corrected bestMean, Corrected rule) {
        /** What was not computed. */
        public static final Worth NONE = new Worth(Corrected.NONE, Corrected.NONE);

        /** Computes it, which takes as long as the draws themselves. */
        public static Worth of(MetricInference metric, Simplicity simplicity, Rule rule) {
            Corrected best = Picker.corrected(metric, simplicity, Rule.BEST_MEAN);
            return new Worth(best, rule.equals(Rule.BEST_MEAN) ? best : Picker.corrected(metric, simplicity, rule));
        }
    }

    /**
     * A pick over several data sets.
     *
     * @param pick the candidate with the best mean rank
     * @param ranks mean ranks by candidate, in plan order
     */
    public record Overall(String pick, Map<String, Double> ranks) {
        /** Copies the ranks. */
        public Overall {
            ranks = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(ranks));
        }

        /** Returns the ranks, the best one first. */
        public ResultTable table() {
            return ResultTable.<Map.Entry<String, Double>>define()
                    .name("candidate", Map.Entry::getKey)
                    .number("mean_rank", ValueKind.fixed(2), Map.Entry::getValue)
                    .of(
                            ranks.entrySet().stream()
                                    .sorted(Map.Entry.comparingByValue())
                                    .toList(),
                            e -> e.getKey().equals(pick));
        }
    }

    /**
     * What was picked on one data set.
     *
     * @param picks empty where no candidate can be compared
     * @param families along their varied settings
     */
    public record OfSet(
            Inference inference,
            MetricInference metric,
            Simplicity simplicity,
            Optional<Picks> picks,
            List<Picks.Along> families,
            Worth worth) {
        /** Copies the list. */
        public OfSet {
            families = List.copyOf(families);
        }

        /** Returns the rules side by side with their price. */
        public ResultTable rules() {
            return Picking.rules(inference, picks);
        }

        /** Returns the candidates that are compared, the simplest first. */
        public ResultTable candidates() {
            return Picking.candidates(inference, metric, simplicity, picks.orElseThrow());
        }
    }

    /**
     * Picks by every rule.
     *
     * @param rule the one in force
     * @param order of simplicity, for each data set
     * @throws IllegalArgumentException if a rule or the order cannot be applied
     */
    public static Picking of(
            Evaluation evaluation, String metric, Rule rule, Function<AlignedPredictions, Simplicity> order) {
        return of(evaluation, metric, rule, order, true);
    }

    /** Picks by every rule, without what choosing is worth, which takes as long as the draws themselves. */
    public static Picking quick(
            Evaluation evaluation, String metric, Rule rule, Function<AlignedPredictions, Simplicity> order) {
        return of(evaluation, metric, rule, order, false);
    }

    private static Picking of(
            Evaluation evaluation,
            String metric,
            Rule rule,
            Function<AlignedPredictions, Simplicity> order,
            boolean worth) {
        List<OfSet> sets = evaluation.inferences().stream()
                .map(i -> ofSet(i, i.metric(metric), order.apply(i.panel()), rule, worth))
                .toList();
        return new Picking(evaluation, metric, rule, sets, overall(evaluation, metric), List.of());
    }

    /** Picks on one data set; {@code worth} is whether what choosing is worth is computed too. */
    public static OfSet ofSet(
            Inference inference, MetricInference metric, Simplicity simplicity, Rule rule, boolean worth) {
        Optional<Picks> picks = Picker.pick(metric, simplicity, rule);
        return new OfSet(
                inference,
                metric,
                simplicity,
                picks,
                picks.isPresent() ? Picker.families(metric, simplicity, rule) : List.of(),
                worth && picks.isPresent() ? Worth.of(metric, simplicity, rule) : Worth.NONE);
    }

    /** Over several data sets: by mean rank. */
    private static Optional<Overall> overall(Evaluation evaluation, String metric) {
        if (evaluation.inferences().size() < 2) {
            return Optional.empty();
        }
        AcrossDataSets.OfMetric across;
        try {
            across = AcrossDataSets.ofMetric(evaluation, metric);
        } catch (ValueException e) {
            // Too few candidates have a mean on every data set: there is no pick over all of them.
            return Optional.empty();
        }
        AcrossSets sets = across.sets();
        double[] ranks = sets.across().averageRanks();
        Map<String, Double> byName = new LinkedHashMap<>();
        for (int j = 0; j < ranks.length; j++) {
            byName.put(across.candidates().get(j), ranks[j]);
        }
        String pick = byName.entrySet().stream()
                .min(Comparator.comparingDouble(Map.Entry::getValue))
                .orElseThrow()
                .getKey();
        return Optional.of(new Overall(pick, byName));
    }

    /** Returns the rules side by side with their price; no row where nothing could be picked. */
    public static ResultTable rules(Inference inference, Optional<Picks> picks) {
        return ResultTable.<Picks.Choice>define()
                .name("dataset", c -> Evaluation.name(inference))
                .csv()
                .text("rule", c -> c.rule().label())
                .name("pick", c -> c.without().isEmpty() ? Evaluation.name(inference, c.pick()) : Optional.empty())
                .headed("picks")
                .column("", ValueKind.DIFFERENCE, c -> ofBest(c, picks) ? "0" : price(c, picks, Contrast::difference))
                .headed("from the best")
                .error("se")
                .people()
                .range(
                        NumberFormats.level(inference.evidence().level()) + " interval",
                        "se",
                        c -> c.price().map(Contrast::low).orElse(Double.NaN),
                        c -> c.price().map(Contrast::high).orElse(Double.NaN))
                .number("difference", ValueKind.DIFFERENCE, c -> price(c, picks, Contrast::difference))
                .programs()
                .number("low", ValueKind.MEAN, c -> price(c, picks, Contrast::low))
                .programs()
                .number("high", ValueKind.MEAN, c -> price(c, picks, Contrast::high))
                .programs()
                .number("se", ValueKind.DEVIATION, c -> c.price()
                        .map(Contrast::standardError)
                        .orElse(Double.NaN))
                .json()
                .text("", c -> inForce(c, picks) ? "in force" : "")
                .people()
                .text("message", Picks.Choice::without)
                .json()
                .of(picks.map(Picks::choices).orElse(List.of()), c -> inForce(c, picks));
    }

    private static boolean inForce(Picks.Choice choice, Optional<Picks> picks) {
        return picks.filter(p -> choice.rule().equals(p.rule())).isPresent();
    }

    private static boolean ofBest(Picks.Choice choice, Optional<Picks> picks) {
        return choice.without().isEmpty()
                && picks.filter(p -> p.best() == choice.pick()).isPresent();
    }

    /** Part of what a rule's pick costs: nothing where it is the best mean; NaN where the rule cannot be applied. */
    private static double price(Picks.Choice choice, Optional<Picks> picks, ToDoubleFunction<Contrast> part) {
        return !choice.without().isEmpty()
                ? Double.NaN
                : ofBest(choice, picks)
                        ? 0
                        : choice.price().map(part::applyAsDouble).orElse(Double.NaN);
    }

    private static ResultTable candidates(
            Inference inference, MetricInference metric, Simplicity simplicity, Picks picks) {
        boolean bySize = simplicity.by() == SimplerBy.SIZE;
        var table = ResultTable.<MeanScore>define().name("candidate", m -> Evaluation.name(inference, m.candidate()));
        if (!bySize) {
            ValueKind kind = simplicity.by().timed() ? ValueKind.SECONDS : ValueKind.SIZE.aligned(Alignment.RIGHT);
            table.number(simplicity.by().measure(), kind, m -> simplicity.value(m.candidate()));
        }
        table.number("size", ValueKind.SIZE, m -> simplicity.size(m.candidate()))
                .number("mean", ValueKind.MEAN, MeanScore::mean)
                .headed("mean " + metric.metric().name())
                .error("se")
                .number("se", ValueKind.DEVIATION, MeanScore::standardError);
        if (!picks.frequency().isEmpty()) {
            table.number("frequency", ValueKind.SHARE, m -> picks.frequency().getOrDefault(m.candidate(), 0.0))
                    .headed("picked in draws");
        }
        return table.text("", m -> marks(picks, m.candidate()))
                .people()
                .of(
                        metric.means().stream()
                                .filter(m -> metric.compared().contains(m.candidate()))
                                .sorted(Comparator.comparingDouble((MeanScore m) -> simplicity.value(m.candidate()))
                                        .thenComparingDouble(m -> simplicity.size(m.candidate())))
                                .toList(),
                        m -> m.candidate() == picks.pick());
    }

    private static String marks(Picks picks, int c) {
        List<String> marks = new ArrayList<>();
        if (c == picks.pick()) {
            marks.add("the pick");
        }
        if (c == picks.best()) {
            marks.add("best mean");
        }
        if (marks.isEmpty() && picks.eligible().contains(c)) {
            marks.add("eligible");
        }
        return String.join(", ", marks);
    }

    /** Returns what it was made of. */
    public Evaluation evaluation() {
        return evaluation;
    }

    /** Returns the name of the metric. */
    public String metric() {
        return metric;
    }

    /** Returns the rule in force. */
    public Rule rule() {
        return rule;
    }

    /** Returns what was picked on each data set, in plan order. */
    public List<OfSet> sets() {
        return sets;
    }

    /** Returns the pick over several data sets; empty for one. */
    public Optional<Overall> overall() {
        return overall;
    }

    /** Returns why no candidate could be picked, and by what one could. */
    public String whyNone() {
        List<String> others = evaluation.metrics().stream()
                .filter(m -> !m.equals(metric) && evaluation.has(m))
                .filter(m -> evaluation.inferences().stream()
                        .anyMatch(i -> !i.metric(m).compared().isEmpty()))
                .toList();
        boolean scored = evaluation.inferences().stream()
                .anyMatch(i -> !i.panel().admitted().isEmpty());
        return "no candidate can be picked by " + metric + ": "
                + (scored
                        ? "it is undefined in too many splits or draws"
                        : "too many of their fits failed (keenfold scores says which)")
                + (others.isEmpty() ? "" : "; --metric " + String.join(", or ", others) + " can serve");
    }

    /** Whether a candidate could be picked on any data set. */
    public boolean any() {
        return sets.stream().anyMatch(s -> s.picks().isPresent());
    }

    @Override
    public ResultTable table() {
        return ResultTable.joined(sets.stream().map(OfSet::rules).toList());
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("metric", metric);
        document.put("rule", rule.label());
        document.put("datasets", sets.stream().map(this::dataSet).toList());
        document.put("overall", overall.map(o -> {
            Map<String, Object> all = new LinkedHashMap<>();
            all.put("pick", o.pick());
            all.put("ranks", o.ranks());
            return all;
        }));
        return document;
    }

    private Map<String, Object> dataSet(OfSet set) {
        Inference inference = set.inference();
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("name", Evaluation.name(inference));
        if (set.picks().isEmpty()) {
            all.put("pick", Optional.empty());
            return all;
        }
        Picks picks = set.picks().get();
        Function<Integer, String> name = c -> Evaluation.name(inference, c);
        all.put("pick", name.apply(picks.pick()));
        all.put("best", name.apply(picks.best()));
        all.put("best_mean", picks.bestMean());
        all.put("se", picks.standardError());
        all.put("threshold", picks.threshold());
        all.put("eligible", picks.eligible().stream().map(name).toList());
        all.put("may_be_best", picks.mayBeBest().stream().map(name).toList());
        all.put("rules", set.rules());
        Map<String, Object> frequency = new LinkedHashMap<>();
        picks.frequency().forEach((c, share) -> frequency.put(name.apply(c), share));
        all.put("frequency", frequency);
        all.put("corrected", corrected(set.worth(), picks.rule(), Corrected::value));
        all.put("corrected_error", corrected(set.worth(), picks.rule(), Corrected::error));
        all.put("families", set.families().stream().map(f -> family(set, f)).toList());
        return all;
    }

    private static Map<String, Object> corrected(Worth worth, Rule rule, ToDoubleFunction<Corrected> part) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put(Rule.BEST_MEAN.label(), part.applyAsDouble(worth.bestMean()));
        if (!rule.equals(Rule.BEST_MEAN)) {
            all.put(rule.label(), part.applyAsDouble(worth.rule()));
        }
        return all;
    }

    private static Map<String, Object> family(OfSet set, Picks.Along family) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("family", family.name());
        all.put("pick", Evaluation.name(set.inference(), family.pick()));
        all.put("best", Evaluation.name(set.inference(), family.best()));
        all.put(
                "members",
                ResultTable.<Integer>define()
                        .name("candidate", c -> Evaluation.name(set.inference(), c))
                        .number(
                                "mean",
                                ValueKind.MEAN,
                                c -> set.metric().means().get(c).mean())
                        .error("se")
                        .number(
                                "se",
                                ValueKind.DEVIATION,
                                c -> set.metric().means().get(c).standardError())
                        .of(family.members()));
        return all;
    }

    @Override
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>(evaluation.notices());
        notices.addAll(afterwards);
        for (OfSet set : sets) {
            AlignedPredictions panel = set.inference().panel();
            notices.addAll(Notices.ofScores(panel, set.metric()));
            set.picks().ifPresent(p -> notices.addAll(PickNotices.of(panel, set.metric(), p, set.simplicity())));
        }
        return notices;
    }
}
