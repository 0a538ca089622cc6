package keenfold.view.chart;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.run.result.Fit;
import keenfold.core.split.Split;
import keenfold.results.table.NumberFormats;

/** Scores of splits that follow each other in time, and what candidates differ by from the best one. */
final class OrderFigure {
    private static final int MOST_LINES = 6;

    private OrderFigure() {}

    static Figure of(FigureContext s) {
        FigureData data =
                FigureData.of("dataset", "candidate", "metric", "split", "trained_on", "tested", "score", "difference");
        List<MeanScore> ranked = s.ranked().stream()
                .filter(m -> s.metric().compared().contains(m.candidate()))
                .toList();
        List<MeanScore> shown = new ArrayList<>(ranked.subList(0, Math.min(MOST_LINES, ranked.size())));
        ranked.stream()
                .filter(m -> s.isPick(m.candidate()) && !shown.contains(m))
                .forEach(shown::add);
        Map<Integer, Double> best = scores(s, ranked.get(0).candidate());
        List<Mark> scores = new ArrayList<>();
        List<Mark> differences = new ArrayList<>();
        differences.add(new Mark.Guide(0, false, Mark.Line.SOLID, Tone.QUIET, ""));
        int last = 1;
        for (int i = shown.size() - 1; i >= 0; i--) {
            int c = shown.get(i).candidate();
            List<Spot> line = new ArrayList<>();
            List<Spot> apart = new ArrayList<>();
            List<Mark> dots = new ArrayList<>();
            List<Mark> dotsApart = new ArrayList<>();
            for (Map.Entry<Integer, Double> e : scores(s, c).entrySet()) {
                Split split = s.panel().task().splits().at(0, e.getKey());
                double difference = e.getValue() - best.getOrDefault(e.getKey(), Double.NaN);
                int number = e.getKey() + 1;
                int trained = split.train().size();
                int tested = split.test().size();
                data.row(s.data(), s.name(c), s.metricName(), number, trained, tested, e.getValue(), difference);
                line.add(new Spot(number, e.getValue()));
                apart.add(new Spot(number, difference));
                String about = String.format(
                        Locale.ROOT,
                        "%s, split %d%ntrained on %d rows, tested on the next %d",
                        s.name(c),
                        number,
                        trained,
                        tested);
                String text = about + "\n" + s.metricName() + " " + NumberFormats.fixed(e.getValue(), 3);
                dots.add(new Mark.Dot(new Spot(number, e.getValue()), s.form(c), s.tone(c), s.name(c), text));
                if (c != ranked.get(0).candidate()) {
                    dotsApart.add(new Mark.Dot(
                            new Spot(number, difference),
                            s.form(c),
                            s.tone(c),
                            s.name(c),
                            about + "\ndifference " + NumberFormats.fixed(difference, 3)));
                }
                last = Math.max(last, number);
            }
            trace(scores, s, c, line);
            scores.addAll(dots);
            if (c != ranked.get(0).candidate()) {
                trace(differences, s, c, apart);
                differences.addAll(dotsApart);
            }
        }
        String caption = s.place()
                + " Each split is trained on what came before the rows that it is tested on, split 1 first."
                + " Below: the score less that of " + s.name(ranked.get(0).candidate())
                + ", which has the best mean, split by split. A trend in the first is drift, or the growing number of"
                + " training rows; a trend in the second says that the order of candidates changes with time."
                + (ranked.size() > shown.size()
                        ? " Of " + ranked.size() + " candidates, the " + MOST_LINES + " with the best means are shown"
                                + (shown.size() > MOST_LINES ? ", and the pick." : ".")
                        : "");
        List<Frame> frames = List.of(
                new Frame("", Axis.numbers("split").from(1).to(last), Axis.numbers(s.scale()), scores),
                new Frame(
                        "",
                        Axis.numbers("split").from(1).to(last),
                        Axis.numbers("difference from " + s.name(ranked.get(0).candidate())),
                        differences));
        return new Figure(FigureKind.ORDER, s.data() + ": " + s.metricName() + " along time", caption, frames, 1, data);
    }

    private static void trace(List<Mark> marks, FigureContext s, int c, List<Spot> line) {
        boolean marked = s.isPick(c) || s.isBest(c);
        List<Spot> defined = line.stream().filter(p -> !Double.isNaN(p.y())).toList();
        if (defined.isEmpty()) {
            return;
        }
        marks.add(new Mark.Trace(
                defined, Mark.Line.SOLID, marked ? 2 : 1.2, marked ? s.tone(c) : Tone.QUIET, s.name(c), s.name(c)));
        marks.add(new Mark.Word(
                defined.get(defined.size() - 1), s.name(c), Mark.Side.RIGHT, s.tone(c), false, s.name(c)));
    }

    /** The scores of a candidate by the number of their split, from 0 on. */
    private static Map<Integer, Double> scores(FigureContext s, int candidate) {
        Map<Integer, Double> scores = new TreeMap<>();
        for (Fit fit : s.scored(candidate)) {
            scores.put(fit.fold(), s.score(fit));
        }
        return scores;
    }
}
