package keenfold.view.chart;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import keenfold.core.infer.distribution.Quantiles;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.infer.resample.RunningMean;
import keenfold.core.run.result.Fit;
import keenfold.results.Scores;
import keenfold.results.table.NumberFormats;

/** Figures of means and spreads. */
final class ScoreFigures {
    private static final double BELOW = 0.36;
    private static final int MOST_LINES = 6;

    private ScoreFigures() {}

    static Figure means(FigureContext s) {
        FigureData data =
                FigureData.of("dataset", "candidate", "metric", "mean", "sd", "se", "low", "high", "min", "max");
        List<MeanScore> ranked = s.ranked();
        List<Mark> marks = new ArrayList<>();
        guess(s).ifPresent(
                        at -> marks.add(new Mark.Guide(at, true, Mark.Line.DOTTED, Tone.QUIET, "the trivial guess")));
        for (int i = 0; i < ranked.size(); i++) {
            MeanScore m = ranked.get(i);
            int c = m.candidate();
            data.row(
                    s.data(),
                    s.name(c),
                    s.metricName(),
                    m.mean(),
                    m.sd(),
                    m.standardError(),
                    m.low(),
                    m.high(),
                    m.min(),
                    m.max());
            List<Double> folds = s.scored(c).stream().map(s::score).toList();
            marks.add(new Mark.Strip(folds, i + BELOW, Tone.FAINT, s.name(c), folds(s, m, folds.size())));
            marks.add(
                    new Mark.Reach(new Spot(m.low(), i), new Spot(m.high(), i), 2.6, s.tone(c), s.name(c), s.about(m)));
            marks.add(new Mark.Dot(new Spot(m.mean(), i), s.form(c), s.tone(c), s.name(c), s.about(m)));
        }
        String caption = s.place() + " Mean of the repeats with its " + s.level()
                + " interval; strokes below: scores of single folds, which spread more than the mean is uncertain. "
                + s.forms();
        Frame frame = new Frame(
                "",
                Axis.numbers(s.scale()),
                Axis.names("", ranked.stream().map(m -> s.name(m.candidate())).toList()),
                marks);
        return new Figure(FigureKind.MEANS, s.data() + ": mean " + s.metricName(), caption, List.of(frame), 1, data);
    }

    private static String folds(FigureContext s, MeanScore m, int count) {
        return s.name(m.candidate()) + "\n" + count + " fold scores, " + NumberFormats.fixed(m.min(), 3) + " to "
                + NumberFormats.fixed(m.max(), 3) + ", sd " + NumberFormats.two(m.sd());
    }

    /** What a candidate that predicts the class shares reaches, if there is one. */
    private static OptionalDouble guess(FigureContext s) {
        return s.metric().means().stream()
                .filter(m ->
                        s.panel().candidates().get(m.candidate()).kind().name().equals("majority"))
                .mapToDouble(MeanScore::mean)
                .filter(v -> !Double.isNaN(v))
                .findFirst();
    }

    static Figure spread(FigureContext s) {
        FigureData data = FigureData.of("dataset", "candidate", "metric", "repeat", "fold", "value");
        List<MeanScore> ranked = s.ranked();
        List<Mark> folds = new ArrayList<>();
        List<Mark> repeats = new ArrayList<>();
        boolean joined = s.panel().task().splits().joined() && !s.panel().scoresOnly();
        for (int i = 0; i < ranked.size(); i++) {
            int c = ranked.get(i).candidate();
            List<Double> byFold = new ArrayList<>();
            for (Fit f : s.scored(c)) {
                byFold.add(s.score(f));
                data.row(s.data(), s.name(c), s.metricName(), f.repeat() + 1, f.fold() + 1, s.score(f));
            }
            quartiles(s, folds, c, i, byFold, "fold scores");
            if (joined && s.panel().admitted().contains(c)) {
                List<Double> byRepeat = Arrays.stream(
                                s.panel().partScores(s.metric().metric(), c))
                        .filter(v -> !Double.isNaN(v))
                        .boxed()
                        .toList();
                quartiles(s, repeats, c, i, byRepeat, "repeats");
            }
        }
        List<String> names = ranked.stream().map(m -> s.name(m.candidate())).toList();
        List<Frame> frames = new ArrayList<>();
        frames.add(new Frame("by fold", Axis.numbers(s.scale()), Axis.names("", names), folds));
        if (!repeats.isEmpty()) {
            frames.add(new Frame("by repeat", Axis.numbers(s.scale()), Axis.names("", names), repeats));
        }
        String caption = s.place()
                + " Every score a stroke; the bar reaches from the lower to the upper quartile, the dot is the median."
                + (repeats.isEmpty()
                        ? ""
                        : " Repeats lie close together because they share their rows: their spread is not the"
                                + " uncertainty for new rows.");
        return new Figure(
                FigureKind.SPREAD, s.data() + ": spread of " + s.metricName(), caption, frames, frames.size(), data);
    }

    private static void quartiles(FigureContext s, List<Mark> marks, int c, int at, List<Double> values, String what) {
        if (values.isEmpty()) {
            return;
        }
        double[] sorted =
                values.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        double low = Quantiles.of(sorted, 0.25);
        double middle = Quantiles.of(sorted, 0.5);
        double high = Quantiles.of(sorted, 0.75);
        String tip = s.name(c) + "\n" + values.size() + " " + what + "\nmedian " + NumberFormats.fixed(middle, 4)
                + ", quartiles " + NumberFormats.fixed(low, 4) + " and " + NumberFormats.fixed(high, 4) + "\nfrom "
                + NumberFormats.fixed(sorted[0], 4) + " to " + NumberFormats.fixed(sorted[sorted.length - 1], 4);
        marks.add(new Mark.Strip(values, at + BELOW, Tone.FAINT, s.name(c), tip));
        marks.add(new Mark.Reach(new Spot(low, at), new Spot(high, at), 4, s.tone(c), s.name(c), tip));
        marks.add(new Mark.Dot(new Spot(middle, at), s.form(c), s.tone(c), s.name(c), tip));
    }

