package keenfold.view.text;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import keenfold.core.data.Plural;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Rule;
import keenfold.core.pick.Simplicity;
import keenfold.core.split.Scheme;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;

/** The pick, why it was picked, and what it costs. */
public final class PickView {
    private static final int BAR = 24;

    private final AlignedPredictions panel;
    private final MetricInference metric;
    private final Picks picks;
    private final List<MeanScore> means;
    private final double level;
    private final PickReason why;

    private PickView(
            AlignedPredictions panel, MetricInference metric, Picks picks, Simplicity simplicity, double level) {
        this.panel = panel;
        this.metric = metric;
        this.picks = picks;
        this.means = metric.means();
        this.level = level;
        this.why = new PickReason(panel, metric, picks, simplicity, level);
    }

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
        String text = Wrap.lines("Pick: " + view.pickAndReason(), 0);
        return (text.startsWith(head) ? ink.strong(head) + text.substring(head.length()) : text) + view.mayBeBest();
    }

    /**
     * What is said about a pick, in sentences; empty where there is nothing to say.
     *
     * @param reason why it was picked
     * @param worth what choosing is worth on rows that the choice did not see
     * @param mayBeBest which candidates may be the best
     * @param quote a sentence that a paper could print
     */
    public record Said(String reason, String worth, String mayBeBest, String quote) {}

    /** Returns what is said about the pick of a data set, where there is one. */
    public static Said said(Picking.OfSet set, Optional<Scheme> scheme) {
        Picks picks = set.picks().orElseThrow();
        PickView view = new PickView(
                set.inference().panel(),
                set.metric(),
                picks,
                set.simplicity(),
                set.inference().evidence().level());
        return new Said(
                view.pickAndReason() + " "
                        + view.otherInMostDraws().replaceAll("\\s+", " ").strip(),
                view.worth(set.worth()).replaceAll("\\s+", " ").strip(),
                view.mayBeBest().replaceAll("\\s+", " ").strip(),
                view.quote(set.worth(), scheme));
    }

    /** Returns that a pick is shown to be worse than the best mean, to stand behind its name; empty where it is not. */
    public static String shownWorse(AlignedPredictions panel, MetricInference metric, Picks picks) {
        return new PickReason(panel, metric, picks, Simplicity.of(panel), 0).shownWorse();
    }

    /** The name of the pick and why it was picked; first of all that it is shown to be worse, where it is. */
    private String pickAndReason() {
        String worse = why.shownWorse();
        return why.name(picks.pick()) + worse + (worse.isEmpty() ? " " : "; picked ") + why.reason();
    }

    /** Returns the picks data set by data set, and over all of them. */
    public static String render(Picking picking, Ink ink) {
        StringBuilder text = new StringBuilder();
        Evaluation evaluation = picking.evaluation();
        for (Picking.OfSet set : picking.sets()) {
            text.append(Heading.of(set.inference().panel(), evaluation.scheme(), ink))
                    .append('\n')
                    .append(render(set, evaluation.scheme(), ink))
                    .append('\n');
        }
        picking.overall().ifPresent(o -> text.append(overall(o, picking.sets().size(), ink))
                .append('\n'));
        Picking.OfSet first = picking.sets().get(0);
        return text.append(legend(first.metric(), picking.rule(), first.simplicity(), ink))
                .toString();
    }

    /** Returns the pick with its reasons, the candidates, the families and the rules side by side. */
    private static String render(Picking.OfSet set, Optional<Scheme> scheme, Ink ink) {
        String metric = set.metric().metric().name();
        if (set.picks().isEmpty()) {
            return "no candidate can be compared by " + metric + "\n";
        }
        Picks picks = set.picks().get();
        PickView view = new PickView(
                set.inference().panel(),
                set.metric(),
                picks,
                set.simplicity(),
                set.inference().evidence().level());
        boolean ordered = set.metric().compared().stream()
                .anyMatch(c -> !Double.isNaN(set.simplicity().value(c)));
        return ink.strong("Pick by " + metric + ": " + view.why.name(picks.pick()) + view.why.shownWorse()) + "\n"
                + Wrap.lines(view.why.reason(), 0) + "\n"
                + (ordered ? "candidates, the simplest first\n" : "candidates\n")
                + TextTable.of(set.candidates()).render(ink) + "\n"
                + set.families().stream().map(f -> view.family(f, ink) + "\n").collect(Collectors.joining())
                + rules(set.rules(), ink)
                + view.otherInMostDraws() + "\n"
                + view.worth(set.worth())
                + view.mayBeBest()
                + Wrap.lines("To quote: " + view.quote(set.worth(), scheme), 0);
    }

    private static String overall(Picking.Overall overall, int sets, Ink ink) {
        return ink.strong(String.format(Locale.ROOT, "Over %d data sets: %s", sets, overall.pick())) + "\n"
                + Wrap.lines(
                        "by mean rank of the means (1 is best); whether ranks differ beyond chance: contrast --across",
                        0)
                + TextTable.of(overall.table()).render(ink);
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
                .column(String.join("/", varied), Alignment.RIGHT)
                .column("mean", Alignment.POINT)
                .column("se", Alignment.POINT)
                .column("above the worst", Alignment.LEFT)
                .column("", Alignment.LEFT);
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

    private static String rules(ResultTable rules, Ink ink) {
        String apart = rules.rows().stream()
                .filter(r -> !r.text("message").isEmpty())
                .map(r -> r.text("rule") + ": " + r.text("message"))
                .collect(Collectors.joining("; "));
        return "rules side by side, with their price (keenfold catalog rules says what each is)\n"
                + TextTable.of(rules.where("message", "")).render(ink)
                + (apart.isEmpty() ? "" : Wrap.lines("not applied: " + apart, 0));
    }

    private String otherInMostDraws() {
        return picks.frequency().entrySet().stream()
                .max(Map.Entry.comparingByValue())
                .filter(e -> e.getKey() != picks.pick())
                .map(e -> Wrap.lines("In more draws another one is picked: " + why.name(e.getKey()) + ".", 0))
                .orElse("");
    }

    private String worth(Picking.Worth worth) {
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

    /** Which candidates may be the best, in a sentence. */
    private String mayBeBest() {
        if (picks.standings().isEmpty()) {
            return "";
        }
        int all = metric.compared().size();
        String names = picks.mayBeBest().stream().map(why::name).collect(Collectors.joining(", "));
        return Wrap.lines(
                Wrap.visible("May be the best (" + NumberFormats.level(level) + "): "
                        + (picks.mayBeBest().size() == all ? "each of the " + all + " candidates" : names) + "."),
                0);
    }

    /** A sentence that a paper could print. */
    private String quote(Picking.Worth worth, Optional<Scheme> scheme) {
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
                CandidateWords.of(panel.candidates().get(picks.best())),
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
        String worse = picks.shownWorse()
                .map(c -> ", although it is shown to be worse (p adjusted for all pairs "
                        + NumberFormats.p(c.pAdjusted(), metric.draws()) + ")")
                .orElse("");
        String rule = picks.rule().kind() == Rule.Kind.ONE_SE
                ? "the one-standard-error rule (Breiman et al., 1984)"
                : "the rule " + picks.rule().label();
        return best
                + String.format(
                        Locale.ROOT,
                        "; by %s we chose %s, the simplest of %d near enough to it (%s%s)%s%s.\"",
                        rule,
                        CandidateWords.of(panel.candidates().get(picks.pick())),
                        picks.eligible().size(),
                        NumberFormats.mean(means.get(picks.pick()).mean(), se),
                        difference,
                        worse,
                        corrected);
    }

    /** Returns what the columns mean. */
    private static String legend(MetricInference metric, Rule rule, Simplicity simplicity, Ink ink) {
        String drawn = metric.draws() == 0
                ? ""
                : "picked in draws: share of the " + metric.draws() + " draws in which " + rule.label()
                        + " picks it; a low share means that the pick would easily be another. ";
        String size =
                "size: effective number of parameters; it measures flexibility, not readability, leaves out the search"
                        + " for splits, columns and settings, and counts to two digits. ";
        String order =
                switch (simplicity.by()) {
                    case KIND ->
                        "tier: how readily a person can read and check the model; 1: a guess, 2: a weight or distribution per column,"
                                + " 3: a single tree, 4: neighbours, 5: support vectors and networks, 6: sums of many models, and"
                                + " programs that do not state a tier. Within a tier, candidates are ordered by size. "
                                + size;
                    case SIZE -> size;
                    default ->
                        "The order is by " + simplicity.by().label()
                                + (simplicity.by().timed() ? ", which differs from run to run. " : ". ");
                };
        String rules = rule.kind() == Rule.Kind.BEST_MEAN
                ? ""
                : "The rule prefers the simple; it is not the choice with the best expected score.";
        return ink.quiet(Wrap.lines(drawn + order + rules, 0).stripTrailing()) + "\n";
    }
}
