package keenfold.view.chart;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import keenfold.core.infer.CandidateClass;
import keenfold.core.infer.MeanCurve;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.Reliability;
import keenfold.core.infer.Thresholds;
import keenfold.core.metric.Curve;
import keenfold.core.metric.RankCurve;
import keenfold.results.table.NumberFormats;

/** Figures of curves over probabilities: a frame a candidate, or, of several classes, a frame a class of one candidate. */
final class CurveFigures {
    private static final int MOST_PARTS = 30;
    private static final int ACROSS = 3;

    /** The strokes of candidates that are neither the pick nor the best. */
    private static final List<Mark.Line> OTHER_LINES = List.of(Mark.Line.SOLID, Mark.Line.DASHED, Mark.Line.MIXED);

    /** What is named beside its line, where a frame has several. */
    private static final List<String> WORDS = List.of("recall", "specificity", "precision", "npv");

    private CurveFigures() {}

    /** One frame: a candidate and a class. */
    private record Shown(CandidateClass of, String title) {
        int candidate() {
            return of.candidate();
        }

        int classIndex() {
            return of.classIndex();
        }
    }

    private static List<Shown> shown(FigureContext s) {
        var classes = s.panel().task().data().classes();
        List<Shown> all = new ArrayList<>();
        for (int c : s.candidates()) {
            if (classes.binary()) {
                all.add(new Shown(new CandidateClass(c, classes.positive()), s.name(c)));
            } else {
                for (int k = 0; k < classes.count(); k++) {
                    all.add(new Shown(
                            new CandidateClass(c, k),
                            (s.candidates().size() > 1 ? s.name(c) + ": " : "") + s.label(k)));
                }
            }
        }
        return all;
    }

    private static String spoken(FigureContext s) {
        var classes = s.panel().task().data().classes();
        return classes.binary()
                ? " Positive: " + s.label(classes.positive()) + "."
                : " Each class against the rest"
                        + (s.candidates().size() == 1
                                ? ", " + s.name(s.candidates().get(0))
                                : "") + ".";
    }

    private static String subject(FigureContext s) {
        return s.candidates().size() == 1
                ? s.data() + ", " + s.name(s.candidates().get(0))
                : s.data();
    }

    static int across(int frames) {
        return Math.min(frames, frames == 4 ? 2 : ACROSS);
    }

    /**
     * ROC or precision-recall curves.
     */
    static Figure ranked(FigureContext s, RankCurve.Kind kind) {
        boolean roc = kind == RankCurve.Kind.ROC;
        String metric = roc ? "auc" : "average-precision";
        FigureData data = FigureData.of("dataset", "candidate", "class", "curve", "x", "y", "low", "high");
        List<Frame> frames = new ArrayList<>();
        boolean bands = false;
        int parts = 0;
        List<Together> together = new ArrayList<>();
        List<Shown> shown = shown(s);
        List<Optional<MeanCurve>> curves = MeanCurve.of(
                s.inference().panel(),
                s.inference().evidence(),
                s.inference().parallel(),
                kind,
                shown.stream().map(Shown::of).toList());
        for (int i = 0; i < shown.size(); i++) {
            Shown one = shown.get(i);
            Optional<MeanCurve> found = curves.get(i);
            List<Mark> marks = new ArrayList<>();
            String about = s.name(one.candidate());
            marks.add(noSkill(s, roc, one.classIndex()));
            if (found.isPresent()) {
                MeanCurve curve = found.get();
                together.add(new Together(one.candidate(), curve.mean()));
                bands |= !curve.low().isEmpty();
                parts = Math.max(parts, curve.parts().size());
                rows(data, s, one, curve);
                marks(marks, s, one, curve, metric, about);
            }
            frames.add(new Frame(
                    one.title(),
                    Axis.shares(roc ? "false positive rate" : "recall"),
                    Axis.shares(roc ? "true positive rate" : "precision"),
                    marks));
        }
        boolean first = s.panel().task().data().classes().binary() && together.size() > 1;
        if (first) {
            frames.add(0, together(s, roc, together));
        }
        String unit = s.panel().task().splits().joined() ? "repeat" : "split";
        String caption = s.place() + spoken(s) + (first ? " First the means of all together; then each by itself." : "")
                + " Thin: each " + unit
                + (parts > MOST_PARTS ? ", the first " + MOST_PARTS : "")
                + "; strong: their mean, the area under which is the mean "
                + metric + "."
                + (bands
                        ? " Band: " + s.level() + " interval at each " + (roc ? "rate" : "recall") + " by itself, from "
                                + Math.min(
                                        MeanCurve.DRAWS,
                                        s.inference().evidence().draws())
                                + " draws, widened as the standard error of the mean is."
                        : "")
                + " Rows are ranked within their fold alone.";
        return new Figure(
                roc ? FigureKind.ROC : FigureKind.PRECISION_RECALL,
                subject(s) + ": " + (roc ? "ROC curves" : "precision against recall"),
                caption,
                frames,
                across(frames.size()),
                data);
    }

