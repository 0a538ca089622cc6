package keenfold.view.chart;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.infer.contrast.Standing;
import keenfold.core.infer.contrast.Standings;
import keenfold.core.infer.resample.MeanScore;
import keenfold.results.table.NumberFormats;

/** The ranks that each candidate may have within one data set, those that may be the best marked. */
final class StandingFigure {
    private StandingFigure() {}

    static Figure of(FigureContext s, Standings standings) {
        FigureData data = FigureData.of(
                "dataset", "candidate", "metric", "mean", "se", "rank_low", "rank_high", "p_best", "may_be_best");
        List<MeanScore> shown = s.ranked().stream()
                .filter(m -> s.metric().compared().contains(m.candidate()))
                .toList();
        List<Mark> marks = new ArrayList<>();
        int count = standings.all().size();
        for (int i = 0; i < shown.size(); i++) {
            MeanScore m = shown.get(i);
            Standing standing = standings.of(m.candidate());
            String name = s.name(m.candidate());
            String p = NumberFormats.p(standing.pBest(), s.metric().draws());
            data.row(
                    s.data(),
                    name,
                    s.metricName(),
                    m.mean(),
                    m.standardError(),
                    standing.rankLow(),
                    standing.rankHigh(),
                    standing.pBest(),
                    standing.mayBeBest());
            String tip = s.about(m) + "\nrank " + standing.rankLow() + " to " + standing.rankHigh()
                    + (standing.mayBeBest() ? "\nmay be the best (p " : "\nnot the best (p ") + p + ")";
            Tone tone = s.isPick(m.candidate()) ? Tone.PICK : standing.mayBeBest() ? Tone.INK : Tone.QUIET;
            double thick = standing.mayBeBest() ? 3.2 : 1.4;
            marks.add(new Mark.Reach(
                    new Spot(standing.rankLow(), i), new Spot(standing.rankHigh(), i), thick, tone, name, tip));
            marks.add(new Mark.Dot(new Spot(i + 1, i), s.form(m.candidate()), tone, name, tip));
            if (standing.mayBeBest()) {
                marks.add(new Mark.Word(
                        new Spot(Double.POSITIVE_INFINITY, i), "may be best", Mark.Side.RIGHT, tone, false, name));
            }
        }
        String caption = s.place() + " The ranks that each candidate may have (" + s.level()
                + "), 1 the best; the mark stands at the rank of its mean. " + s.forms()
                + " Thick: may be the best, no other being shown to be better; the best one is"
                + " among these with probability "
                + NumberFormats.shortest(s.inference().evidence().level()) + ".";
        Frame frame = new Frame(
                "",
                Axis.numbers("rank by " + s.metricName() + " (1 is best)")
                        .from(0.5)
                        .to(count + 0.5),
                Axis.names("", shown.stream().map(m -> s.name(m.candidate())).toList()),
                marks);
        return new Figure(
                FigureKind.STANDINGS,
                s.data() + ": ranks that candidates may have, by " + s.metricName(),
                caption,
                List.of(frame),
                1,
                data);
    }
}
