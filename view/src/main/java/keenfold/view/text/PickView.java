package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import keenfold.core.data.Plural;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.core.split.Scheme;

/** The pick, why it was picked, and what it costs. */
public final class PickView {
    private static final int BAR = 24;

    private final AlignedPredictions panel;
    private final MetricInference metric;
    private final Picks picks;
    private final Simplicity simplicity;
    private final List<MeanScore> means;
    private final double level;
    private final PickReason why;

    private PickView(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity, double level) {
        this.panel = panel;
        this.metric = metric;
        this.picks = picks;
        this.simplicity = simplicity;
        this.means = metric.means();
        this.level = level;
        this.why = new PickReason(panel, metric, picks, simplicity, level);
    }

    /**
     * What choosing is worth on rows that the choice did not see.
     *
     * @param bestMean by the best mean
     * @param rule by the rule in force
     */
    public record Worth(Corrected bestMean, Corrected rule) {}

    /** Returns the reason in a sentence or two, for the foot of a comparison. */
    public static String brief(
            AlignedPredictions panel,
            MetricInference metric,
            Picks picks,
            Simplicity simplicity,
            double level,
            Ink ink) {
        PickView view = new PickView(panel, metric, picks, simplicity, level);
        String head = "Pick: " + view.why.name(picks.pick());
        String text = Wrap.lines(head + " " + view.why.reason(), 0);
        return text.startsWith(head) ? ink.strong(head) + text.substring(head.length()) : text;
    }

    /**
     * What is said of a pick, in sentences; empty where there is nothing to say.
     *
     * @param reason why it was picked
     * @param worth what choosing is worth on rows that the choice did not see
     * @param leading which candidates are not shown to be worse
     * @param quote a sentence that a paper could print
     */
    public record Said(String reason, String worth, String leading, String quote) {}

    /** Returns what is said of a pick. */
    public static Said said(
            Inference inference,
            MetricInference metric,
            Picks picks,
            Worth worth,
            Simplicity simplicity,
            Optional<Scheme> scheme) {
        PickView view = new PickView(
                inference.panel(),
                metric,
                picks,
                simplicity,
                inference.evidence().level());
        return new Said(
                view.why.name(picks.pick()) + " " + view.why.reason() + " "
                        + view.otherInMostDraws().replaceAll("\\s+", " ").strip(),
                view.worth(worth).replaceAll("\\s+", " ").strip(),
                view.leading().replaceAll("\\s+", " ").strip(),
                view.quote(worth, scheme));
    }

    /** Returns the pick with its reasons, the candidates, the families and the rules side by side. */
    public static String render(
            Inference inference,
            MetricInference metric,
            Picks picks,
            List<Picks.Along> families,
            Worth worth,
            Simplicity simplicity,
            Optional<Scheme> scheme,
            Ink ink) {
        PickView view = new PickView(
                inference.panel(),
                metric,
                picks,
                simplicity,
                inference.evidence().level());
        return ink.strong("Pick by " + metric.metric().name() + ": " + view.why.name(picks.pick())) + "\n"
                + Wrap.lines(view.why.reason(), 0) + "\n"
                + view.candidates(ink) + "\n"
                + families.stream().map(f -> view.family(f, ink) + "\n").collect(Collectors.joining())
                + view.rules(ink)
                + view.otherInMostDraws() + "\n"
                + view.worth(worth)
                + view.leading()
                + Wrap.lines("To quote: " + view.quote(worth, scheme), 0);
    }

    /** Returns the pick over several data sets. */
    public static String overall(String pick, Map<String, Double> ranks, int sets, Ink ink) {
        TextTable table =
                TextTable.empty().column("candidate", TextTable.Align.NAME).column("mean rank", TextTable.Align.POINT);
        ranks.entrySet().stream()
                .sorted(Map.Entry.comparingByValue())
                .forEach(e -> table.row(
                        List.of(e.getKey(), NumberFormats.fixed(e.getValue(), 2)),
                        e.getKey().equals(pick)));
        return ink.strong(String.format(Locale.ROOT, "Over %d data sets: %s", sets, pick)) + "\n"
                + Wrap.lines(
                        "by mean rank of the means (1 is best); whether ranks differ beyond chance: contrast --across",
                        0)
                + table.render(ink);
    }

