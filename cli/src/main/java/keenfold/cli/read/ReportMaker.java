package keenfold.cli.read;

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
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Progress;
import keenfold.cli.console.Version;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.pick.Corrected;
import keenfold.core.pick.Picker;
import keenfold.core.pick.Rule;
import keenfold.core.run.Parallel;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.WholeFile;
import keenfold.io.export.CsvExport;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureFactory;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.page.ReportContent;
import keenfold.view.page.ReportPage;
import keenfold.view.text.Notices;
import keenfold.view.text.PickNotices;
import keenfold.view.text.PickView;

/** Makes the report of a ledger: computes, draws, writes. */
final class ReportMaker {
    /** Beyond so many pairs of data set and metric, the primary metric is shown, and those that are named. */
    private static final int MOST_SHOWN = 16;

    private static final double PIXELS = 2;

    private static final List<FigureKind> OF_METRIC =
            List.of(FigureKind.MEANS, FigureKind.SPREAD, FigureKind.DIFFERENCES, FigureKind.PICK);

    private static final List<FigureKind> OF_PRIMARY =
            List.of(FigureKind.SETTLING, FigureKind.FREQUENCY, FigureKind.FAMILY, FigureKind.TIME);

    private static final List<FigureKind> OF_SET = List.of(
            FigureKind.ROC,
            FigureKind.PRECISION_RECALL,
            FigureKind.CALIBRATION,
            FigureKind.CONFUSION,
            FigureKind.THRESHOLDS);

    private final LedgerOptions reading;
    private final LedgerOptions.Read read;
    private final Asked asked;
    private final List<String> left;
    private final Console console;
    private final Common common;
    private final Parallel parallel;
    private final LedgerFigures figuring;
    private final List<String> metrics;
    private final Set<String> files = new LinkedHashSet<>();

    /**
     * What is asked of a report.
     *
     * @param metrics besides those of the plan
     * @param columns whether columns are shown
     * @param data where the data are, if not beside the ledger
     * @param pageOnly whether nothing lies beside the page
     */
    record Asked(List<String> metrics, boolean columns, Optional<Path> data, boolean pageOnly) {
        Asked {
            metrics = List.copyOf(metrics);
        }
    }

    /** A figure that is still to be drawn. */
    private record ToDraw(Figure figure, String file) {}

    /** @param left what was left out so far, and why */
    ReportMaker(
            LedgerOptions reading,
            LedgerOptions.Read read,
            Asked asked,
            List<String> left,
            Console console,
            Common common) {
        this.reading = reading;
        this.read = read;
        this.asked = asked;
        this.left = new ArrayList<>(left);
        this.console = console;
        this.common = common;
        this.parallel = reading.threads().parallel();
        this.figuring = new LedgerFigures(reading.ledger().toString(), read, parallel);
        List<String> planned = read.metricNames();
        boolean many = read.inferences().size() * planned.size() > MOST_SHOWN;
        this.metrics = Stream.concat(
                        Stream.of(read.primary()),
                        Stream.concat(many ? Stream.of() : planned.stream(), asked.metrics().stream()))
                .distinct()
                .toList();
        planned.stream()
                .filter(m -> !metrics.contains(m))
                .forEach(m -> this.left.add("metric " + m + ", since there are "
                        + read.inferences().size() + " data sets: --metric " + m + " shows it too"));
    }

    /**
     * What was written.
     *
     * @param page the file
     * @param notices how many words of warning stand on it
     */
    record Written(Path page, int notices) {}

