package keenfold.view.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import keenfold.core.infer.Contrast;
import keenfold.core.infer.MeanScore;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Panel;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;

/** The pick, why it was picked, and what it costs. */
public final class PickView {
    private final Panel panel;
    private final MetricInference metric;
    private final Picks picks;
    private final Simplicity sizes;
    private final List<MeanScore> means;
    private final double level;

    private PickView(Panel panel, MetricInference metric, Picks picks, double level) {
        this.panel = panel;
        this.metric = metric;
        this.picks = picks;
        this.sizes = Simplicity.of(panel);
        this.means = metric.means();
        this.level = level;
    }

    /** Returns the reason in a sentence or two, for the foot of a comparison. */
    public static String brief(Panel panel, MetricInference metric, Picks picks, double level, Ink ink) {
        PickView view = new PickView(panel, metric, picks, level);
        String head = "Pick: " + view.name(picks.pick());
        String text = Wrap.lines(head + " " + view.reason(), 0);
        return text.startsWith(head) ? ink.strong(head) + text.substring(head.length()) : text;
    }

    /** Returns the rules side by side. */
    public static String render(Panel panel, MetricInference metric, Picks picks, double level, Ink ink) {
        PickView view = new PickView(panel, metric, picks, level);
        return ink.strong("Pick by " + metric.metric().name() + ": " + view.name(picks.pick())) + "\n"
                + Wrap.lines(view.reason(), 0) + "\n"
                + view.candidates(ink) + "\n"
                + view.rules(ink)
                + view.otherInMostDraws();
    }

    private String name(int candidate) {
        return panel.candidates().get(candidate).name();
    }

    private String reason() {
        double se = picks.standardError();
        String best = String.format(
                Locale.ROOT,
                "%s has the best mean %s, %s (se %s)",
                name(picks.best()),
                metric.metric().name(),
                Figures.mean(picks.bestMean(), se),
                Figures.two(se));
        if (picks.rule().equals(Rule.BEST_MEAN)) {
            return "by best-mean: " + best + ".";
        }
        String limit = Figures.mean(picks.threshold(), se);
        if (picks.pick() == picks.best()) {
            return String.format(
                    Locale.ROOT,
                    "by one-se: %s, and no simpler candidate comes within one standard error of it (limit %s).",
                    best,
                    limit);
        }
        return String.format(
                Locale.ROOT,
                "by one-se: %s; %s, of size %s instead of %s, lies within one standard error of it (limit %s)%s.",
                best,
                name(picks.pick()),
                Figures.significant(sizes.size(picks.pick()), 3),
                Figures.significant(sizes.size(picks.best()), 3),
                limit,
                price());
    }

    private String price() {
        return picks.choices().stream()
                .filter(c -> c.rule().equals(picks.rule()))
                .flatMap(c -> c.price().stream())
                .findFirst()
                .map(c -> String.format(
                        Locale.ROOT,
                        ". Its price: %s (%s interval %s)",
                        Figures.signed(c.difference(), c.standardError()),
                        Figures.level(level),
                        Figures.interval(c.low(), c.high(), c.standardError())))
                .orElse("");
    }

    private String candidates(Ink ink) {
        TextTable table = TextTable.empty()
                .column("candidate", TextTable.Align.NAME)
                .column("size", TextTable.Align.POINT)
                .column("mean " + metric.metric().name(), TextTable.Align.POINT)
                .column("se", TextTable.Align.POINT)
                .column("picked in draws", TextTable.Align.RIGHT)
                .column("", TextTable.Align.LEFT);
        List<MeanScore> bySize = means.stream()
                .filter(m -> metric.compared().contains(m.candidate()))
                .sorted(Comparator.comparingDouble(m -> sizes.size(m.candidate())))
                .toList();
        for (MeanScore m : bySize) {
            int c = m.candidate();
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
            table.row(
                    List.of(
                            name(c),
                            Figures.significant(sizes.size(c), 3),
                            Figures.mean(m.mean(), m.standardError()),
                            Figures.two(m.standardError()),
                            Figures.percent(picks.frequency().getOrDefault(c, 0.0)),
                            String.join(", ", marks)),
                    c == picks.pick());
        }
        return "candidates, the smallest first\n" + table.render(ink);
    }

    private String rules(Ink ink) {
        TextTable table = TextTable.empty()
                .column("rule", TextTable.Align.LEFT)
                .column("picks", TextTable.Align.NAME)
                .column("from the best", TextTable.Align.POINT)
                .column(Figures.level(level) + " interval", TextTable.Align.RIGHT);
        for (Picks.Choice choice : picks.choices()) {
            boolean best = choice.pick() == picks.best();
            double se = choice.price().map(Contrast::standardError).orElse(Double.NaN);
            table.row(List.of(
                    choice.rule().label(),
                    name(choice.pick()),
                    best
                            ? "0"
                            : Figures.signed(
                                    choice.price().map(Contrast::difference).orElse(Double.NaN), se),
                    choice.price()
                            .map(c -> Figures.interval(c.low(), c.high(), se))
                            .orElse(Figures.UNDEFINED)));
        }
        String meanings = picks.choices().stream()
                .map(c -> c.rule().label() + ": " + c.rule().meaning())
                .collect(Collectors.joining("; "));
        return Wrap.lines("rules side by side, with their price (" + meanings + ")", 0) + table.render(ink);
    }

    private String otherInMostDraws() {
        return picks.frequency().entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .filter(e -> e.getKey() != picks.pick())
                .map(e -> Wrap.lines("In more draws another one is picked: " + name(e.getKey()) + ".", 0))
                .orElse("");
    }

    /** Returns what the columns mean. */
    public static String legend(MetricInference metric, Rule rule, Ink ink) {
        String text = "picked in draws: share of the " + metric.draws() + " draws in which " + rule.label()
                + " picks it; a low share means that the pick would easily be another. size: effective number of"
                + " parameters; it measures flexibility, not readability, and counts to two digits. The one-SE rule prefers the simple; it is not"
                + " the choice with the best expected score.";
        return ink.quiet(Wrap.lines(text, 0).stripTrailing()) + "\n";
    }
}