    private String candidates(Ink ink) {
        boolean bySize = simplicity.by() == SimplerBy.SIZE;
        boolean drawn = !picks.frequency().isEmpty();
        TextTable table = TextTable.empty().column("candidate", TextTable.Align.NAME);
        if (!bySize) {
            table.column(simplicity.by().label(), TextTable.Align.RIGHT);
        }
        table.column("size", TextTable.Align.POINT)
                .column("mean " + metric.metric().name(), TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT);
        if (drawn) {
            table.column("picked in draws", TextTable.Align.RIGHT);
        }
        table.column("", TextTable.Align.LEFT);
        List<MeanScore> bySimplicity = means.stream()
                .filter(m -> metric.compared().contains(m.candidate()))
                .sorted(Comparator.comparingDouble((MeanScore m) -> simplicity.value(m.candidate()))
                        .thenComparingDouble(m -> simplicity.size(m.candidate())))
                .toList();
        for (MeanScore m : bySimplicity) {
            int c = m.candidate();
            List<String> cells = new ArrayList<>(List.of(why.name(c)));
            if (!bySize) {
                cells.add(why.value(c));
            }
            cells.add(NumberFormats.significant(simplicity.size(c), 3));
            cells.add(NumberFormats.mean(m.mean(), m.standardError()));
            cells.add(NumberFormats.two(m.standardError()));
            if (drawn) {
                cells.add(NumberFormats.percent(picks.frequency().getOrDefault(c, 0.0)));
            }
            cells.add(marks(c));
            table.row(cells, c == picks.pick());
        }
        boolean ordered = bySimplicity.stream().anyMatch(m -> !Double.isNaN(simplicity.value(m.candidate())));
        return (ordered ? "candidates, the simplest first\n" : "candidates\n") + table.render(ink);
    }