    /** The mean curve of a candidate, to be drawn beside those of others. */
    private record Together(int candidate, Curve mean) {}

    /** What a candidate without skill would have. */
    private static Mark noSkill(FigureContext s, boolean roc, int classIndex) {
        double share = (double) s.panel().task().data().classCounts()[classIndex]
                / s.panel().rows();
        return new Mark.Trace(
                roc ? List.of(new Spot(0, 0), new Spot(1, 1)) : List.of(new Spot(0, share), new Spot(1, share)),
                Mark.Line.DOTTED,
                1,
                Tone.FAINT,
                "",
                roc ? "no skill" : "share of the class, " + NumberFormats.fixed(share, 3));
    }

    /** The mean curves of all candidates in one frame, told apart by stroke and tone, with a key. */
    private static Frame together(FigureContext s, boolean roc, List<Together> all) {
        List<Mark> marks = new ArrayList<>();
        int positive = s.panel().task().data().classes().positive();
        marks.add(noSkill(s, roc, positive));
        int others = 0;
        double left = roc ? 0.4 : 0.03;
        for (int i = 0; i < all.size(); i++) {
            int c = all.get(i).candidate();
            boolean marked = s.isPick(c) || s.isBest(c);
            Mark.Line line = marked ? Mark.Line.SOLID : OTHER_LINES.get(others % OTHER_LINES.size());
            Tone tone = marked ? s.tone(c) : others / OTHER_LINES.size() % 2 == 0 ? Tone.INK : Tone.QUIET;
            others += marked ? 0 : 1;
            String area = NumberFormats.fixed(all.get(i).mean().area(), 3);
            double weight = marked ? 1.9 : 1.2;
            marks.add(new Mark.Trace(spots(all.get(i).mean()), line, weight, tone, s.name(c), s.name(c) + "\n" + area));
            double y = 0.04 + 0.075 * (all.size() - 1 - i);
            marks.add(new Mark.Trace(
                    List.of(new Spot(left, y), new Spot(left + 0.1, y)), line, weight, tone, s.name(c), ""));
            marks.add(new Mark.Word(
                    new Spot(left + 0.1, y), s.name(c) + " " + area, Mark.Side.RIGHT, tone, false, s.name(c)));
        }
        return new Frame(
                "together",
                Axis.shares(roc ? "false positive rate" : "recall"),
                Axis.shares(roc ? "true positive rate" : "precision"),
                marks);
    }

    private static void rows(FigureData data, FigureContext s, Shown one, MeanCurve curve) {
        for (int g = 0; g < MeanCurve.GRID; g++) {
            double x = MeanCurve.grid(g);
            boolean band = !curve.low().isEmpty();
            data.row(
                    s.data(),
                    s.name(one.candidate()),
                    s.label(one.classIndex()),
                    "mean",
                    x,
                    curve.mean().at(x),
                    band ? curve.low().get(g) : Double.NaN,
                    band ? curve.high().get(g) : Double.NaN);
        }
        for (int p = 0; p < Math.min(MOST_PARTS, curve.parts().size()); p++) {
            for (int g = 0; g < MeanCurve.GRID; g++) {
                double x = MeanCurve.grid(g);
                data.row(
                        s.data(),
                        s.name(one.candidate()),
                        s.label(one.classIndex()),
                        Integer.toString(p + 1),
                        x,
                        curve.parts().get(p).at(x),
                        Double.NaN,
                        Double.NaN);
            }
        }
    }

