package keenfold.results;

import java.util.List;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/**
 * A score of a trained model.
 *
 * @param metric its name
 * @param of what it is: cross-validated mean, corrected for choosing, or holdout
 * @param mean its value; NaN if it is undefined
 * @param low lower end of its interval; NaN without one
 * @param high upper end
 */
public record ModelScore(String metric, String of, double mean, double low, double high) {
    /** A mean over the test rows of folds. */
    public static final String MEAN = "cross-validated mean";

    /** The same, corrected for being of the candidate that was chosen. */
    public static final String CORRECTED = "corrected for choosing";

    /** On rows that were held back. */
    public static final String HOLDOUT = "holdout";

    /**
     * Returns scores as a table, those of one metric together for people.
     *
     * @param interval its heading
     */
    public static ResultTable table(List<ModelScore> scores, String interval) {
        List<ModelScore> grouped = scores.stream()
                .map(ModelScore::metric)
                .distinct()
                .flatMap(name -> scores.stream().filter(s -> s.metric.equals(name)))
                .toList();
        return ResultTable.<ModelScore>define()
                .name("metric", ModelScore::metric)
                .text("of", ModelScore::of)
                .headed("")
                .column("", ValueKind.fixed(3), ModelScore::shown)
                .headed("value")
                .people()
                .number("value", ValueKind.MEAN, ModelScore::mean)
                .programs()
                .interval(interval, "error", ModelScore::low, ModelScore::high)
                .number("error", ValueKind.DEVIATION, ModelScore::error)
                .hidden()
                .of(grouped);
    }

    /** Returns the same score, of something that is called otherwise. */
    ModelScore ofWhat(String other) {
        return new ModelScore(metric, other, mean, low, high);
    }

    private double error() {
        return (high - low) / 4;
    }

    private String shown() {
        return Double.isNaN(error()) ? NumberFormats.fixed(mean, 3) : NumberFormats.mean(mean, error());
    }
}