    /** Writes everything into a folder. */
    Written write(Path folder) {
        List<Made> made = new ArrayList<>();
        int sets = read.inferences().size();
        try (Progress progress = Progress.of(console, common, sets, "weighed", "data sets")) {
            for (Inference inference : read.inferences()) {
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
        try (Progress progress = Progress.of(console, common, all.size(), "drew", "figures")) {
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
            tables(folder.resolve("tables"), made);
        }
        Path page = folder.resolve("report.html");
        WholeFile.bytes(page, ReportPage.html(content(made, across, drawn)).getBytes(StandardCharsets.UTF_8));
        return new Written(page, made.stream().mapToInt(m -> m.notices().size()).sum());
    }

    /** What is known of one data set before it is drawn. */
    private record Made(List<OfMetric> metrics, List<String> notices, List<ToDraw> own) {
        Stream<ToDraw> figures() {
            return Stream.concat(metrics.stream().flatMap(m -> m.figures().stream()), own.stream());
        }
    }

    private record OfMetric(
            FigureContext subject, List<Contrast> contrasts, PickView.Worth worth, List<ToDraw> figures) {}

    private Made made(Inference inference) {
        List<OfMetric> of = new ArrayList<>();
        for (String metric : metrics) {
            boolean primary = metric.equals(read.primary());
            FigureContext s = figuring.subject(inference, metric);
            List<Contrast> contrasts = ContrastSelection.of(
                            reading.ledger().toString(), inference, s.metric(), ContrastSelection.BEST)
                    .contrasts();
            List<ToDraw> figures = new ArrayList<>();
            for (FigureKind kind : OF_METRIC) {
                add(figures, kind, s, Optional.empty());
            }
            if (primary) {
                for (FigureKind kind : OF_PRIMARY) {
                    add(figures, kind, s, Optional.empty());
                }
            }
            of.add(new OfMetric(s, contrasts, worth(s, primary), figures));
        }
        FigureContext primary = of.get(0).subject();
        List<ToDraw> own = new ArrayList<>();
        for (FigureKind kind : OF_SET) {
            Optional<String> more = LedgerFigures.needs(kind, read.content().plan(), reading.hasCosts());
            if (more.isEmpty() || read.has(more.get())) {
                add(own, kind, primary, more);
            }
        }
        if (asked.columns()) {
            columns(own, primary);
        }
        return new Made(of, notices(inference, of), own);
    }

    /** Adds a figure if it can be made; where it cannot is plain to see from the data, or said. */
    private void add(List<ToDraw> figures, FigureKind kind, FigureContext s, Optional<String> more) {
        if (FigureFactory.without(kind, s).isEmpty()) {
            boolean ofMetric = !OF_SET.contains(kind);
            try {
                figures.add(new ToDraw(
                        figuring.figure(kind, s, List.of(), more, ContrastSelection.BEST),
                        file(s.data(), ofMetric ? s.metric().metric().name() : "", kind)));
            } catch (IllegalArgumentException e) {
                left.add(s.data() + ", figure " + kind.label() + ": " + e.getMessage());
            }
        }
    }

    private void columns(List<ToDraw> own, FigureContext s) {
        try {
            own.add(new ToDraw(
                    figuring.columns(s, List.of(), asked.data(), 1), file(s.data(), "", FigureKind.COLUMNS)));
        } catch (InputException | IllegalArgumentException e) {
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

    /** What choosing is worth, under the primary metric: it takes as long as the draws themselves. */
    private static PickView.Worth worth(FigureContext s, boolean primary) {
        if (!primary || s.picks().isEmpty()) {
            return new PickView.Worth(Corrected.NONE, Corrected.NONE);
        }
        Rule rule = s.picks().get().rule();
        Corrected best = Picker.corrected(s.metric(), s.simplicity(), Rule.BEST_MEAN);
        return new PickView.Worth(
                best, rule.equals(Rule.BEST_MEAN) ? best : Picker.corrected(s.metric(), s.simplicity(), rule));
    }

    private static List<String> notices(Inference inference, List<OfMetric> of) {
        Set<String> notices = new LinkedHashSet<>(Notices.ofFits(inference.panel()));
        for (OfMetric m : of) {
            MetricInference metric = m.subject().metric();
            notices.addAll(Notices.ofScores(inference.panel(), metric));
        }
        OfMetric first = of.get(0);
        MetricInference metric = first.subject().metric();
        notices.addAll(Notices.ofMethod(inference.panel(), metric));
        notices.addAll(Notices.ofContrasts(
                inference.panel(), metric, inference.evidence().level()));
        first.subject()
                .picks()
                .ifPresent(p -> notices.addAll(PickNotices.of(
                        inference.panel(), metric, p, first.subject().simplicity())));
        return notices.stream().map(n -> n + ".").toList();
    }

    /** All data sets under one metric. */
    private record AcrossAll(AcrossSets sets, List<MetricInference> each, ToDraw figure) {}

    private List<AcrossAll> across() {
        List<AcrossAll> all = new ArrayList<>();
        if (read.inferences().size() < 2) {
            return all;
        }
        for (String metric : metrics) {
            try {
                List<MetricInference> each =
                        read.inferences().stream().map(i -> i.metric(metric)).toList();
                all.add(new AcrossAll(
                        AcrossSets.of(each),
                        each,
                        new ToDraw(figuring.ranks(metric), file("across", metric, FigureKind.RANKS))));
            } catch (IllegalArgumentException e) {
                left.add("mean ranks by " + metric + ": " + e.getMessage());
            }
        }
        return all;
    }

    private void create(Path folder) {
        try {
            Files.createDirectories(folder);
            if (!asked.pageOnly()) {
                Files.createDirectories(folder.resolve("figures"));
                Files.createDirectories(folder.resolve("tables"));
            }
        } catch (IOException e) {
            throw new InputException(folder.toString(), "cannot be made: " + Reason.of(e), e);
        }
    }

    private ReportContent.Drawn draw(Path folder, ToDraw one) {
        if (asked.pageOnly()) {
            return ReportContent.Drawn.of(one.figure(), "");
        }
        Path figures = folder.resolve("figures");
        WholeFile.bytes(
                figures.resolve(one.file() + ".svg"),
                Drawing.svg(one.figure(), Look.DEFAULT).getBytes(StandardCharsets.UTF_8));
        WholeFile.bytes(figures.resolve(one.file() + ".png"), Drawing.png(one.figure(), Look.DEFAULT, PIXELS));
        StringWriter csv = new StringWriter();
        DrawCommand.table(one.figure().data()).csv(csv);
        WholeFile.bytes(
                folder.resolve("tables").resolve(one.file() + ".csv"),
                csv.toString().getBytes(StandardCharsets.UTF_8));
        return ReportContent.Drawn.of(one.figure(), one.file());
    }

    /** The tables that the reading commands would write. */
    private void tables(Path folder, List<Made> made) {
        csv(
                folder.resolve("scores.csv"),
                ScoresCommand.header(false),
                ScoresCommand.rows(read.inferences(), metrics, false));
        List<List<String>> contrasts = new ArrayList<>();
        List<List<String>> picks = new ArrayList<>();
        for (Made set : made) {
            for (OfMetric m : set.metrics()) {
                contrasts.addAll(ContrastCommand.rows(
                        m.subject().metric(), m.subject().metric().contrasts()));
            }
            FigureContext primary = set.metrics().get(0).subject();
            picks.addAll(PickCommand.rows(primary.inference().panel(), primary.picks()));
        }
        csv(folder.resolve("contrasts.csv"), ContrastCommand.COLUMNS, contrasts);
        csv(folder.resolve("picks.csv"), PickCommand.COLUMNS, picks);
    }

    private static void csv(Path file, List<String> header, List<List<String>> rows) {
        StringWriter text = new StringWriter();
        CsvExport.table(header, rows, text);
        WholeFile.bytes(file, text.toString().getBytes(StandardCharsets.UTF_8));
    }

    private ReportContent content(List<Made> made, List<AcrossAll> across, Map<String, ReportContent.Drawn> drawn) {
        Plan plan = read.content().plan();
        String ledger = Optional.ofNullable(reading.ledger().getFileName())
                .map(Path::toString)
                .orElse("");
        List<ReportContent.OfSet> sets = made.stream()
                .map(set -> new ReportContent.OfSet(
                        set.metrics().stream()
                                .map(m -> new ReportContent.OfMetric(
                                        m.subject(), m.contrasts(), m.worth(), drawn(m.figures(), drawn)))
                                .toList(),
                        set.notices(),
                        drawn(set.own(), drawn)))
                .toList();
        List<ReportContent.OfAcross> ranks = across.stream()
                .map(a -> new ReportContent.OfAcross(
                        a.sets(), a.each(), drawn(List.of(a.figure()), drawn).get(0)))
                .toList();
        return new ReportContent(
                plan.note().orElse(""),
                ledger,
                new Version().getVersion()[0],
                PlanWriter.write(plan),
                "keenfold export " + ShellWords.quoted(ledger.toString())
                        + " --what plan -o plan.yaml\nkeenfold run plan.yaml -o again.kfl\n"
                        + "keenfold report again.kfl -o report\n",
                read.primary(),
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
