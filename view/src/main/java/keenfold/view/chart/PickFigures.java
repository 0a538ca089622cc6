package keenfold.view.chart;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picks;
import keenfold.core.pick.SimplerBy;
import keenfold.results.table.NumberFormats;

/** Figures of differences and picks. */
final class PickFigures {
    private PickFigures() {}

    /**
     * Differences from one candidate.
     *
     * @param contrasts with the same opponent, in the order of showing
     */
    static Figure differences(FigureContext s, List<Contrast> contrasts) {
        FigureData data = FigureData.of(
                "dataset",
                "candidate",
                "against",
                "metric",
                "difference",
                "se",
                "low",
                "high",
                "low_all",
                "high_all",
                "p",
                "p_adjusted",
                "call");
        List<Contrast> shown = contrasts.stream()
                .filter(c -> s.candidates().contains(c.candidate()))
                .toList();
        List<Mark> marks = new ArrayList<>();
        double margin = s.inference().evidence().margin();
        if (margin > 0) {
            marks.add(new Mark.Block(
                    new Spot(-margin, -1.5),
                    new Spot(margin, shown.size()),
                    1,
                    Tone.WASH,
                    "",
                    "",
                    "margin of equivalence"));
        }
        marks.add(new Mark.Guide(0, true, Mark.Line.SOLID, Tone.QUIET, "no difference"));
        for (int i = 0; i < shown.size(); i++) {
            Contrast c = shown.get(i);
            data.row(
                    s.data(),
                    s.name(c.candidate()),
                    s.name(c.against()),
                    s.metricName(),
                    c.difference(),
                    c.standardError(),
                    c.low(),
                    c.high(),
                    c.lowAll(),
                    c.highAll(),
                    c.p(),
                    c.pAdjusted(),
                    c.call().label());
            String about = s.name(c.candidate());
            String tip = about + " - " + s.name(c.against()) + "\n"
                    + NumberFormats.signed(c.difference(), c.standardError())
                    + "\n" + s.level() + " interval " + NumberFormats.interval(c.low(), c.high(), c.standardError())
                    + "\nfor all at once " + NumberFormats.interval(c.lowAll(), c.highAll(), c.standardError())
                    + "\np adjusted "
                    + NumberFormats.p(c.pAdjusted(), s.metric().draws())
                    + (c.call().label().isEmpty() ? "" : "\n" + c.call().label());
            Tone tone = s.isPick(c.candidate()) ? Tone.PICK : c.significant() ? Tone.INK : Tone.QUIET;
            marks.add(new Mark.Reach(new Spot(c.lowAll(), i), new Spot(c.highAll(), i), 1.1, tone, about, tip));
            marks.add(new Mark.Reach(new Spot(c.low(), i), new Spot(c.high(), i), 3.2, tone, about, tip));
            marks.add(new Mark.Dot(
                    new Spot(c.difference(), i),
                    s.isPick(c.candidate()) ? Mark.Form.DIAMOND : c.significant() ? Mark.Form.DISC : Mark.Form.RING,
                    tone,
                    about,
                    tip));
            marks.add(new Mark.Word(
                    new Spot(Double.POSITIVE_INFINITY, i), c.call().label(), Mark.Side.RIGHT, tone, false, about));
        }
        String against = shown.isEmpty() ? "" : s.name(shown.get(0).against());
        String caption = s.place() + " Thick: " + s.level()
                + " interval of the one difference; thin: the interval that holds"
                + " for all pairs at once. Filled: significant (p adjusted below "
                + NumberFormats.shortest(1 - s.inference().evidence().level()) + ")."
                + (margin > 0
                        ? " Shaded: the margin of equivalence, " + NumberFormats.shortest(margin) + " either way."
                        : "");
        Frame frame = new Frame(
                "",
                Axis.numbers("difference in " + s.scale()),
                Axis.names("", shown.stream().map(c -> s.name(c.candidate())).toList()),
                marks);
        return new Figure(
                FigureKind.DIFFERENCES,
                s.data() + ": " + s.metricName() + ", each less " + against,
                caption,
                List.of(frame),
                1,
                data);
    }

    /** The candidates in the order of simplicity. */
    private static List<Integer> places(FigureContext s) {
        Map<Integer, Double> turned = new HashMap<>();
        s.ranked().forEach(m -> turned.put(m.candidate(), s.metric().metric().turned(m.mean())));
        return s.simplicity().ordered(List.copyOf(turned.keySet()), turned::get);
    }

