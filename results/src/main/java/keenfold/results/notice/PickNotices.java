package keenfold.results.notice;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Notice;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;
import keenfold.results.table.NumberFormats;

/** What is to be said about a pick. */
public final class PickNotices {
    private static final double SELDOM = 0.5;

    private PickNotices() {}

    /** Returns what is to be said about a pick by the preset order. */
    public static List<Notice> of(AlignedPredictions panel, MetricInference metric, Picks picks) {
        return of(panel, metric, picks, Simplicity.of(panel));
    }

    /** Returns what is to be said about a pick. */
    public static List<Notice> of(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity) {
        List<Notice> cautions = new ArrayList<>();
        shownWorse(panel, metric, picks).ifPresent(cautions::add);
        String name = panel.task().data().name();
        Notices.guess(panel)
                .filter(g -> g != picks.best())
                .flatMap(g -> metric.contrast(picks.best(), g))
                .ifPresent(c -> {
                    if (c.call() != Call.NONE && !(c.significant() && better(c, metric))) {
                        cautions.add(Notice.of(
                                        "not-better-than-guess",
                                        "the best candidate, %s, is not shown to be better than the majority guess by %s (p"
                                                + " adjusted %s)",
                                        panel.candidates().get(picks.best()).name(),
                                        metric.metric().name(),
                                        NumberFormats.p(c.pAdjusted(), metric.draws()))
                                .about(name)
                                .with(
                                        "candidate",
                                        panel.candidates().get(picks.best()).name())
                                .with("p_adjusted", c.pAdjusted()));
                    }
                });
        if (Notices.guess(panel).filter(g -> g == picks.best()).isPresent()) {
            cautions.add(Notice.of("guess-is-best", "no candidate has a better mean than the majority guess")
                    .about(name));
        }
        double frequency = picks.frequency().getOrDefault(picks.pick(), 0.0);
        if (!picks.frequency().isEmpty() && frequency < SELDOM) {
            cautions.add(Notice.of(
                            "seldom-picked",
                            "%s is picked in only %s of the draws; other rows could well have led to another pick",
                            panel.candidates().get(picks.pick()).name(),
                            NumberFormats.percent(frequency))
                    .about(name)
                    .with("candidate", panel.candidates().get(picks.pick()).name())
                    .with("frequency", frequency));
        }
        cautions.addAll(ofRules(panel, metric, picks, simplicity));
        if (metric.compared().size() > 1) {
            cautions.add(Notice.of(
                            "chosen-as-best",
                            "the best mean was selected from %d, and so is optimistic; expect a somewhat worse score on new rows",
                            metric.compared().size())
                    .about(name)
                    .with("candidates", metric.compared().size()));
        }
        return cautions;
    }

    /** Returns that the pick is shown to be worse than the best mean, where it is. */
    public static Optional<Notice> shownWorse(AlignedPredictions panel, MetricInference metric, Picks picks) {
        return picks.shownWorse().map(c -> {
            String pick = panel.candidates().get(picks.pick()).name();
            String best = panel.candidates().get(picks.best()).name();
            return Notice.of(
                            "pick-is-worse",
                            "the pick, %s, is shown to be worse than %s, which has the best mean %s (difference %s, p adjusted"
                                    + " %s); rule may-be-best picks only among candidates that are not",
                            pick,
                            best,
                            metric.metric().name(),
                            NumberFormats.signed(c.difference(), c.standardError()),
                            NumberFormats.p(c.pAdjusted(), metric.draws()))
                    .about(panel.task().data().name(), metric.metric().name())
                    .with("candidate", pick)
                    .with("best", best)
                    .with("difference", c.difference())
                    .with("p_adjusted", c.pAdjusted());
        });
    }

