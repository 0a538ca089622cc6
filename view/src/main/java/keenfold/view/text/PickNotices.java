package keenfold.view.text;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Call;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.pick.Simplicity;

/** What is to be said about a pick. */
public final class PickNotices {
    private static final double SELDOM = 0.5;

    private PickNotices() {}

    /** Returns what is to be said about a pick by size. */
    public static List<String> of(AlignedPredictions panel, MetricInference metric, Picks picks) {
        return of(panel, metric, picks, Simplicity.of(panel));
    }

    /** Returns what is to be said about a pick. */
    public static List<String> of(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity) {
        List<String> cautions = new ArrayList<>();
        String name = panel.task().data().name();
        Notices.guess(panel)
                .filter(g -> g != picks.best())
                .flatMap(g -> metric.contrast(picks.best(), g))
                .ifPresent(c -> {
                    if (c.call() != Call.NONE && !(c.significant() && better(c, metric))) {
                        cautions.add(String.format(
                                Locale.ROOT,
                                "%s: the best candidate, %s, is not shown to be better than the majority guess by %s (p"
                                        + " adjusted %s)",
                                name,
                                panel.candidates().get(picks.best()).name(),
                                metric.metric().name(),
                                NumberFormats.p(c.pAdjusted(), metric.draws())));
                    }
                });
        if (Notices.guess(panel).filter(g -> g == picks.best()).isPresent()) {
            cautions.add(
                    String.format(Locale.ROOT, "%s: no candidate has a better mean than the majority guess", name));
        }
        double frequency = picks.frequency().getOrDefault(picks.pick(), 0.0);
        if (!picks.frequency().isEmpty() && frequency < SELDOM) {
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: %s is picked in only %s of the draws; other rows could well have led to another pick",
                    name,
                    panel.candidates().get(picks.pick()).name(),
                    NumberFormats.percent(frequency)));
        }
        cautions.addAll(ofRules(panel, metric, picks, simplicity));
        if (metric.compared().size() > 1) {
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: the best mean was chosen for being best of %d, and so is a little too good; expect less on new"
                            + " rows",
                    name,
                    metric.compared().size()));
        }
        return cautions;
    }

    /** What is to be said about how the pick depends on its rule and its order. */
    private static List<String> ofRules(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity) {
        List<String> cautions = new ArrayList<>();
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
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: the pick, %s, depends on the rule %s: %s; settle on a rule before looking",
                    name,
                    pick,
                    picks.rule().label(),
                    Notices.some(others)));
        }
        boolean sameKind = panel.candidates()
                .get(picks.pick())
                .kind()
                .name()
                .equals(panel.candidates().get(picks.best()).kind().name());
        if (simplicity.by() == SimplerBy.SIZE && !sameKind) {
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: %s is preferred to another kind of classifier, %s, for its size, which measures flexibility, not"
                            + " readability; state your own order with rank in the plan or pick --rank if you have one",
                    name,
                    pick,
                    panel.candidates().get(picks.best()).name()));
        }
        List<String> without = metric.compared().stream()
                .filter(c -> Double.isNaN(simplicity.value(c)))
                .map(c -> panel.candidates().get(c).name())
                .toList();
        if (without.size() == metric.compared().size()) {
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: no candidate has a %s, so that none counts as simpler than another; state an order with --rank",
                    name,
                    simplicity.by().label()));
        } else if (!without.isEmpty()) {
            cautions.add(String.format(
                    Locale.ROOT,
                    "%s: %s %s no %s and count as the least simple",
                    name,
                    Notices.some(without),
                    without.size() == 1 ? "has" : "have",
                    simplicity.by().label()));
        }
        if (picks.rule().kind() == Rule.Kind.NOT_WORSE) {
            picks.inForce().price().ifPresent(c -> {
                double worst = metric.metric().higherIsBetter() ? 0 - c.lowAll() : c.highAll();
                double limit = metric.margin() > 0 ? metric.margin() : picks.standardError();
                if (worst > limit) {
                    cautions.add(String.format(
                            Locale.ROOT,
                            "%s: that %s is not significantly worse does not make it as good: a deficit of up to %s is not"
                                    + " excluded, more than %s of %s",
                            name,
                            pick,
                            NumberFormats.mean(worst, c.standardError()),
                            metric.margin() > 0 ? "the margin" : "the best mean's se",
                            NumberFormats.two(limit)));
                }
            });
        }
        return cautions;
    }

    private static boolean better(Contrast c, MetricInference metric) {
        return c.call() == Call.BETTER || (c.difference() > 0 == metric.metric().higherIsBetter());
    }
}