    static Figure pick(FigureContext s) {
        Picks picks = s.picks().orElseThrow();
        FigureData data = FigureData.of(
                "dataset", "candidate", "metric", "size", "value", "mean", "se", "eligible", "pick", "best");
        List<Mark> marks = new ArrayList<>();
        if (!Double.isNaN(picks.threshold())) {
            marks.add(new Mark.Guide(
                    picks.threshold(),
                    false,
                    Mark.Line.DASHED,
                    Tone.QUIET,
                    "limit of " + picks.rule().label()));
        }
        boolean byKind = s.simplicity().by() == SimplerBy.KIND;
        List<Integer> places = byKind ? places(s) : List.of();
        boolean ratios =
                !byKind && s.ranked().stream().allMatch(m -> !(s.simplicity().value(m.candidate()) <= 0));
        List<String> without = new ArrayList<>();
        for (MeanScore m : s.foremostLast()) {
            int c = m.candidate();
            double value = s.simplicity().value(c);
            double across = byKind ? places.indexOf(c) : value;
            data.row(
                    s.data(),
                    s.name(c),
                    s.metricName(),
                    s.simplicity().size(c),
                    value,
                    m.mean(),
                    m.standardError(),
                    picks.eligible().contains(c),
                    s.isPick(c),
                    s.isBest(c));
            if (Double.isNaN(value)) {
                without.add(s.name(c));
                continue;
            }
            String tip = s.about(m) + "\n" + s.simplicity().by().measure() + " "
                    + NumberFormats.significant(value, 3)
                    + (picks.eligible().contains(c) ? "\neligible" : "");
            ScoreFigures.standing(s, marks, m, across, tip);
            marks.add(new Mark.Word(
                    new Spot(across, m.mean()),
                    s.name(c),
                    Mark.Side.NEAR,
                    s.tone(c),
                    s.isPick(c) || s.isBest(c),
                    s.name(c)));
        }
        String by =
                switch (s.simplicity().by()) {
                    case KIND -> "tier of its kind (within a tier by size)";
                    case SIZE -> "size (effective number of parameters)";
                    default -> s.simplicity().by().label();
                };
        String caption = s.place() + " Mean ± one standard error against " + by + ", simpler to the left. Rule "
                + picks.rule().label() + " picks "
                + (Double.isNaN(picks.threshold())
                        ? s.name(picks.pick()) + ". "
                        : "the simplest candidate that reaches its limit. ")
                + s.forms()
                + (without.isEmpty() ? "" : " Not shown, without a value: " + String.join(", ", without) + ".");
        Axis axis = ratios ? Axis.ratios(by) : Axis.numbers(by);
        if (byKind) {
            // One place for each candidate, which its tier stands at.
            axis = Axis.names(
                    by,
                    places.stream()
                            .map(c -> NumberFormats.significant(s.simplicity().value(c), 1))
                            .toList());
        }
        Frame frame = new Frame("", axis, Axis.numbers(s.scale()), marks);
        return new Figure(
                FigureKind.PICK,
                s.data() + ": the pick by " + s.metricName() + " is " + s.name(picks.pick()),
                caption,
                List.of(frame),
                1,
                data);
    }

    static Figure family(FigureContext s) {
        FigureData data = FigureData.of("dataset", "family", "candidate", "metric", "setting", "mean", "se", "train");
        List<Frame> frames = new ArrayList<>();
        List<MeanScore> means = s.metric().means();
        boolean trained = false;
        for (Picks.Along family : s.families()) {
            List<Mark> marks = new ArrayList<>();
            // Along the varied setting of most values, a line for each value of the others.
            int along = along(s, family);
            Map<String, List<Integer>> lines = new LinkedHashMap<>();
            List<String> values = new ArrayList<>();
            for (int c : family.members()) {
                List<String> settings = new ArrayList<>(settings(s, family, c));
                String value = settings.remove(along);
                lines.computeIfAbsent(String.join("/", settings), k -> new ArrayList<>())
                        .add(c);
                if (!values.contains(value)) {
                    values.add(value);
                }
            }
            boolean training = false;
            for (Map.Entry<String, List<Integer>> line : lines.entrySet()) {
                List<Spot> test = new ArrayList<>();
                List<Spot> train = new ArrayList<>();
                for (int c : line.getValue()) {
                    MeanScore m = means.get(c);
                    double x = values.indexOf(settings(s, family, c).get(along));
                    data.row(
                            s.data(),
                            family.name(),
                            s.name(c),
                            s.metricName(),
                            values.get((int) x),
                            m.mean(),
                            m.standardError(),
                            m.train());
                    test.add(new Spot(x, m.mean()));
                    train.add(new Spot(x, m.train()));
                    training |= !Double.isNaN(m.train());
                }
                marks.add(new Mark.Trace(test, Mark.Line.SOLID, 1.5, Tone.INK, family.name(), line.getKey()));
                if (training) {
                    marks.add(new Mark.Trace(train, Mark.Line.DASHED, 1.2, Tone.QUIET, family.name(), "training rows"));
                    marks.add(new Mark.Word(
                            train.get(train.size() - 1), "training", Mark.Side.NEAR, Tone.QUIET, false, family.name()));
                }
                if (!line.getKey().isEmpty()) {
                    marks.add(new Mark.Word(
                            test.get(test.size() - 1), line.getKey(), Mark.Side.NEAR, Tone.INK, true, family.name()));
                }
                for (int c : line.getValue()) {
                    MeanScore m = means.get(c);
                    double x = values.indexOf(settings(s, family, c).get(along));
                    member(s, marks, m, x, family);
                }
            }
            trained |= training;
            List<String> varied =
                    s.panel().candidates().get(family.members().get(0)).varied();
            frames.add(new Frame(family.name(), Axis.names(varied.get(along), values), Axis.numbers(s.scale()), marks));
        }
        String rule = s.picks().map(p -> p.rule().label()).orElse("the rule");
        String caption =
                s.place() + " Mean ± one standard error along the varied setting, in the order of the plan. Diamond: "
                        + rule + "'s pick within the family alone; square: its best mean."
                        + (trained
                                ? " Dashed: the same fits scored on their own training rows."
                                : " Training scores are drawn too after run --train-scores.");
        return new Figure(
                FigureKind.FAMILY,
                s.data() + ": " + s.metricName() + " along varied settings",
                caption,
                frames,
                Math.min(frames.size(), 2),
                data);
    }

