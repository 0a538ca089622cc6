package keenfold.view.text;

import java.util.Locale;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.results.table.NumberFormats;

/** Why a candidate was picked, in words. */
final class PickReason {
    private final AlignedPredictions panel;
    private final MetricInference metric;
    private final Picks picks;
    private final Simplicity simplicity;
    private final double level;

    /** @param level of the intervals, such as 0.95 */
    PickReason(AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity, double level) {
        this.panel = panel;
        this.metric = metric;
        this.picks = picks;
        this.simplicity = simplicity;
        this.level = level;
    }

    /** Returns the name of a candidate. */
    String name(int candidate) {
        return panel.candidates().get(candidate).name();
    }

    /** Returns that the pick is shown to be worse than the best mean, where it is, to stand behind its name; empty elsewhere. */
    String shownWorse() {
        return picks.shownWorse()
                .map(c -> String.format(
                        Locale.ROOT,
                        ", shown to be worse than %s (difference %s, p adjusted %s)",
                        name(picks.best()),
                        NumberFormats.signed(c.difference(), c.standardError()),
                        NumberFormats.p(c.pAdjusted(), metric.draws())))
                .orElse("");
    }

    /** Returns the reason in a sentence or two, which the name of the pick begins. */
    String reason() {
        double se = picks.standardError();
        Rule rule = picks.rule();
        String best = String.format(
                Locale.ROOT,
                "by %s: %s has the best mean %s, %s%s",
                rule.label(),
                name(picks.best()),
                metric.metric().name(),
                NumberFormats.mean(picks.bestMean(), se),
                Double.isNaN(se) ? "" : " (se " + NumberFormats.two(se) + ")");
        if (rule.equals(Rule.BEST_MEAN)) {
            return best + ".";
        }
        if (!picks.inForce().without().isEmpty()) {
            return best + "; the rule cannot be applied: " + picks.inForce().without() + ".";
        }
        if (picks.pick() == picks.best()) {
            return best + ", and no simpler candidate " + near() + ".";
        }
        return best + "; " + name(picks.pick()) + ", " + simpler() + ", " + near() + price() + notExcluded() + ".";
    }

    /** What makes a candidate eligible, as a predicate. */
    private String near() {
        String limit = Double.isNaN(picks.threshold())
                ? ""
                : " (limit " + NumberFormats.mean(picks.threshold(), picks.standardError()) + ")";
        return switch (picks.rule().kind()) {
            case ONE_SE -> "lies within one standard error of it" + limit;
            case M_SE ->
                "lies within " + NumberFormats.shortest(picks.rule().number()) + " standard errors of it" + limit;
            case FOLD_SE -> "lies within the textbook's standard error, sd of fold scores/sqrt(folds), of it" + limit;
            case ONE_SE_PAIRED -> "differs from it by no more than one standard error of the difference";
            case MAY_BE_BEST -> "may be the best";
            case WITHIN_MARGIN -> "lies within the margin of it" + limit;
            case BEST_MEAN -> "has its mean";
        };
    }

    private String simpler() {
        int pick = picks.pick();
        int best = picks.best();
        return switch (simplicity.by()) {
            case KIND ->
                simplicity.value(pick) == simplicity.value(best)
                        ? "of the same tier, " + value(pick) + ", and of size "
                                + NumberFormats.significant(simplicity.size(pick), 3) + " instead of "
                                + NumberFormats.significant(simplicity.size(best), 3)
                        : "of tier " + value(pick) + " (" + kind(pick) + ") instead of " + value(best) + " ("
                                + kind(best) + ")";
            case SIZE ->
                "of size " + NumberFormats.significant(simplicity.size(pick), 3) + " instead of "
                        + NumberFormats.significant(simplicity.size(best), 3);
            case RANK -> instead("of rank ", "", "no rank");
            case COLUMNS -> instead("of ", " columns", "no number of columns");
            case TRAIN_TIME, PREDICT_TIME -> instead("which takes ", "", "no time");
        };
    }

    /** The pick's value and the best candidate's; where they are equal, that size decided; what has none comes last. */
    private String instead(String before, String after, String none) {
        double own = simplicity.value(picks.pick());
        double best = simplicity.value(picks.best());
        if (own == best || Double.isNaN(own)) {
            String alike = Double.isNaN(own)
                    ? "with " + none + ", as the best"
                    : before + value(picks.pick()) + after + ", as the best";
            return alike + ", and of size " + NumberFormats.significant(simplicity.size(picks.pick()), 3)
                    + " instead of " + NumberFormats.significant(simplicity.size(picks.best()), 3);
        }
        return before
                + value(picks.pick())
                + after
                + (Double.isNaN(best) ? ", where the best has none" : " instead of " + value(picks.best()));
    }

    private String kind(int candidate) {
        return panel.candidates().get(candidate).kind().name();
    }

    /** Returns what a candidate is ordered by, as it is shown. */
    String value(int candidate) {
        double value = simplicity.value(candidate);
        return simplicity.by().timed() ? NumberFormats.seconds(value) : NumberFormats.significant(value, 3);
    }

    private String price() {
        return picks.inForce()
                .price()
                .map(c -> String.format(
                        Locale.ROOT,
                        ". Its price: %s (%s interval %s)",
                        NumberFormats.signed(c.difference(), c.standardError()),
                        NumberFormats.level(level),
                        NumberFormats.interval(c.low(), c.high(), c.standardError())))
                .orElse("");
    }

    /** Of the rule that asks what may be the best: what it leaves open. */
    private String notExcluded() {
        if (picks.rule().kind() != Rule.Kind.MAY_BE_BEST) {
            return "";
        }
        return picks.standings()
                .map(s -> s.of(picks.pick()).deficit())
                .filter(Double::isFinite)
                .map(d -> ". A deficit of up to " + NumberFormats.two(d) + " to another candidate is not excluded")
                .orElse("");
    }
}