    private String marks(int c) {
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

    /** A family in the order of its settings, with the pick that the rule makes within it alone. */
    private String family(Picks.Along family, Ink ink) {
        double worst = Double.POSITIVE_INFINITY;
        double best = Double.NEGATIVE_INFINITY;
        for (int c : family.members()) {
            worst = Math.min(worst, metric.metric().turned(means.get(c).mean()));
            best = Math.max(best, metric.metric().turned(means.get(c).mean()));
        }
        // A full bar is at least one standard error long, so that chance is not drawn as a slope.
        double se = means.get(family.best()).standardError();
        double full = Math.max(best - worst, Double.isNaN(se) ? 0 : se);
        List<String> varied = panel.candidates().get(family.members().get(0)).varied();
        TextTable table = TextTable.empty()
                .column(String.join("/", varied), TextTable.Align.RIGHT)
                .column("mean", TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column("above the worst", TextTable.Align.LEFT)
                .column("", TextTable.Align.LEFT);
        for (int c : family.members()) {
            MeanScore m = means.get(c);
            double place = full > 0 ? (metric.metric().turned(m.mean()) - worst) / full : 0;
            String mark = c == family.pick()
                    ? c == family.best() ? "its pick, best mean" : "its pick"
                    : c == family.best() ? "best mean" : "";
            table.row(
                    List.of(
                            why.name(c).substring(family.name().length() + 1),
                            NumberFormats.mean(m.mean(), m.standardError()),
                            NumberFormats.two(m.standardError()),
                            "=".repeat((int) Math.round(BAR * place)),
                            mark),
                    c == family.pick());
        }
        return Wrap.lines(
                        String.format(
                                Locale.ROOT,
                                "family %s, along its settings; %s within the family alone picks %s; a bar of %d signs is"
                                        + " %s",
                                family.name(),
                                picks.rule().label(),
                                why.name(family.pick()),
                                BAR,
                                NumberFormats.two(full)),
                        0)
                + table.render(ink);
    }

    private String rules(Ink ink) {
        TextTable table = TextTable.empty()
                .column("rule", TextTable.Align.LEFT)
                .column("picks", TextTable.Align.NAME)
                .column("from the best", TextTable.Align.POINT)
                .column(NumberFormats.level(level) + " interval", TextTable.Align.RIGHT)
                .column("", TextTable.Align.LEFT);
        List<String> apart = new ArrayList<>();
        for (Picks.Choice choice : picks.choices()) {
            if (!choice.without().isEmpty()) {
                apart.add(choice.rule().label() + ": " + choice.without());
                continue;
            }
            boolean best = choice.pick() == picks.best();
            double se = choice.price().map(Contrast::standardError).orElse(Double.NaN);
            table.row(
                    List.of(
                            choice.rule().label(),
                            why.name(choice.pick()),
                            best
                                    ? "0"
                                    : NumberFormats.signed(
                                            choice.price()
                                                    .map(Contrast::difference)
                                                    .orElse(Double.NaN),
                                            se),
                            choice.price()
                                    .map(c -> NumberFormats.interval(c.low(), c.high(), se))
                                    .orElse(NumberFormats.UNDEFINED),
                            choice.rule().equals(picks.rule()) ? "in force" : ""),
                    choice.rule().equals(picks.rule()));
        }
        String without = apart.isEmpty() ? "" : Wrap.lines("not applied: " + String.join("; ", apart), 0);
        return "rules side by side, with their price (keenfold catalog rules says what each is)\n" + table.render(ink)
                + without;
    }

    private String otherInMostDraws() {
        return picks.frequency().entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .filter(e -> e.getKey() != picks.pick())
                .map(e -> Wrap.lines("In more draws another one is picked: " + why.name(e.getKey()) + ".", 0))
                .orElse("");
    }

    private String worth(Worth worth) {
        if (Double.isNaN(worth.rule().value())) {
            return "";
        }
        double se = picks.standardError();
        String rule = picks.rule().equals(Rule.BEST_MEAN)
                ? ""
                : "; choosing by " + picks.rule().label() + ", " + said(worth.rule());
        return Wrap.lines(
                String.format(
                        Locale.ROOT,
                        "Corrected for choosing: choosing the best mean among %d candidates is worth %s on rows that the"
                                + " choice did not see, where the best mean says %s%s (Monte Carlo error %s). This still"
                                + " corrects too little for unstable classifiers.",
                        metric.compared().size(),
                        said(worth.bestMean()),
                        NumberFormats.mean(picks.bestMean(), se),
                        rule,
                        NumberFormats.two(
                                Math.max(worth.bestMean().error(), worth.rule().error()))),
                0);
    }

    /** A corrected value; where the estimate is better than what was chosen, by chance, that mean and no more. */
    private String said(Corrected corrected) {
        String value = NumberFormats.mean(corrected.value(), picks.standardError());
        return corrected.limited() ? value + " or hardly less" : value;
    }

    private String leading() {
        if (!metric.calls() || metric.compared().size() < 2) {
            return "";
        }
        String names = picks.leading().stream().map(why::name).collect(Collectors.joining(", "));
        return Wrap.lines(
                Wrap.visible(
                        picks.leading().size() == metric.compared().size()
                                ? "Leading: none of the " + metric.compared().size()
                                        + " candidates is shown to be worse than the best."
                                : "Leading, not shown to be worse than the best: " + names + "."),
                0);
    }

    /** A sentence that a paper could print. */
    private String quote(Worth worth, Optional<Scheme> scheme) {
        double se = picks.standardError();
        String name = metric.metric().name();
        String corrected = Double.isNaN(worth.rule().value())
                ? ""
                : String.format(
                        Locale.ROOT,
                        "; corrected for choosing, %s is %s",
                        name,
                        NumberFormats.mean(worth.rule().value(), se));
        String splits = SchemeWords.of(panel, scheme);
        String best = String.format(
                Locale.ROOT,
                "\"Of %s compared on %s, %s had the best mean %s (%s%s)",
                Plural.of(metric.compared().size(), "candidate"),
                panel.scoresOnly() ? splits : "the same splits (" + splits + ")",
                why.name(picks.best()),
                name,
                NumberFormats.mean(picks.bestMean(), se),
                Double.isNaN(se) ? "" : ", SE " + NumberFormats.two(se));
        if (picks.pick() == picks.best()) {
            String rule = picks.inForce().without().isEmpty()
                    ? "rule " + picks.rule().label()
                    : "the rule " + picks.rule().label() + " could not be applied";
            return best + " and was chosen (" + rule + ")" + corrected + ".\"";
        }
        String difference = picks.inForce()
                .price()
                .map(c -> String.format(
                        Locale.ROOT,
                        ", difference %s, %s CI %s",
                        NumberFormats.signed(c.difference(), c.standardError()),
                        NumberFormats.level(level),
                        NumberFormats.interval(c.low(), c.high(), c.standardError())))
                .orElse("");
        String rule = picks.rule().kind() == Rule.Kind.ONE_SE
                ? "the one-standard-error rule (Breiman et al., 1984)"
                : "the rule " + picks.rule().label();
        return best
                + String.format(
                        Locale.ROOT,
                        "; by %s we chose %s, the simplest of %d near enough to it (%s%s)%s.\"",
                        rule,
                        why.name(picks.pick()),
                        picks.eligible().size(),
                        NumberFormats.mean(means.get(picks.pick()).mean(), se),
                        difference,
                        corrected);
    }

    /** Returns what the columns mean. */
    public static String legend(MetricInference metric, Rule rule, Simplicity simplicity, Ink ink) {
        String drawn = metric.draws() == 0
                ? ""
                : "picked in draws: share of the " + metric.draws() + " draws in which " + rule.label()
                        + " picks it; a low share means that the pick would easily be another. ";
        String order = simplicity.by() == SimplerBy.SIZE
                ? "size: effective number of parameters; it measures flexibility, not readability, leaves out the search"
                        + " for splits, columns and settings, and counts to two digits. "
                : "The order is by " + simplicity.by().label()
                        + (simplicity.by().timed() ? ", which differs from run to run. " : ". ");
        String rules = rule.kind() == Rule.Kind.BEST_MEAN
                ? ""
                : "The rule prefers the simple; it is not the choice with the best expected score.";
        return ink.quiet(Wrap.lines(drawn + order + rules, 0).stripTrailing()) + "\n";
    }
}