    static Figure settling(FigureContext s) {
        FigureData data = FigureData.of("dataset", "candidate", "metric", "repeats", "running_mean", "running_se");
        List<Mark> marks = new ArrayList<>();
        List<MeanScore> ranked = s.ranked().stream()
                .filter(m -> s.metric().compared().contains(m.candidate()))
                .toList();
        List<MeanScore> shown = new ArrayList<>(ranked.subList(0, Math.min(MOST_LINES, ranked.size())));
        ranked.stream()
                .filter(m -> s.isPick(m.candidate()) && !shown.contains(m))
                .forEach(shown::add);
        int last = 1;
        for (MeanScore m : shown) {
            int c = m.candidate();
            List<Spot> line = new ArrayList<>();
            List<Spot> low = new ArrayList<>();
            List<Spot> high = new ArrayList<>();
            for (RunningMean one : s.metric().running(c)) {
                data.row(s.data(), s.name(c), s.metricName(), one.count(), one.mean(), one.standardError());
                line.add(new Spot(one.count(), one.mean()));
                if (!Double.isNaN(one.standardError())) {
                    low.add(new Spot(one.count(), one.mean() - one.standardError()));
                    high.add(new Spot(one.count(), one.mean() + one.standardError()));
                }
                last = Math.max(last, one.count());
            }
            if (s.isBest(c)) {
                marks.add(0, new Mark.Band(low, high, s.tone(c), s.name(c)));
            }
            marks.add(new Mark.Trace(
                    line,
                    Mark.Line.SOLID,
                    s.isPick(c) || s.isBest(c) ? 2 : 1.2,
                    s.isPick(c) || s.isBest(c) ? s.tone(c) : Tone.QUIET,
                    s.name(c),
                    s.about(m)));
            marks.add(
                    new Mark.Word(line.get(line.size() - 1), s.name(c), Mark.Side.RIGHT, s.tone(c), false, s.name(c)));
        }
        String unit = s.panel().task().splits().joined() ? "repeats" : "splits";
        String caption = s.place() + " Mean of the first " + unit + "; the band is one standard error of the best mean,"
                + " which settles at what the rows allow."
                + (ranked.size() > shown.size()
                        ? " The " + shown.size() + " leading ones of " + ranked.size() + "."
                        : "");
        Frame frame = new Frame("", Axis.numbers("number of " + unit).from(1).to(last), Axis.numbers(s.scale()), marks);
        return new Figure(
                FigureKind.SETTLING,
                s.data() + ": " + s.metricName() + " as " + unit + " are added",
                caption,
                List.of(frame),
                1,
                data);
    }

    static Figure time(FigureContext s) {
        FigureData data =
                FigureData.of("dataset", "candidate", "metric", "mean", "se", "train_seconds", "predict_seconds");
        List<Mark> training = new ArrayList<>();
        List<Mark> prediction = new ArrayList<>();
        for (MeanScore m : s.foremostLast()) {
            int c = m.candidate();
            double train = Scores.seconds(s.panel().fitsOf(c), true);
            double predict = Scores.seconds(s.panel().fitsOf(c), false);
            data.row(s.data(), s.name(c), s.metricName(), m.mean(), m.standardError(), train, predict);
            timed(s, training, m, train, "training");
            timed(s, prediction, m, predict, "prediction");
        }
        List<Frame> frames = new ArrayList<>();
        frames.add(new Frame("training", Axis.ratios("seconds a fit"), Axis.numbers(s.scale()), training));
        frames.add(new Frame("prediction", Axis.ratios("seconds a fit"), Axis.numbers(s.scale()), prediction));
        String caption =
                s.place() + " Seconds by the clock, means of the fits, on a scale of ratios; they differ from machine"
                        + " to machine. Lines: mean ± one standard error. " + s.forms();
        return new Figure(
                FigureKind.TIME, s.data() + ": " + s.metricName() + " against time", caption, frames, 2, data);
    }

    private static void timed(FigureContext s, List<Mark> marks, MeanScore m, double seconds, String what) {
        int c = m.candidate();
        if (!(seconds > 0)) {
            return;
        }
        String tip = s.about(m) + "\n" + what + " " + NumberFormats.seconds(seconds);
        standing(s, marks, m, seconds, tip);
        marks.add(new Mark.Word(
                new Spot(seconds, m.mean()),
                s.name(c),
                Mark.Side.NEAR,
                s.tone(c),
                s.isPick(c) || s.isBest(c),
                s.name(c)));
    }

    /** A mean with one standard error to both sides. */
    static void standing(FigureContext s, List<Mark> marks, MeanScore m, double x, String tip) {
        int c = m.candidate();
        double se = m.standardError();
        marks.add(
                new Mark.Reach(new Spot(x, m.mean() - se), new Spot(x, m.mean() + se), 1.4, s.tone(c), s.name(c), tip));
        marks.add(new Mark.Dot(new Spot(x, m.mean()), s.form(c), s.tone(c), s.name(c), tip));
    }
}
