package keenfold.view.page;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Notice;
import keenfold.core.split.Scheme;
import keenfold.results.AcrossDataSets;
import keenfold.results.Contrasts;
import keenfold.view.chart.Drawing;
import keenfold.view.chart.Figure;
import keenfold.view.chart.FigureContext;
import keenfold.view.chart.FigureKind;
import keenfold.view.chart.Look;

/**
 * What a report is made of.
 *
 * @param note what the plan says it is for; may be empty
 * @param notes that were made in the ledger, each with its time
 * @param ledger its file
 * @param date of the last change of the ledger; empty if it is not known
 * @param fingerprints of the data sets, in the order of {@code sets}; empty where there is none
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
        List<String> notes,
        String ledger,
        String date,
        List<String> fingerprints,
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
        notes = List.copyOf(notes);
        fingerprints = List.copyOf(fingerprints);
        sets = List.copyOf(sets);
        across = List.copyOf(across);
        left = List.copyOf(left);
    }

    /**
     * One data set.
     *
     * @param metrics by metric, the primary one among them
     * @param notices warnings
     * @param figures those that do not depend on a metric
     */
    public record OfSet(List<OfMetric> metrics, List<Notice> notices, List<Drawn> figures) {
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
     * @param figures drawn
     */
    public record OfMetric(FigureContext subject, Contrasts.Part contrasts, List<Drawn> figures) {
        /** Copies the list. */
        public OfMetric {
            figures = List.copyOf(figures);
        }
    }

    /**
     * All data sets under one metric.
     *
     * @param part what they come to
     * @param warnings what is to be known of it
     * @param figure drawn
     */
    public record OfAcross(AcrossDataSets.OfMetric part, List<Notice> warnings, Drawn figure) {
        /** Copies the list. */
        public OfAcross {
            warnings = List.copyOf(warnings);
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
        /**
         * Draws a figure for the page.
         *
         * @param bare as SVG without title and caption
         */
        public static Drawn of(Figure figure, String bare, String file) {
            return new Drawn(figure, bare, figure.fitsNarrow() ? Drawing.svg(figure, Look.NARROW) : "", file);
        }

        FigureKind kind() {
            return figure.kind();
        }
    }
}
