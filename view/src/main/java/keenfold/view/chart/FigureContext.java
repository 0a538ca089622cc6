package keenfold.view.chart;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.infer.Inference;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.infer.resample.MeanScore;
import keenfold.core.pick.Picks;
import keenfold.core.pick.Simplicity;
import keenfold.core.run.result.Fit;
import keenfold.results.Picking;
import keenfold.results.table.NumberFormats;
import keenfold.view.text.Wrap;

/**
 * What figures of one data set are about.
 *
 * @param picking the data set under a metric, with what is picked
 * @param place the data set and its splits in words
 * @param probabilities whether there are predicted probabilities, and not labels or scores alone
 * @param candidates those that are shown
 */
public record FigureContext(Picking.OfSet picking, String place, boolean probabilities, List<Integer> candidates) {
    /** Copies the list. */
    public FigureContext {
        candidates = List.copyOf(candidates);
    }

    /** Returns the inference of the data set. */
    public Inference inference() {
        return picking.inference();
    }

    /** Returns the metric by which candidates are compared. */
    public MetricInference metric() {
        return picking.metric();
    }

    /** Returns the picks under that metric; empty where none can be compared. */
    public Optional<Picks> picks() {
        return picking.picks();
    }

    List<Picks.Along> families() {
        return picking.families();
    }

    Simplicity simplicity() {
        return picking.simplicity();
    }

    /** Returns the same about other candidates. */
    public FigureContext of(List<Integer> others) {
        return new FigureContext(picking, place, probabilities, others);
    }

    AlignedPredictions panel() {
        return inference().panel();
    }

    /** Returns the name of the data set, as it may be shown. */
    public String data() {
        return Wrap.visible(panel().task().data().name());
    }

    String name(int candidate) {
        return panel().candidates().get(candidate).name();
    }

    String metricName() {
        return metric().metric().name();
    }

    /** Returns the metric with its direction, for an axis. */
    String scale() {
        return Wrap.visible(metricName())
                + (metric().metric().higherIsBetter() ? " (higher is better)" : " (lower is better)");
    }

    String level() {
        return NumberFormats.level(inference().evidence().level());
    }

    boolean isPick(int candidate) {
        return picks().filter(p -> p.pick() == candidate).isPresent();
    }

    boolean isBest(int candidate) {
        return picks().filter(p -> p.best() == candidate).isPresent();
    }

    Tone tone(int candidate) {
        return isPick(candidate) ? Tone.PICK : isBest(candidate) ? Tone.BEST : Tone.INK;
    }

    Mark.Form form(int candidate) {
        if (!metric().compared().contains(candidate)) {
            return Mark.Form.RING;
        }
        return isPick(candidate) ? Mark.Form.DIAMOND : isBest(candidate) ? Mark.Form.SQUARE : Mark.Form.DISC;
    }

    /** Says which forms mean what. */
    String forms() {
        return picks().map(p -> p.pick() == p.best()
                        ? "Diamond: the pick, which has the best mean."
                        : "Diamond: the pick; square: the best mean.")
                .orElse("");
    }

    /** The candidates shown that have a mean, best first. */
    List<MeanScore> ranked() {
        return metric().means().stream()
                .filter(m -> candidates.contains(m.candidate()) && !Double.isNaN(m.mean()))
                .sorted(Comparator.comparingDouble(m -> -metric().metric().turned(m.mean())))
                .toList();
    }

    /** The same in the order of drawing: the pick and the best above the others. */
    List<MeanScore> foremostLast() {
        return ranked().stream()
                .sorted(Comparator.comparing(m -> isPick(m.candidate()) ? 2 : isBest(m.candidate()) ? 1 : 0))
                .toList();
    }

    int metricIndex(MetricInference of) {
        return IntStream.range(0, panel().task().metrics().size())
                .filter(m -> panel().task()
                        .metrics()
                        .get(m)
                        .name()
                        .equals(of.metric().name()))
                .findFirst()
                .orElseThrow();
    }

    /** The fits of a candidate in which the metric is defined. */
    List<Fit> scored(int candidate) {
        int m = metricIndex(metric());
        return panel().fitsOf(candidate).stream()
                .filter(f ->
                        f.result().isPresent() && !Double.isNaN(f.result().get().score(m)))
                .toList();
    }

    double score(Fit fit) {
        return fit.result().orElseThrow().score(metricIndex(metric()));
    }

    String about(MeanScore m) {
        double se = m.standardError();
        return name(m.candidate()) + "\n" + metricName() + " " + NumberFormats.mean(m.mean(), se)
                + (Double.isNaN(se) ? "" : ", se " + NumberFormats.two(se))
                + (Double.isNaN(m.low())
                        ? ""
                        : "\n" + level() + " interval " + NumberFormats.interval(m.low(), m.high(), se))
                + (isPick(m.candidate()) ? "\nthe pick" : "")
                + (isBest(m.candidate()) ? "\nbest mean" : "");
    }

    /** The positive class, or, of several, the one at an index. */
    String label(int c) {
        return Wrap.visible(panel().task().data().classes().labels().get(c));
    }
}
