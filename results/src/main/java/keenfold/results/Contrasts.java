package keenfold.results;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToDoubleFunction;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.infer.resample.HalvesVariance;
import keenfold.core.infer.resample.VarianceForm;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Simplicity;
import keenfold.results.notice.Notices;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** Differences of candidates, with their tests and calls. */
public final class Contrasts implements Result {
    /** Asks for each candidate against the one with the best mean. */
    public static final String BEST = "best";

    /** Asks for every pair. */
    public static final String ALL = "all";

    private final Evaluation evaluation;
    private final List<Part> parts;

    private Contrasts(Evaluation evaluation, List<Part> parts) {
        this.evaluation = evaluation;
        this.parts = parts;
    }

    /**
     * Those of one metric and data set that are shown.
     *
     * @param title what is compared with what, in words
     * @param shown in the order of showing
     * @param single whether all are with the same candidate
     */
    public record Part(
            Inference inference, MetricInference metric, String title, List<Contrast> shown, boolean single) {
        /** Copies the list. */
        public Part {
            shown = List.copyOf(shown);
        }

        /** Returns them as a table; what all are compared with is not a column for people where it is always the same. */
        public ResultTable table() {
            return Contrasts.table(inference, metric, shown, single);
        }

        /** Returns how each candidate stands among all, by falling mean; no row where no differences are called. */
        public ResultTable standings() {
            return StandingsTable.of(inference, metric);
        }
    }

