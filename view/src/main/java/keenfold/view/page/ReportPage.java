package keenfold.view.page;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import keenfold.core.data.Notice;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.candidate.Candidate;
import keenfold.results.table.NumberFormats;
import keenfold.view.chart.FigureKind;
import keenfold.view.page.ReportContent.Drawn;
import keenfold.view.page.ReportContent.OfAcross;
import keenfold.view.page.ReportContent.OfMetric;
import keenfold.view.page.ReportContent.OfSet;
import keenfold.view.text.AcrossView;
import keenfold.view.text.Wrap;

/** The report as one HTML page, its chapters in the order of the job. */
public final class ReportPage {
    private final ReportContent content;

    private ReportPage(ReportContent content) {
        this.content = content;
    }

    /** Returns the page as HTML that needs no other file. */
    public static String html(ReportContent content) {
        return Templates.html("report.ftlh", new ReportPage(content).page());
    }

    private Page page() {
        List<String> metrics = content.sets().get(0).metrics().stream()
                .map(m -> m.subject().metric().metric().name())
                .toList();
        List<String> candidates = content.sets().stream()
                .flatMap(s -> panel(s).candidates().stream())
                .map(Candidate::name)
                .distinct()
                .toList();
        List<Page.Chapter> chapters = new ArrayList<>();
        chapters.add(warnings());
        chapters.add(chapter(
                "scores",
                "Scores",
                "The mean over repeats, the uncertainty of that mean (se) with its interval, and the spread of single fold"
                        + " scores (sd). Spread and uncertainty are two things: sd says how much one fold differs from"
                        + " another, se how far the mean may be off for new rows.",
                (set, m) -> part(set, m, "", List.of(), List.of(Tables.scores(m.subject())), m, FigureKind.MEANS)));
        chapters.add(chapter(
                "spread",
                "Spread",
                "",
                (set, m) -> part(
                        set,
                        m,
                        "",
                        List.of(),
                        List.of(Tables.spread(m.subject())),
                        m,
                        FigureKind.SPREAD,
                        FigureKind.ORDER,
                        FigureKind.SETTLING)));
        chapters.add(contrasts());
        chapters.add(chapter(
                "pick",
                "Pick",
                "Which candidate each rule takes, what that costs, and how easily it would have been another.",
                this::pick));
        chapters.add(figures(
                "curves",
                "Curves",
                "ROC and precision-recall curves, and how well probabilities are calibrated.",
                FigureKind.ROC,
                FigureKind.PRECISION_RECALL,
                FigureKind.CALIBRATION));
        chapters.add(errors());
        chapters.add(cost());
        if (content.sets().stream().anyMatch(s -> s.figures().stream().anyMatch(d -> d.kind() == FigureKind.COLUMNS))) {
            chapters.add(figures("columns", "Columns", "What the fitted models rely on.", FigureKind.COLUMNS));
        }
        chapters.add(compared());
        chapters.add(repeat());
        String title = content.sets().size() == 1
                ? "Comparison on " + name(content.sets().get(0))
                : "Comparison on " + content.sets().size() + " data sets";
        return new Page(
                title,
                content.note(),
                content.version() + ", from " + content.ledger(),
                content.sets().stream().map(ReportPage::name).toList(),
                metrics,
                content.primary(),
                candidates,
                Answers.of(content),
                first(),
                chapters.stream().filter(c -> !c.parts().isEmpty()).toList());
    }

    /** The figure that stands before all chapters: the means, or, of several data sets, the mean ranks. */
    private List<Page.Picture> first() {
        Stream<Drawn> figures = content.sets().size() == 1
                ? content.sets().get(0).under(content.primary()).figures().stream()
                        .filter(d -> d.kind() == FigureKind.MEANS)
                : content.across().stream()
                        .filter(a -> a.part().name().equals(content.primary()))
                        .map(OfAcross::figure);
        return figures.map(ReportPage::picture).toList();
    }

    private static AlignedPredictions panel(OfSet set) {
        return set.metrics().get(0).subject().inference().panel();
    }

    private static String name(OfSet set) {
        return Wrap.visible(panel(set).task().data().name());
    }

