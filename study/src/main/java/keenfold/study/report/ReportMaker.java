package keenfold.study.report;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import keenfold.core.data.Notice;
import keenfold.core.data.ValueException;
import keenfold.core.infer.Inference;
import keenfold.core.run.Parallel;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.export.CsvExport;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import keenfold.io.table.DataSpec;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.results.Evaluation;
import keenfold.results.Picking;
import keenfold.results.Scores;
import keenfold.results.notice.Notices;
import keenfold.results.notice.PickNotices;
import keenfold.results.table.ResultTable;
import keenfold.study.progress.Watcher;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureFactory;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.chart.SvgDrawing;
import keenfold.view.page.ReportContent;
import keenfold.view.page.ReportPage;

/** Makes the report of a ledger: computes, draws, writes. */
public final class ReportMaker {
    /** Beyond so many pairs of data set and metric, the primary metric is shown, and those that are named. */
    private static final int MOST_SHOWN = 16;

    private static final double PIXELS = 2;

    private static final List<FigureKind> OF_METRIC =
            List.of(FigureKind.MEANS, FigureKind.SPREAD, FigureKind.DIFFERENCES, FigureKind.STANDINGS, FigureKind.PICK);

    private static final List<FigureKind> OF_PRIMARY =
            List.of(FigureKind.ORDER, FigureKind.SETTLING, FigureKind.FREQUENCY, FigureKind.FAMILY, FigureKind.TIME);

    private static final List<FigureKind> OF_SET = List.of(
            FigureKind.ROC,
            FigureKind.PRECISION_RECALL,
            FigureKind.CALIBRATION,
            FigureKind.CONFUSION,
            FigureKind.THRESHOLDS);

    private final Path ledger;
    private final Plan plan;
    private final List<String> notes;
    private final String date;
    private final Evaluation evaluation;
    private final Asked asked;
    private final String program;
    private final Watcher watcher;
    private final Parallel parallel;
    private final LedgerFigures figures;
    private final List<String> metrics;
    private final List<String> left = new ArrayList<>();
    private final Set<String> files = new LinkedHashSet<>();

    /**
     * What is asked of a report.
     *
     * @param metrics besides those of the plan
     * @param columns whether columns are shown, for which candidates are retrained
     * @param data where the data are, if not beside the ledger
     * @param pageOnly whether nothing lies beside the page
     * @param costs whether costs were asked for, of a plan that names none
     * @param left what was left out so far, and why
     */
    public record Asked(
            List<String> metrics,
            boolean columns,
            Optional<Path> data,
            boolean pageOnly,
            boolean costs,
            List<String> left) {
        /** The metrics of the plan, and files beside the page. */
        public static final Asked PLAIN = new Asked(List.of(), false, Optional.empty(), false, false, List.of());

        /** Copies the lists. */
        public Asked {
            metrics = List.copyOf(metrics);
            left = List.copyOf(left);
        }
    }

    /** A figure that is still to be drawn. */
    private record ToDraw(Figure figure, String file) {}

    /**
     * Prepares a report.
     *
     * @param content of the ledger
     * @param evaluation of what is shown of it
     * @param program that makes it, with its version
     */
    public ReportMaker(
            Path ledger,
            LedgerContent content,
            Evaluation evaluation,
            Asked asked,
            String program,
            Watcher watcher,
            Parallel parallel) {
        this.ledger = ledger;
        this.plan = content.plan();
        this.notes = content.datedNotes();
        this.date = content.history().isEmpty()
                ? ""
                : content.history().get(content.history().size() - 1).at().replaceFirst("T.*", "");
        this.evaluation = evaluation;
        this.asked = asked;
        this.program = program;
        this.watcher = watcher;
        this.parallel = parallel;
        this.figures = new LedgerFigures(plan, evaluation, content.results().kept() == Results.Kept.PROBABILITIES);
        this.left.addAll(asked.left());
        List<String> planned = evaluation.metrics();
        int sets = evaluation.inferences().size();
        boolean many = sets * planned.size() > MOST_SHOWN;
        this.metrics = Stream.concat(
                        Stream.of(evaluation.primary()),
                        Stream.concat(many ? Stream.of() : planned.stream(), asked.metrics().stream()))
                .distinct()
                .toList();
        planned.stream()
                .filter(m -> !metrics.contains(m))
                .forEach(m -> left.add(
                        "metric " + m + ", since there are " + sets + " data sets: --metric " + m + " shows it too"));
    }