    private static void marks(
            List<Mark> marks, FigureContext s, Shown one, MeanCurve curve, String metric, String about) {
        if (!curve.low().isEmpty()) {
            List<Spot> low = new ArrayList<>();
            List<Spot> high = new ArrayList<>();
            for (int g = 0; g < MeanCurve.GRID; g++) {
                low.add(new Spot(MeanCurve.grid(g), curve.low().get(g)));
                high.add(new Spot(MeanCurve.grid(g), curve.high().get(g)));
            }
            marks.add(new Mark.Band(low, high, s.tone(one.candidate()), about));
        }
        for (Curve part :
                curve.parts().subList(0, Math.min(MOST_PARTS, curve.parts().size()))) {
            marks.add(new Mark.Trace(spots(part), Mark.Line.SOLID, 0.4, Tone.QUIET, about, ""));
        }
        String area = metric + " " + NumberFormats.fixed(curve.mean().area(), 3);
        marks.add(new Mark.Trace(
                spots(curve.mean()), Mark.Line.SOLID, 1.9, s.tone(one.candidate()), about, about + "\n" + area));
        marks.add(new Mark.Word(new Spot(0.56, 0.06), area, Mark.Side.ON, Tone.INK, false, about));
    }

    private static List<Spot> spots(Curve curve) {
        List<Spot> spots = new ArrayList<>();
        for (int i = 0; i < curve.size(); i++) {
            spots.add(new Spot(curve.x(i), curve.y(i)));
        }
        return spots;
    }

    static Figure calibration(FigureContext s) {
        FigureData data = FigureData.of(
                "dataset", "candidate", "class", "from", "to", "rows", "predicted", "observed", "low", "high");
        List<Frame> frames = new ArrayList<>();
        List<Shown> shown = shown(s);
        List<List<Reliability.Bin>> each =
                Reliability.of(s.metric(), shown.stream().map(Shown::of).toList());
        for (int i = 0; i < shown.size(); i++) {
            Shown one = shown.get(i);
            String about = s.name(one.candidate());
            List<Mark> marks = new ArrayList<>();
            List<Reliability.Bin> bins = each.get(i);
            double all = bins.stream().mapToDouble(Reliability.Bin::rows).sum();
            for (Reliability.Bin b : bins) {
                data.row(
                        s.data(),
                        about,
                        s.label(one.classIndex()),
                        b.from(),
                        b.to(),
                        b.rows(),
                        b.predicted(),
                        b.observed(),
                        b.low(),
                        b.high());
                marks.add(new Mark.Block(
                        new Spot(b.from() + 0.006, 0),
                        new Spot(b.to() - 0.006, b.rows() / all),
                        1,
                        Tone.WASH,
                        "",
                        about,
                        String.format(
                                Locale.ROOT,
                                "%s%nprobabilities from %.1f to %.1f: %s of the rows",
                                about,
                                b.from(),
                                b.to(),
                                NumberFormats.percent(b.rows() / all))));
            }
            marks.add(new Mark.Trace(
                    List.of(new Spot(0, 0), new Spot(1, 1)), Mark.Line.DOTTED, 1, Tone.QUIET, "", "as predicted"));
            marks.add(new Mark.Trace(
                    bins.stream()
                            .filter(b -> b.rows() > 0)
                            .map(b -> new Spot(b.predicted(), b.observed()))
                            .toList(),
                    Mark.Line.SOLID,
                    1.1,
                    s.tone(one.candidate()),
                    about,
                    ""));
            for (Reliability.Bin b : bins) {
                if (b.rows() > 0) {
                    String tip = String.format(
                            Locale.ROOT,
                            "%s%npredicted %s, observed %s (%s to %s)%n%s rows a repeat",
                            about,
                            NumberFormats.fixed(b.predicted(), 3),
                            NumberFormats.fixed(b.observed(), 3),
                            NumberFormats.fixed(b.low(), 3),
                            NumberFormats.fixed(b.high(), 3),
                            NumberFormats.fixed(b.rows(), 1));
                    Tone tone = s.tone(one.candidate());
                    marks.add(new Mark.Reach(
                            new Spot(b.predicted(), b.low()),
                            new Spot(b.predicted(), b.high()),
                            1.2,
                            tone,
                            about,
                            tip));
                    marks.add(new Mark.Dot(new Spot(b.predicted(), b.observed()), Mark.Form.DISC, tone, about, tip));
                }
            }
            frames.add(new Frame(one.title(), Axis.shares("probability"), Axis.shares("share"), marks));
        }
        String caption =
                s.place() + spoken(s) + " Dots: of the rows given a probability in one of ten bins, the share that is"
                        + " of the class, with its " + s.level()
                        + " interval (draws of rows, for these fitted models only). On the"
                        + " dotted line, what is predicted comes true. Grey: how many of the rows lie in each bin.";
        return new Figure(
                FigureKind.CALIBRATION,
                subject(s) + ": probabilities and what came true",
                caption,
                frames,
                across(frames.size()),
                data);
    }