    private static Page.Picture picture(Drawn d) {
        return new Page.Picture(d.figure().title(), d.figure().caption(), d.svg(), d.narrow(), d.file());
    }

    private static List<Page.Picture> pictures(List<Drawn> figures, FigureKind... kinds) {
        return Stream.of(kinds)
                .flatMap(k -> figures.stream().filter(d -> d.kind() == k))
                .map(ReportPage::picture)
                .toList();
    }

    private static Page.Part part(
            int set,
            OfMetric m,
            String heading,
            List<String> texts,
            List<Page.Table> tables,
            OfMetric figures,
            FigureKind... kinds) {
        return new Page.Part(
                set,
                m.subject().metric().metric().name(),
                heading,
                texts,
                List.of(),
                tables,
                pictures(figures.figures(), kinds),
                "");
    }

    /** Makes the part of one data set and metric. */
    private interface PartMaker {
        Page.Part of(int set, OfMetric metric);
    }

    private Page.Chapter chapter(String id, String title, String lead, PartMaker maker) {
        List<Page.Part> parts = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            for (OfMetric m : content.sets().get(t).metrics()) {
                parts.add(maker.of(t, m));
            }
        }
        return new Page.Chapter(id, title, lead, parts);
    }

    private Page.Chapter figures(String id, String title, String lead, FigureKind... kinds) {
        List<Page.Part> parts = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            List<Page.Picture> pictures = pictures(content.sets().get(t).figures(), kinds);
            if (!pictures.isEmpty()) {
                parts.add(new Page.Part(t, "", "", List.of(), List.of(), List.of(), pictures, ""));
            }
        }
        return new Page.Chapter(id, title, lead, parts);
    }

    private Page.Chapter compared() {
        List<Page.Part> parts = new ArrayList<>();
        List<AlignedPredictions> panels =
                content.sets().stream().map(ReportPage::panel).toList();
        parts.add(new Page.Part(
                -1,
                "",
                "",
                Stream.concat(Stream.of(content.note()), content.notes().stream())
                        .filter(n -> !n.isEmpty())
                        .toList(),
                List.of(),
                List.of(Tables.sets(panels, content.scheme()), Tables.candidates(panels.get(0))),
                List.of(),
                ""));
        return new Page.Chapter(
                "compared",
                "What was compared",
                "Every candidate met the same rows in the same folds of the same repeats; whatever is learned from data was"
                        + " learned from the training rows of each fold alone.",
                parts);
    }

    private Page.Chapter warnings() {
        List<Page.Part> parts = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            List<String> notices = sentences(content.sets().get(t).notices());
            List<String> texts = notices.isEmpty() ? List.of("Nothing was seen that calls for a warning.") : List.of();
            parts.add(new Page.Part(t, "", "", texts, notices, List.of(), List.of(), ""));
        }
        if (!content.left().isEmpty()) {
            parts.add(new Page.Part(-1, "", "Left out", List.of(), content.left(), List.of(), List.of(), ""));
        }
        return new Page.Chapter("warnings", "Warnings", "", parts);
    }

    private static List<String> sentences(List<Notice> notices) {
        return notices.stream().map(n -> n.sentence() + ".").distinct().toList();
    }

    private Page.Chapter contrasts() {
        Page.Chapter own = chapter(
                "contrasts",
                "Differences",
                "A difference is tested as a difference: whether two intervals overlap says nothing of it. Read p adjusted as the p"
                        + " of a t-test, which on folds that share training rows would be too small. An undecided pair"
                        + " is not shown to be equal; beside it stands the difference that could have been seen, and about"
                        + " how many rows (groups) like these would decide one of the size found. A candidate may be the"
                        + " best as long as no other is shown to be better.",
                (set, m) -> part(
                        set,
                        m,
                        "",
                        m.contrasts().shown().isEmpty() ? List.of("There is no pair to compare.") : List.of(),
                        m.contrasts().shown().isEmpty()
                                ? List.of()
                                : Stream.concat(
                                                Stream.of(Tables.contrasts(m.subject(), m.contrasts())),
                                                Tables.standings(m.subject()).stream())
                                        .toList(),
                        m,
                        FigureKind.DIFFERENCES,
                        FigureKind.STANDINGS));
        List<Page.Part> parts = new ArrayList<>(own.parts());
        for (OfAcross a : content.across()) {
            double level = content.sets()
                    .get(0)
                    .metrics()
                    .get(0)
                    .subject()
                    .inference()
                    .evidence()
                    .level();
            parts.add(new Page.Part(
                    -1,
                    a.part().name(),
                    "Across data sets",
                    List.of(AcrossView.tests(a.part().sets().across(), level).replaceAll("\\s+", " ")),
                    sentences(a.warnings()),
                    List.of(Tables.across(a)),
                    List.of(picture(a.figure())),
                    ""));
        }
        return new Page.Chapter(own.id(), own.title(), own.lead(), parts);
    }

    private Page.Part pick(int set, OfMetric m) {
        if (m.subject().picks().isEmpty()) {
            return part(set, m, "", List.of("No candidate can be picked by this metric."), List.of(), m);
        }
        return part(
                set,
                m,
                "",
                Tables.said(m, content.scheme()),
                List.of(Tables.rules(m.subject()), Tables.picked(m)),
                m,
                FigureKind.PICK,
                FigureKind.FREQUENCY,
                FigureKind.FAMILY);
    }

    private Page.Chapter errors() {
        List<Page.Part> parts = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            OfSet set = content.sets().get(t);
            if (panel(set).scoresOnly() || panel(set).admitted().isEmpty()) {
                continue;
            }
            parts.add(new Page.Part(
                    t,
                    "",
                    "",
                    List.of(),
                    List.of(),
                    Tables.classes(set.under(content.primary()).subject()),
                    pictures(set.figures(), FigureKind.CONFUSION),
                    ""));
        }
        return new Page.Chapter(
                "errors",
                "Errors by class",
                "Which classes are taken for which, and how well each is found. Standard errors: scores --by class.",
                parts);
    }

    private Page.Chapter cost() {
        List<Page.Part> parts = new ArrayList<>();
        for (int t = 0; t < content.sets().size(); t++) {
            OfSet set = content.sets().get(t);
            boolean adopted = panel(set).candidates().stream()
                    .allMatch(c -> c.kind().name().equals("adopted"));
            List<Page.Picture> pictures = pictures(set.figures(), FigureKind.THRESHOLDS);
            if (!pictures.isEmpty()) {
                parts.add(new Page.Part(t, "", "", List.of(), List.of(), List.of(), pictures, ""));
            }
            if (!adopted) {
                OfMetric primary = set.under(content.primary());
                parts.add(new Page.Part(
                        t,
                        "",
                        "",
                        List.of(),
                        List.of(),
                        List.of(Tables.costs(primary.subject())),
                        pictures(primary.figures(), FigureKind.TIME),
                        ""));
            }
        }
        return new Page.Chapter(
                "cost",
                "Cost",
                "What errors cost against the threshold, and what a fit takes in time and size.",
                parts);
    }

    private Page.Chapter repeat() {
        OfSet first = content.sets().get(0);
        List<String> texts = new ArrayList<>();
        var evidence = first.metrics().get(0).subject().inference().evidence();
        texts.add(String.format(
                Locale.ROOT,
                "Seed %d; %d draws; level %s; margin of equivalence %s; differences tested by %s, adjusted by %s. The same"
                        + " data, plan and seed give the same numbers to the last bit, on any machine.",
                panel(first).seed(),
                evidence.draws(),
                NumberFormats.level(evidence.level()),
                evidence.margin() > 0 ? NumberFormats.shortest(evidence.margin()) : "none",
                evidence.method().label(),
                evidence.adjustment().label()));
        List<Page.Part> parts = new ArrayList<>();
        parts.add(new Page.Part(-1, "", "", texts, List.of(), List.of(), List.of(), content.commands()));
        parts.add(new Page.Part(-1, "", "The plan", List.of(), List.of(), List.of(), List.of(), content.plan()));
        return new Page.Chapter("repeat", "Settings, and how to repeat it", "", parts);
    }
}