    /** The values of a member's varied settings, as its name has them. */
    private static List<String> settings(FigureContext s, Picks.Along family, int candidate) {
        return List.of(s.name(candidate).substring(family.name().length() + 1).split("/", -1));
    }

    /** Which varied setting has most values; of several the last one. */
    private static int along(FigureContext s, Picks.Along family) {
        int count = settings(s, family, family.members().get(0)).size();
        int best = 0;
        long most = 0;
        for (int i = 0; i < count; i++) {
            int at = i;
            long values = family.members().stream()
                    .map(c -> settings(s, family, c).get(at))
                    .distinct()
                    .count();
            if (values >= most) {
                most = values;
                best = i;
            }
        }
        return best;
    }

    private static void member(FigureContext s, List<Mark> marks, MeanScore m, double x, Picks.Along family) {
        int c = m.candidate();
        Tone tone = c == family.pick() ? Tone.PICK : c == family.best() ? Tone.BEST : Tone.INK;
        Mark.Form form =
                c == family.pick() ? Mark.Form.DIAMOND : c == family.best() ? Mark.Form.SQUARE : Mark.Form.DISC;
        double se = m.standardError();
        marks.add(new Mark.Reach(
                new Spot(x, m.mean() - se), new Spot(x, m.mean() + se), 1.4, tone, s.name(c), s.about(m)));
        marks.add(new Mark.Dot(new Spot(x, m.mean()), form, tone, s.name(c), s.about(m)));
    }

    static Figure frequency(FigureContext s) {
        Picks picks = s.picks().orElseThrow();
        FigureData data = FigureData.of("dataset", "candidate", "metric", "rule", "share");
        List<Map.Entry<Integer, Double>> rows = picks.frequency().entrySet().stream()
                .filter(e -> s.candidates().contains(e.getKey()))
                .sorted(Map.Entry.<Integer, Double>comparingByValue(Comparator.reverseOrder())
                        .thenComparing(Map.Entry::getKey))
                .toList();
        List<Map.Entry<Integer, Double>> shown =
                rows.stream().filter(e -> e.getValue() >= 0.0005).toList();
        rows.forEach(e -> data.row(
                s.data(), s.name(e.getKey()), s.metricName(), picks.rule().label(), e.getValue()));
        List<Mark> marks = new ArrayList<>();
        IntStream.range(0, shown.size()).forEach(i -> {
            int c = shown.get(i).getKey();
            double share = shown.get(i).getValue();
            marks.add(new Mark.Block(
                    new Spot(0, i - 0.3),
                    new Spot(share, i + 0.3),
                    1,
                    s.isPick(c) ? Tone.PICK : Tone.FAINT,
                    "",
                    s.name(c),
                    s.name(c) + "\npicked in " + percent(share) + " of the draws"));
            marks.add(new Mark.Word(
                    new Spot(share, i), percent(share), Mark.Side.RIGHT, Tone.INK, s.isPick(c), s.name(c)));
        });
        int never = rows.size() - shown.size();
        String caption = s.place() + " Share of the " + s.metric().draws() + " draws in which "
                + picks.rule().label()
                + " picks each candidate; a low share of the pick means that it would easily be another."
                + (never > 0 ? " Never or hardly ever picked: " + never + " more." : "");
        Frame frame = new Frame(
                "",
                Axis.shares("share of the draws").to(1.09),
                Axis.names("", shown.stream().map(e -> s.name(e.getKey())).toList()),
                marks);
        return new Figure(
                FigureKind.FREQUENCY,
                s.data() + ": how often " + picks.rule().label() + " would pick each, by " + s.metricName(),
                caption,
                List.of(frame),
                1,
                data);
    }

    private static String percent(double share) {
        return share < 0.005 ? "< 1 %" : NumberFormats.percent(share);
    }
}