    /**
     * Compares candidates.
     *
     * @param metrics by name
     * @param against {@link #BEST}, {@link #ALL} or the name of a candidate
     * @throws IllegalArgumentException if there is no such candidate
     */
    public static Contrasts of(Evaluation evaluation, List<String> metrics, String against) {
        if (!against.equals(BEST) && !against.equals(ALL)) {
            evaluation.requireCandidates(List.of(against));
        }
        List<Part> parts = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            inference.together(metrics);
            metrics.forEach(m -> parts.add(part(inference, inference.metric(m), against)));
        }
        return new Contrasts(evaluation, List.copyOf(parts));
    }

    /** Compares the candidates of one data set. */
    public static Part part(Inference inference, MetricInference metric, String against) {
        String name = metric.metric().name() + repeat(metric);
        if (against.equals(ALL)) {
            List<Contrast> all = metric.contrasts().stream()
                    .map(c -> metric.metric().turned(c.difference()) >= 0 ? c : c.flipped())
                    .sorted(Comparator.comparingDouble(Contrast::pAdjusted).thenComparingDouble(Contrast::p))
                    .toList();
            return new Part(inference, metric, name + ": every pair, the better mean first", all, false);
        }
        Optional<Integer> opponent = against.equals(BEST)
                ? Picker.best(metric, Simplicity.of(inference.panel()))
                : IntStream.range(0, inference.panel().candidates().size())
                        .filter(c -> Evaluation.name(inference, c).equals(against))
                        .boxed()
                        .findFirst();
        if (opponent.filter(metric.compared()::contains).isEmpty()) {
            return new Part(inference, metric, "", List.of(), true);
        }
        int other = opponent.get();
        List<Contrast> contrasts = metric.compared().stream()
                .filter(c -> c != other)
                .flatMap(c -> metric.contrast(c, other).stream())
                .sorted(Comparator.comparingDouble(c -> -metric.metric().turned(c.difference())))
                .toList();
        String title = name + ": each candidate against " + Evaluation.name(inference, other)
                + (against.equals(BEST) ? ", which has the best mean" : "");
        return new Part(inference, metric, title, contrasts, true);
    }

    /** Which repeat differences are of, where it is one of several; empty where they are of all. */
    public static String repeat(MetricInference metric) {
        int repeats = repeats(metric);
        return metric.method() == Method.MCNEMAR && repeats > 1 ? " in the first of " + repeats + " repeats" : "";
    }

    private static int repeats(MetricInference metric) {
        return metric.compared().isEmpty()
                ? 0
                : metric.panel().parts(metric.compared().get(0)).size();
    }

    /** Returns contrasts as a table, whatever their order. */
    public static ResultTable table(Inference inference, MetricInference metric, List<Contrast> contrasts) {
        return table(inference, metric, contrasts, false);
    }

    private static ResultTable table(
            Inference inference, MetricInference metric, List<Contrast> contrasts, boolean single) {
        var table = ResultTable.<Contrast>define()
                .name("dataset", c -> Evaluation.name(inference))
                .programs()
                .name("candidate", c -> Evaluation.name(inference, c.candidate()))
                .name("against", c -> Evaluation.name(inference, c.against()));
        if (single) {
            table.programs();
        }
        boolean adjusted = inference.evidence().adjustment() != Adjust.NONE;
        String level = NumberFormats.level(inference.evidence().level());
        table.number("difference", ValueKind.DIFFERENCE, Contrast::difference)
                .error("se")
                .number("se", ValueKind.DEVIATION, Contrast::standardError);
        // The exact test has no interval, and so nothing that could be seen.
        boolean intervals = metric.method() != Method.MCNEMAR;
        if (intervals) {
            table.range(
                    level + (adjusted && metric.contrasts().size() > 1 ? " for all" : " interval"),
                    "se",
                    Contrast::lowAll,
                    Contrast::highAll);
        }
        table.number("low", ValueKind.MEAN, Contrast::low)
                .programs()
                .number("high", ValueKind.MEAN, Contrast::high)
                .programs()
                .number("low_all", ValueKind.MEAN, Contrast::lowAll)
                .programs()
                .number("high_all", ValueKind.MEAN, Contrast::highAll)
                .programs()
                .number("p", ValueKind.p(metric.draws()), Contrast::p)
                .error("se")
                .programs()
                .number("p_adjusted", ValueKind.p(metric.draws()), Contrast::pAdjusted)
                .error("se")
                .column("significant", ValueKind.WHOLE, Contrast::significant)
                .json()
                .text("", c -> c.call().label())
                .headed("call")
                .people();
        if (intervals) {
            table.text("", c -> couldBeSeen(c, metric)).headed("could be seen").people();
        }
        table.text("", c -> remark(c, metric))
                .people()
                .text("call", c -> c.call().label())
                .csv()
                .text(
                        "call",
                        c -> c.call() == Call.NONE ? Optional.empty() : c.call().label())
                .json()
                .text("metric", c -> metric.metric().name())
                .programs()
                .number("lambda", ValueKind.SHORT, c -> c.variance().lambda())
                .json()
                .number("instability", ValueKind.SHORT, c -> c.variance().instability())
                .json()
                .number("freedom", ValueKind.SHORT, c -> c.variance().freedom())
                .json()
                .number("lambda_family", ValueKind.SHORT, c -> c.familyVariance()
                        .lambda())
                .json()
                .number("freedom_family", ValueKind.SHORT, c -> c.familyVariance()
                        .freedom())
                .json()
                .number("X", ValueKind.SHORT, c -> c.variance().covariance())
                .json()
                .number("G", ValueKind.SHORT, c -> c.variance().together())
                .json()
                .number("w", ValueKind.SHORT, c -> c.variance().weight())
                .json();
        if (metric.method() == Method.HALVES) {
            table.number("E", ValueKind.SHORT, c -> ofHalves(c, HalvesVariance::between))
                    .json()
                    .number("c", ValueKind.SHORT, c -> ofHalves(c, HalvesVariance::chance))
                    .json()
                    .number("g", ValueKind.SHORT, c -> ofHalves(c, HalvesVariance::scale))
                    .json()
                    .number("lambda_halves", ValueKind.SHORT, c -> ofHalves(c, HalvesVariance::lambda))
                    .json()
                    .number("se_pivot", ValueKind.DEVIATION, c -> ofHalves(c, h -> Math.sqrt(h.preset())))
                    .json();
        }
        table.number("detectable", ValueKind.SHORT, c -> undecided(c) ? c.detectable() : Double.NaN)
                .programs()
                .number("rows_for_call", ValueKind.SHORT, c -> rowsForCall(c, metric))
                .programs();
        StandingsTable.columns(table, metric, Contrast::candidate, true);
        return table.text("message", Contrast::note).json().of(contrasts);
    }

    private static boolean undecided(Contrast c) {
        return c.call() == Call.UNDECIDED;
    }

    /** About how many rows (groups) would decide a difference of this size; NaN where that cannot be said. */
    private static double rowsForCall(Contrast c, MetricInference metric) {
        boolean ofForm = metric.form() == VarianceForm.WIDENED || metric.form() == VarianceForm.INFLATED;
        boolean known = metric.method() == Method.HALVES || (metric.method() == Method.PIVOT && ofForm);
        return known && undecided(c) ? c.unitsForCall(metric.panel().units().count()) : Double.NaN;
    }

    /** What an undecided pair could have shown, in few words. */
    private static String couldBeSeen(Contrast c, MetricInference metric) {
        if (!undecided(c) || Double.isNaN(c.detectable())) {
            return "";
        }
        double rows = rowsForCall(c, metric);
        String unit = metric.panel().units().grouped() ? " groups" : " rows";
        return NumberFormats.two(c.detectable())
                + (Double.isNaN(rows) ? "" : "; " + NumberFormats.shortest(rows) + unit);
    }

    /** How a variance came out of runs on halves; NaN if it did not. */
    private static double ofHalves(Contrast c, ToDoubleFunction<HalvesVariance> what) {
        return c.variance().halves().map(what::applyAsDouble).orElse(Double.NaN);
    }

    /** Returns what is to be said of a pair besides its call; empty if nothing is. */
    private static String remark(Contrast c, MetricInference metric) {
        boolean byMargin = c.call() == Call.EQUIVALENT && !c.note().equals(Contrast.IDENTICAL);
        boolean afterwards = byMargin && metric.marginAfterwards();
        if (byMargin && c.significant()) {
            boolean better = c.difference() > 0 == metric.metric().higherIsBetter();
            return (better ? "(better" : "(worse") + " by less than the margin"
                    + (afterwards ? "; margin set afterwards)" : ")");
        }
        if (afterwards) {
            return "(margin set afterwards)";
        }
        return c.note();
    }

    /** Returns what it was made of. */
    public Evaluation evaluation() {
        return evaluation;
    }

    /** Returns the parts: data set by data set, each metric. */
    public List<Part> parts() {
        return parts;
    }

    @Override
    public ResultTable table() {
        return ResultTable.joined(parts.stream().map(Part::table).toList());
    }

    @Override
    public Map<String, Object> document() {
        Part first = parts.get(0);
        Map<String, Object> document = settings(first.inference(), first.metric());
        document.put("contrasts", table());
        document.put(
                "standings",
                ResultTable.joined(parts.stream().map(Part::standings).toList()));
        return document;
    }

    /** Returns how contrasts were tested. */
    static Map<String, Object> settings(Inference inference, MetricInference metric) {
        InferenceSettings evidence = inference.evidence();
        Map<String, Object> settings = new LinkedHashMap<>();
        settings.put("metric", metric.metric().name());
        settings.put("method", evidence.method().label());
        settings.put(
                "variance",
                switch (evidence.method()) {
                    case PIVOT -> metric.form().label();
                    case CASES, CASES_BCA, MCNEMAR -> VarianceForm.CASES.label();
                    case CORRECTED_T -> VarianceForm.RESAMPLED.label();
                    case HALVES -> evidence.method().label();
                });
        if (evidence.method() == Method.HALVES) {
            settings.put("splits", evidence.halving().splits());
            settings.put("repeats", evidence.halving().repeats());
        }
        settings.put("draws", evidence.draws());
        settings.put("level", evidence.level());
        settings.put("margin", evidence.margin());
        settings.put("margin_afterwards", evidence.marginAfterwards());
        settings.put("adjust", evidence.adjustment().label());
        return settings;
    }

    @Override
    public List<Notice> warnings() {
        List<Notice> warnings = new ArrayList<>();
        for (Part part : parts) {
            warnings.addAll(Notices.ofFewDraws(
                    part.inference().panel(),
                    part.metric(),
                    part.inference().evidence().level()));
        }
        return warnings;
    }

    @Override
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>(evaluation.notices());
        notices.addAll(evaluation.afterwards());
        for (Part part : parts) {
            notices.addAll(Notices.ofScores(part.inference().panel(), part.metric()));
            notices.addAll(Notices.ofMethod(part.inference().panel(), part.metric()));
            notices.addAll(Notices.ofContrasts(
                    part.inference().panel(),
                    part.metric(),
                    part.inference().evidence().level()));
        }
        if (parts.size() > evaluation.inferences().size()) {
            notices.add(Notice.plain(
                    "several-metrics",
                    "p-values are adjusted within each metric, not over metrics; decide beforehand which one counts"));
        }
        return notices;
    }
}