    /**
     * What was written.
     *
     * @param page the file
     * @param notices the warnings that stand on it
     */
    public record Written(Path page, List<Notice> notices) {
        /** Copies the list. */
        public Written {
            notices = List.copyOf(notices);
        }
    }

    /** Writes everything into a folder. */
    public Written write(Path folder) {
        List<Made> made = new ArrayList<>();
        int sets = evaluation.inferences().size();
        try (Watcher.Steps progress = watcher.steps(sets, "evaluated", "data sets")) {
            for (Inference inference : evaluation.inferences()) {
                inference.together(metrics);
                made.add(made(inference));
                progress.step();
            }
        }
        List<AcrossAll> across = across();
        List<ToDraw> all = Stream.concat(
                        made.stream().flatMap(Made::figures), across.stream().map(AcrossAll::figure))
                .toList();
        create(folder);
        Map<String, ReportContent.Drawn> drawn = new HashMap<>();
        try (Watcher.Steps progress = watcher.steps(all.size(), "drew", "figures")) {
            List<ReportContent.Drawn> inOrder = parallel.map(all.size(), i -> {
                ReportContent.Drawn one = draw(folder, all.get(i));
                progress.step();
                return one;
            });
            for (int i = 0; i < inOrder.size(); i++) {
                drawn.put(all.get(i).file(), inOrder.get(i));
            }
        }
        if (!asked.pageOnly()) {
            tables(folder.resolve(ReportFolder.TABLES), made);
        }
        Path page = folder.resolve(ReportFolder.PAGE);
        WholeFile.bytes(page, ReportPage.html(content(made, across, drawn)).getBytes(StandardCharsets.UTF_8));
        return new Written(
                page, made.stream().flatMap(m -> m.notices().stream()).toList());
    }

    /** What is known of one data set before it is drawn. */
    private record Made(List<OfMetric> metrics, List<Notice> notices, List<ToDraw> own) {
        Stream<ToDraw> figures() {
            return Stream.concat(metrics.stream().flatMap(m -> m.figures().stream()), own.stream());
        }
    }

    private record OfMetric(FigureContext subject, Contrasts.Part contrasts, List<ToDraw> figures) {}

    private Made made(Inference inference) {
        List<OfMetric> of = new ArrayList<>();
        for (String metric : metrics) {
            boolean primary = metric.equals(evaluation.primary());
            // What choosing is worth takes as long as the draws themselves.
            FigureContext s = figures.subject(inference, metric, primary);
            List<ToDraw> drawn = new ArrayList<>();
            for (FigureKind kind : OF_METRIC) {
                add(drawn, kind, s, Optional.empty());
            }
            if (primary) {
                for (FigureKind kind : OF_PRIMARY) {
                    add(drawn, kind, s, Optional.empty());
                }
            }
            of.add(new OfMetric(s, Contrasts.part(inference, s.metric(), Contrasts.BEST), drawn));
        }
        FigureContext primary = of.get(0).subject();
        List<ToDraw> own = new ArrayList<>();
        for (FigureKind kind : OF_SET) {
            Optional<String> more = LedgerFigures.needs(kind, plan, asked.costs());
            if (more.isEmpty() || evaluation.has(more.get())) {
                add(own, kind, primary, more);
            }
        }
        if (asked.columns()) {
            columns(own, primary);
        }
        Set<Notice> all = new LinkedHashSet<>(evaluation.afterwards());
        all.addAll(notices(inference, of));
        return new Made(of, List.copyOf(all), own);
    }

