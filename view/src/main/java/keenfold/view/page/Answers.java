package keenfold.view.page;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picks;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Scheme;
import keenfold.results.Picking;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.view.page.Page.Entry;
import keenfold.view.page.ReportContent.OfMetric;
import keenfold.view.page.ReportContent.OfSet;
import keenfold.view.text.CandidateWords;
import keenfold.view.text.PickView;
import keenfold.view.text.SchemeWords;
import keenfold.view.text.Wrap;

/** What a reader wants to know first of each data set, in a few lines. */
final class Answers {
    private static final int MOST_NAMED = 8;
    private static final int MOST_WARNINGS = 2;
    private static final int FINGERPRINT = 16;

    private final OfSet set;
    private final OfMetric metric;
    private final Optional<Scheme> scheme;
    private final AlignedPredictions panel;
    private final MetricInference inference;
    private final String name;
    private final double level;

    private Answers(OfSet set, String primary, Optional<Scheme> scheme) {
        this.set = set;
        this.metric = set.under(primary);
        this.scheme = scheme;
        this.inference = metric.subject().metric();
        this.panel = metric.subject().inference().panel();
        this.name = Wrap.visible(inference.metric().name());
        this.level = metric.subject().inference().evidence().level();
    }

    static List<Page.Answer> of(ReportContent content) {
        List<Page.Answer> answers = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            Answers one = new Answers(content.sets().get(t), content.primary(), content.scheme());
            String print =
                    t < content.fingerprints().size() ? content.fingerprints().get(t) : "";
            answers.add(one.answer(print, content.date()));
        }
        return answers;
    }

    private Page.Answer answer(String fingerprint, String date) {
        List<Entry> entries = new ArrayList<>();
        Picking.OfSet picking = metric.subject().picking();
        if (picking.picks().isEmpty()) {
            entries.add(new Entry("Pick", "no candidate can be picked by " + name));
        } else {
            pick(entries, picking, picking.picks().get());
        }
        undecided().ifPresent(u -> entries.add(new Entry("Not decided", u)));
        entries.add(new Entry("Read first", warnings()));
        entries.add(new Entry("Data", data(fingerprint, date)));
        return new Page.Answer(Wrap.visible(panel.task().data().name()) + ", by " + name, entries);
    }

    private void pick(List<Entry> entries, Picking.OfSet picking, Picks picks) {
        Candidate pick = panel.candidates().get(picks.pick());
        String words = CandidateWords.of(pick);
        entries.add(new Entry(
                "Pick",
                (words.startsWith(pick.name()) ? "" : pick.name() + ": ") + words + ", by the rule "
                        + picks.rule().label() + PickView.shownWorse(panel, inference, picks)));
        MeanScore mean = inference.means().get(picks.pick());
        double se = mean.standardError();
        String score = name + " " + NumberFormats.mean(mean.mean(), se)
                + (Double.isNaN(se) ? "" : ", se " + NumberFormats.two(se))
                + (Double.isNaN(mean.low())
                        ? ""
                        : ", " + NumberFormats.level(level) + " interval "
                                + NumberFormats.interval(mean.low(), mean.high(), se)
                                + (mean.interval() == MeanScore.Interval.CLOPPER_PEARSON
                                        ? " (Clopper-Pearson, of the rows as they were predicted)"
                                        : ""));
        double corrected = picking.worth().rule().value();
        entries.add(new Entry(
                "Score",
                score
                        + (Double.isNaN(corrected)
                                ? ""
                                : "; corrected for choosing " + NumberFormats.mean(corrected, se))));
        entries.add(new Entry("Price", price(picks)));
        if (picks.standings().isPresent()) {
            int all = inference.compared().size();
            entries.add(new Entry(
                    "May be the best",
                    picks.mayBeBest().size() == all
                            ? "each of the " + all + " candidates"
                            : named(picks.mayBeBest().stream()
                                    .map(c -> panel.candidates().get(c).name())
                                    .toList())));
        }
    }

    private String price(Picks picks) {
        if (picks.pick() == picks.best()) {
            return "none: it has the best mean";
        }
        String best = panel.candidates().get(picks.best()).name();
        return picks.inForce()
                .price()
                .map(c -> NumberFormats.signed(c.difference(), c.standardError()) + " from " + best
                        + ", which has the best mean (" + NumberFormats.level(level) + " interval "
                        + NumberFormats.interval(c.low(), c.high(), c.standardError()) + ")")
                .orElse("not known");
    }

    private static String named(List<String> names) {
        return String.join(", ", names.subList(0, Math.min(MOST_NAMED, names.size())))
                + (names.size() > MOST_NAMED ? " and " + (names.size() - MOST_NAMED) + " more" : "");
    }

    /**
     * How many candidates are not told apart from the best, and how many rows would decide what the pick hangs on: whether the
     * pick is worse than the best; where it is the best, which of the others that may be the best is the first to be decided.
     */
    private Optional<String> undecided() {
        List<Contrast> shown = metric.contrasts().shown();
        List<ResultTable.Row> open = metric.contrasts().table().rows().stream()
                .filter(r -> r.text("call").equals("undecided"))
                .toList();
        if (open.isEmpty()) {
            return Optional.empty();
        }
        String best = panel.candidates().get(shown.get(0).against()).name();
        Optional<ResultTable.Row> hanging = hanging(open);
        return Optional.of(String.format(
                Locale.ROOT,
                "%d of %d candidates are not told apart from %s%s",
                open.size(),
                shown.size(),
                best,
                hanging.map(r -> String.format(
                                Locale.ROOT,
                                "; about %s %s like these would decide between it and %s, %s; there are %d",
                                NumberFormats.shortest(r.number("rows_for_call")),
                                panel.units().grouped() ? "groups" : "rows",
                                r.text("candidate"),
                                isPick(r) ? "the pick" : "which may be the best too",
                                panel.units().count()))
                        .orElse("")));
    }

    private boolean isPick(ResultTable.Row row) {
        return metric.subject()
                .picking()
                .picks()
                .filter(p -> panel.candidates().get(p.pick()).name().equals(row.text("candidate")))
                .isPresent();
    }

    /** The undecided comparison with the best that the pick hangs on; none where its rows are not known. */
    private Optional<ResultTable.Row> hanging(List<ResultTable.Row> open) {
        Optional<ResultTable.Row> ofPick = open.stream().filter(this::isPick).findFirst();
        if (ofPick.isPresent()) {
            return ofPick.filter(r -> !Double.isNaN(r.number("rows_for_call")));
        }
        List<String> mayBeBest = metric.subject().picking().picks().map(Picks::mayBeBest).orElse(List.of()).stream()
                .map(c -> panel.candidates().get(c).name())
                .toList();
        return open.stream()
                .filter(r -> mayBeBest.contains(r.text("candidate")))
                .filter(r -> !Double.isNaN(r.number("rows_for_call")))
                .min(Comparator.comparingDouble(r -> r.number("rows_for_call")));
    }

    private String warnings() {
        List<String> all =
                set.notices().stream().map(Notice::sentence).distinct().toList();
        // What holds for the metric of the box comes first, one sentence of a kind.
        Map<String, String> byCode = new LinkedHashMap<>();
        set.notices().stream()
                .filter(n -> n.metric().isEmpty()
                        || n.metric().equals(inference.metric().name()))
                .forEach(n -> byCode.putIfAbsent(n.code(), n.sentence()));
        set.notices().forEach(n -> byCode.putIfAbsent(n.code(), n.sentence()));
        List<String> sentences = List.copyOf(byCode.values());
        if (sentences.isEmpty()) {
            return "no warnings";
        }
        String first = sentences.subList(0, Math.min(MOST_WARNINGS, sentences.size())).stream()
                .map(s -> s.replaceFirst("^" + Pattern.quote(panel.task().data().name()) + "(?: \\([^)]*\\))?: ", ""))
                .map(w -> w.substring(0, 1).toUpperCase(Locale.ROOT) + w.substring(1))
                .collect(Collectors.joining(". "));
        int more = all.size() - Math.min(MOST_WARNINGS, sentences.size());
        return first + "." + (more > 0 ? " " + Plural.of(more, "more warning") + " below." : "");
    }

    private String data(String fingerprint, String date) {
        DataSet data = panel.task().data();
        List<String> parts = new ArrayList<>();
        if (!panel.scoresOnly()) {
            int[] counts = data.classCounts();
            parts.add(Plural.of(data.rows(), "row") + " of " + Plural.of(counts.length, "class", "classes")
                    + (data.classes().binary()
                            ? ", positive " + Wrap.visible(data.classes().positiveLabel()) + " ("
                                    + counts[data.classes().positive()] + ")"
                            : ""));
        }
        parts.add(SchemeWords.of(panel, scheme));
        parts.add("seed " + panel.seed());
        if (!fingerprint.isEmpty()) {
            parts.add("fingerprint " + fingerprint.substring(0, Math.min(FINGERPRINT, fingerprint.length())));
        }
        if (!date.isEmpty()) {
            parts.add(date);
        }
        return String.join("; ", parts);
    }
}