    /** What is to be said about how the pick depends on its rule and its order. */
    private static List<Notice> ofRules(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity) {
        List<Notice> cautions = new ArrayList<>();
        String name = panel.task().data().name();
        String pick = panel.candidates().get(picks.pick()).name();
        List<String> others = picks.choices().stream()
                .filter(c -> c.without().isEmpty() && c.pick() != picks.pick())
                // That the best mean is another one is what every other rule is for.
                .filter(c -> !c.rule().equals(Rule.BEST_MEAN))
                .map(c -> c.rule().label() + " picks "
                        + panel.candidates().get(c.pick()).name())
                .toList();
        if (!others.isEmpty()) {
            cautions.add(Notice.of(
                            "rule-decides",
                            "the pick, %s, depends on the rule %s: %s; settle on a rule before looking",
                            pick,
                            picks.rule().label(),
                            Notices.some(others))
                    .about(name)
                    .with("candidate", pick)
                    .with("rule", picks.rule().label())
                    .with("others", others));
        }
        boolean sameKind = panel.candidates()
                .get(picks.pick())
                .kind()
                .name()
                .equals(panel.candidates().get(picks.best()).kind().name());
        if (simplicity.by() == SimplerBy.SIZE && !sameKind) {
            cautions.add(Notice.of(
                            "simpler-across-kinds",
                            "%s is preferred to another kind of classifier, %s, for its size, which measures flexibility, not"
                                    + " readability; state your own order with rank in the plan or pick --rank if you have one",
                            pick,
                            panel.candidates().get(picks.best()).name())
                    .about(name)
                    .with("candidate", pick)
                    .with("best", panel.candidates().get(picks.best()).name()));
        }
        if (simplicity.by() == SimplerBy.KIND) {
            Picker.picked(metric, Simplicity.of(panel, SimplerBy.SIZE), picks.rule())
                    .filter(other -> other != picks.pick())
                    .ifPresent(other -> cautions.add(Notice.of(
                                    "size-decides-otherwise",
                                    "by size alone, %s (size %s) would be picked instead of %s (size %s); settle on an"
                                            + " order, simpler-by, before looking",
                                    panel.candidates().get(other).name(),
                                    NumberFormats.significant(simplicity.size(other), 3),
                                    pick,
                                    NumberFormats.significant(simplicity.size(picks.pick()), 3))
                            .about(name)
                            .with("candidate", pick)
                            .with("by_size", panel.candidates().get(other).name())));
        }
        List<String> without = metric.compared().stream()
                .filter(c -> Double.isNaN(simplicity.value(c)))
                .map(c -> panel.candidates().get(c).name())
                .toList();
        if (without.size() == metric.compared().size()) {
            cautions.add(Notice.of(
                            "no-order",
                            "no candidate has a %s, so that none counts as simpler than another; state an order with --rank",
                            simplicity.by().label())
                    .about(name)
                    .with("simpler_by", simplicity.by().label()));
        } else if (!without.isEmpty()) {
            cautions.add(Notice.of(
                            "partial-order",
                            "%s %s no %s and count as the least simple",
                            Notices.some(without),
                            without.size() == 1 ? "has" : "have",
                            simplicity.by().label())
                    .about(name)
                    .with("candidates", without)
                    .with("simpler_by", simplicity.by().label()));
        }
        if (picks.rule().kind() == Rule.Kind.MAY_BE_BEST
                && picks.inForce().without().isEmpty()) {
            picks.standings().map(s -> s.of(picks.pick())).ifPresent(s -> {
                double worst = s.deficit();
                double limit = metric.margin() > 0 ? metric.margin() : picks.standardError();
                if (worst > limit) {
                    cautions.add(Notice.of(
                                    "deficit-not-excluded",
                                    "that %s may be the best does not make it as good as the best: a deficit of up to %s is"
                                            + " not excluded, more than %s of %s",
                                    pick,
                                    NumberFormats.two(worst),
                                    metric.margin() > 0 ? "the margin" : "the best mean's se",
                                    NumberFormats.two(limit))
                            .about(name)
                            .with("candidate", pick)
                            .with("deficit", worst)
                            .with("limit", limit));
                }
            });
        }
        return cautions;
    }

    private static boolean better(Contrast c, MetricInference metric) {
        return c.call() == Call.BETTER || (c.difference() > 0 == metric.metric().higherIsBetter());
    }
}