    /** Adds a figure if it can be made; where it cannot is plain to see from the data, or said. */
    private void add(List<ToDraw> drawn, FigureKind kind, FigureContext s, Optional<String> more) {
        if (FigureFactory.without(kind, s).isEmpty()) {
            boolean ofMetric = !OF_SET.contains(kind);
            try {
                drawn.add(new ToDraw(
                        figures.figure(kind, s, List.of(), more, Contrasts.BEST),
                        file(s.data(), ofMetric ? s.metric().metric().name() : "", kind)));
            } catch (ValueException e) {
                left.add(s.data() + ", figure " + kind.label() + ": " + e.getMessage());
            }
        }
    }

    private void columns(List<ToDraw> own, FigureContext s) {
        try {
            own.add(new ToDraw(
                    figures.columns(s, List.of(), new ColumnTraining(plan, ledger, asked.data(), 1, parallel)),
                    file(s.data(), "", FigureKind.COLUMNS)));
        } catch (InputException | ValueException e) {
            left.add(s.data() + ", figure columns: " + e.getMessage());
        }
    }

    /** A name of plain letters that no other file has. */
    private String file(String data, String metric, FigureKind kind) {
        String base = Stream.of(data, metric, kind.label())
                .filter(p -> !p.isEmpty())
                .map(p -> p.replaceAll("[^A-Za-z0-9.-]+", "_"))
                .map(p -> p.length() > 40 ? p.substring(0, 40) : p)
                .reduce((a, b) -> a + "-" + b)
                .orElseThrow();
        String name = base;
        for (int i = 2; !files.add(name.toLowerCase(Locale.ROOT)); i++) {
            name = base + "-" + i;
        }
        return name;
    }

    private static List<Notice> notices(Inference inference, List<OfMetric> of) {
        Set<Notice> notices = new LinkedHashSet<>(Notices.ofFits(inference.panel()));
        of.forEach(m ->
                notices.addAll(Notices.ofScores(inference.panel(), m.subject().metric())));
        Picking.OfSet first = of.get(0).subject().picking();
        notices.addAll(Notices.ofMethod(inference.panel(), first.metric()));
        notices.addAll(Notices.ofContrasts(
                inference.panel(), first.metric(), inference.evidence().level()));
        first.picks()
                .ifPresent(
                        p -> notices.addAll(PickNotices.of(inference.panel(), first.metric(), p, first.simplicity())));
        return List.copyOf(notices);
    }

    /** All data sets under one metric. */
    private record AcrossAll(AcrossDataSets.OfMetric part, List<Notice> warnings, ToDraw figure) {}

    private List<AcrossAll> across() {
        List<AcrossAll> all = new ArrayList<>();
        if (evaluation.inferences().size() < 2) {
            return all;
        }
        for (String metric : metrics) {
            try {
                SharedRows.refuse(plan, evaluation, ledger);
                AcrossDataSets across = AcrossDataSets.of(evaluation, List.of(metric));
                AcrossDataSets.OfMetric part = across.parts().get(0);
                all.add(new AcrossAll(
                        part,
                        across.warnings(),
                        new ToDraw(figures.ranks(part), file("across", metric, FigureKind.RANKS))));
            } catch (InputException | ValueException e) {
                left.add("mean ranks by " + metric + ": " + e.getMessage());
            }
        }
        return all;
    }

    private void create(Path folder) {
        try {
            Files.createDirectories(folder);
            if (!asked.pageOnly()) {
                Files.createDirectories(folder.resolve(ReportFolder.FIGURES));
                Files.createDirectories(folder.resolve(ReportFolder.TABLES));
            }
        } catch (IOException e) {
            throw new InputException(folder.toString(), "cannot be made: " + Reason.of(e), e);
        }
    }