    /**
     * Rates against the threshold.
     *
     * @param metric of labels, such as balanced-accuracy or cost
     */
    static Figure thresholds(FigureContext s, MetricInference metric) {
        String name = metric.metric().name();
        FigureData data = FigureData.of(
                "dataset",
                "candidate",
                "metric",
                "threshold",
                "called",
                "recall",
                "specificity",
                "precision",
                "npv",
                "score");
        List<Frame> frames = new ArrayList<>();
        for (int c : s.candidates()) {
            Thresholds thresholds = Thresholds.of(s.panel(), c);
            List<Thresholds.Point> points = thresholds.points(metric.metric());
            points.forEach(p -> data.row(
                    s.data(),
                    s.name(c),
                    name,
                    p.threshold(),
                    p.called(),
                    p.recall(),
                    p.specificity(),
                    p.precision(),
                    p.npv(),
                    p.score()));
            List<Mark> rates = new ArrayList<>();
            rate(rates, s, c, points, "recall", Mark.Line.SOLID, Tone.INK, Thresholds.Point::recall);
            rate(rates, s, c, points, "specificity", Mark.Line.DASHED, Tone.INK, Thresholds.Point::specificity);
            rate(rates, s, c, points, "precision", Mark.Line.DOTTED, Tone.INK, Thresholds.Point::precision);
            rate(rates, s, c, points, "npv", Mark.Line.MIXED, Tone.QUIET, Thresholds.Point::npv);
            frames.add(new Frame(s.name(c) + ": rates", Axis.shares("threshold"), Axis.shares("rate"), rates));
            List<Mark> scores = new ArrayList<>();
            rate(scores, s, c, points, name, Mark.Line.SOLID, s.tone(c), Thresholds.Point::score);
            thresholds.best(metric.metric()).ifPresent(b -> {
                scores.add(new Mark.Block(
                        new Spot(b.least(), Double.NEGATIVE_INFINITY),
                        new Spot(b.most(), Double.POSITIVE_INFINITY),
                        1,
                        Tone.WASH,
                        "",
                        "",
                        "best thresholds of the folds, " + NumberFormats.fixed(b.least(), 3) + " to "
                                + NumberFormats.fixed(b.most(), 3)));
                scores.add(0, scores.remove(scores.size() - 1));
                scores.add(new Mark.Guide(b.median(), true, Mark.Line.DASHED, Tone.QUIET, ""));
                // Beside the curve, where there is room.
                points.stream()
                        .filter(p -> !Double.isNaN(p.score()))
                        .min(Comparator.comparingDouble(p -> Math.abs(p.threshold() - b.median())))
                        .ifPresent(p -> scores.add(new Mark.Word(
                                new Spot(b.median(), p.score()),
                                "best: " + NumberFormats.fixed(b.median(), 2),
                                Mark.Side.NEAR,
                                Tone.QUIET,
                                false,
                                s.name(c))));
            });
            frames.add(new Frame(
                    s.name(c) + ": " + name,
                    Axis.shares("threshold"),
                    Axis.numbers(
                            name + (metric.metric().higherIsBetter() ? " (higher is better)" : " (lower is better)")),
                    scores));
        }
        String caption =
                s.place() + " \"" + s.label(s.panel().task().data().classes().positive())
                        + "\" is predicted at and above the threshold; means of the repeats. Shaded: the best thresholds that the folds"
                        + " found on the other folds' rows; dashed: their median.";
        return new Figure(FigureKind.THRESHOLDS, subject(s) + ": what the threshold does", caption, frames, 2, data);
    }

    private static void rate(
            List<Mark> marks,
            FigureContext s,
            int c,
            List<Thresholds.Point> points,
            String name,
            Mark.Line line,
            Tone tone,
            java.util.function.ToDoubleFunction<Thresholds.Point> of) {
        List<Spot> spots = points.stream()
                .map(p -> new Spot(p.threshold(), of.applyAsDouble(p)))
                .toList();
        marks.add(new Mark.Trace(spots, line, 1.5, tone, s.name(c), name));
        List<Spot> there = spots.stream().filter(p -> !Double.isNaN(p.y())).toList();
        if (!there.isEmpty() && WORDS.contains(name)) {
            // At a third of the way each from another side, so that words do not meet.
            int at =
                    switch (name) {
                        case "recall" -> there.size() / 4;
                        case "specificity" -> there.size() / 2;
                        case "precision" -> there.size() * 3 / 4;
                        default -> there.size() - 1;
                    };
            marks.add(new Mark.Word(there.get(at), name, Mark.Side.NEAR, tone, true, s.name(c)));
        }
    }
}
