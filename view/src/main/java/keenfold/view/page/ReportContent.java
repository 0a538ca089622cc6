package keenfold.view.page;

import java.util.List;
import java.util.Optional;
import keenfold.core.infer.AcrossSets;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.contrast.Contrast;
import keenfold.core.split.Scheme;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;
import keenfold.view.text.PickView;

/**
 * What a report is made of.
 *
 * @param note what the plan says it is for; may be empty
 * @param ledger its file
 * @param version of the program
 * @param plan the frozen plan as text
 * @param commands how to repeat it
 * @param primary the metric by which is chosen
 * @param scheme how rows are divided; empty if that was made elsewhere
 * @param sets one per data set
 * @param across by metric, comparisons across data sets
 * @param left what was left out, and why
 */
public record ReportContent(
        String note,
        String ledger,
        String version,
        String plan,
        String commands,
        String primary,
        Optional<Scheme> scheme,
        List<OfSet> sets,
        List<OfAcross> across,
        List<String> left) {
    /** Copies the lists. */
    public ReportContent {
        sets = List.copyOf(sets);
        across = List.copyOf(across);
        left = List.copyOf(left);
    }

    /**
     * One data set.
     *
     * @param metrics by metric, the primary one among them
     * @param notices words of warning
     * @param figures those that do not hang on a metric
     */
    public record OfSet(List<OfMetric> metrics, List<String> notices, List<Drawn> figures) {
        /** Copies the lists. */
        public OfSet {
            metrics = List.copyOf(metrics);
            notices = List.copyOf(notices);
            figures = List.copyOf(figures);
        }

        /** Returns what is shown under a metric. */
        OfMetric under(String metric) {
            return metrics.stream()
                    .filter(m -> m.subject().metric().metric().name().equals(metric))
                    .findFirst()
                    .orElseThrow();
        }
    }

    /**
     * One data set under one metric.
     *
     * @param subject what figures are about
     * @param contrasts with the best
     * @param worth what choosing is worth
     * @param figures drawn
     */
    public record OfMetric(FigureContext subject, List<Contrast> contrasts, PickView.Worth worth, List<Drawn> figures) {
        /** Copies the lists. */
        public OfMetric {
            contrasts = List.copyOf(contrasts);
            figures = List.copyOf(figures);
        }
    }

    /**
     * All data sets under one metric.
     *
     * @param sets what they come to
     * @param each the metric on each of them
     * @param figure drawn
     */
    public record OfAcross(AcrossSets sets, List<MetricInference> each, Drawn figure) {
        /** Copies the list. */
        public OfAcross {
            each = List.copyOf(each);
        }
    }

    /**
     * A figure as drawn.
     *
     * @param figure what is drawn
     * @param svg for the page, without title and caption
     * @param narrow the same for a narrow screen; empty where the figure would be too crowded
     * @param file its file beside the page, without ending
     */
    public record Drawn(Figure figure, String svg, String narrow, String file) {
        /** Draws a figure for the page. */
        public static Drawn of(Figure figure, String file) {
            return new Drawn(
                    figure,
                    Drawing.svg(figure, Look.DEFAULT.bare()),
                    figure.kind().fitsNarrow() ? Drawing.svg(figure, Look.NARROW) : "",
                    file);
        }

        FigureKind kind() {
            return figure.kind();
        }
    }
}