    private ReportContent.Drawn draw(Path folder, ToDraw one) {
        SvgDrawing svg = SvgDrawing.of(one.figure(), Look.DEFAULT);
        if (asked.pageOnly()) {
            return ReportContent.Drawn.of(one.figure(), svg.bare(), "");
        }
        Path figures = folder.resolve(ReportFolder.FIGURES);
        WholeFile.bytes(figures.resolve(one.file() + ".svg"), svg.whole().getBytes(StandardCharsets.UTF_8));
        WholeFile.bytes(figures.resolve(one.file() + ".png"), Drawing.png(one.figure(), Look.DEFAULT, PIXELS));
        csv(folder.resolve(ReportFolder.TABLES).resolve(one.file() + ".csv"), table(one.figure()));
        return ReportContent.Drawn.of(one.figure(), svg.bare(), one.file());
    }

    /** Returns the numbers behind a figure. */
    public static ResultTable table(Figure figure) {
        return ResultTable.of(figure.data().columns(), figure.data().rows());
    }

    /** The tables that the reading commands would write. */
    private void tables(Path folder, List<Made> made) {
        csv(
                folder.resolve("scores.csv"),
                Scores.of(evaluation, metrics, new Scores.Extras(false, true)).table());
        List<FigureContext> all = made.stream()
                .flatMap(m -> m.metrics().stream())
                .map(OfMetric::subject)
                .toList();
        csv(
                folder.resolve("contrasts.csv"),
                ResultTable.joined(all.stream()
                        .map(s -> Contrasts.table(
                                s.inference(), s.metric(), s.metric().contrasts()))
                        .toList()));
        csv(
                folder.resolve("picks.csv"),
                ResultTable.joined(made.stream()
                        .map(m -> m.metrics().get(0).subject().picking().rules())
                        .toList()));
    }

    private static void csv(Path file, ResultTable table) {
        StringWriter text = new StringWriter();
        CsvExport.table(table, text);
        WholeFile.bytes(file, text.toString().getBytes(StandardCharsets.UTF_8));
    }

    /** The fingerprints of the data sets that are shown. */
    private List<String> fingerprints() {
        List<String> names = plan.data().stream().map(DataSpec::name).toList();
        List<String> all = LedgerReader.fingerprints(ledger);
        return evaluation.inferences().stream()
                .map(i -> names.indexOf(Evaluation.name(i)))
                .map(t -> t >= 0 && t < all.size() ? all.get(t) : "")
                .toList();
    }

    private ReportContent content(List<Made> made, List<AcrossAll> across, Map<String, ReportContent.Drawn> drawn) {
        String name =
                Optional.ofNullable(ledger.getFileName()).map(Path::toString).orElse("");
        List<ReportContent.OfSet> sets = made.stream()
                .map(set -> new ReportContent.OfSet(
                        set.metrics().stream()
                                .map(m -> new ReportContent.OfMetric(
                                        m.subject(), m.contrasts(), drawn(m.figures(), drawn)))
                                .toList(),
                        set.notices(),
                        drawn(set.own(), drawn)))
                .toList();
        List<ReportContent.OfAcross> ranks = across.stream()
                .map(a -> new ReportContent.OfAcross(
                        a.part(),
                        a.warnings(),
                        drawn(List.of(a.figure()), drawn).get(0)))
                .toList();
        return new ReportContent(
                plan.note().orElse(""),
                notes,
                name,
                date,
                fingerprints(),
                program,
                PlanWriter.write(plan, notes),
                "keenfold export " + ShellWords.quoted(name)
                        + " --what plan -o plan.yaml\nkeenfold run plan.yaml -o again.kfl\n"
                        + "keenfold report again.kfl -o report\n",
                evaluation.primary(),
                plan.division().scheme(),
                sets,
                ranks,
                left.stream().distinct().toList());
    }

    private static List<ReportContent.Drawn> drawn(List<ToDraw> wanted, Map<String, ReportContent.Drawn> drawn) {
        return wanted.stream()
                .flatMap(w -> Optional.ofNullable(drawn.get(w.file())).stream())
                .toList();
    }
}
