package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Takes away number columns that say nearly the same as an earlier one.
 *
 * <p>Definition: columns are gone through in order; one goes if the absolute value of its weighted Pearson correlation, in
 * the training rows, with a number column that was kept before it is above {@code above}. Each pair is judged by the rows
 * where both have a value; a pair of which one is constant there is not correlated.
 *
 * @param above the limit, from 0 to 1
 */
record DropCorrelated(double above) implements Step {
    private static final Setting ABOVE = Setting.number(
            "above", "0.95", Bounds.from(0).to(1), Simpler.LOWER, "the greatest correlation that is let pass");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "drop-correlated",
            "takes away number columns that say nearly the same as an earlier one",
            new About(
                    "in the order of columns, one goes whose absolute Pearson correlation with one that stayed is above the"
                            + " limit in the training rows",
                    "",
                    ""),
            false,
            List.of(ABOVE),
            s -> new DropCorrelated(s.number(ABOVE)));

    @Override
    public LearnedStep fit(Training training) {
        List<double[]> kept = new ArrayList<>();
        Set<Integer> gone = new HashSet<>();
        double[] w = training.weights();
        List<Column> columns = training.table().columns();
        for (int j = 0; j < columns.size(); j++) {
            FitFailure.ifInterrupted();
            if (columns.get(j) instanceof Numbers n) {
                double[] x = n.toArray();
                if (kept.stream().anyMatch(k -> Math.abs(correlation(k, x, w)) > above)) {
                    gone.add(j);
                } else {
                    kept.add(x);
                }
            }
        }
        return new LearnedStep.ColumnChoice(IntStream.range(0, columns.size())
                .filter(j -> !gone.contains(j))
                .boxed()
                .toList());
    }

    private static double correlation(double[] x, double[] y, double[] w) {
        double weight = 0;
        double sumX = 0;
        double sumY = 0;
        for (int i = 0; i < x.length; i++) {
            if (!Double.isNaN(x[i] + y[i])) {
                weight += w[i];
                sumX += w[i] * x[i];
                sumY += w[i] * y[i];
            }
        }
        double meanX = sumX / weight;
        double meanY = sumY / weight;
        double xx = 0;
        double yy = 0;
        double xy = 0;
        for (int i = 0; i < x.length; i++) {
            if (!Double.isNaN(x[i] + y[i])) {
                double dx = x[i] - meanX;
                double dy = y[i] - meanY;
                xx += w[i] * dx * dx;
                yy += w[i] * dy * dy;
                xy += w[i] * dx * dy;
            }
        }
        double scale = Math.sqrt(xx) * Math.sqrt(yy);
        return scale > 0 ? xy / scale : 0;
    }
}
