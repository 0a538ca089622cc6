package keenfold.core.prepare;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;

/**
 * Keeps the columns that tell the classes of the training rows apart best, each by itself; the others go.
 *
 * <p>By F (Fisher 1925): the F statistic of a one-way analysis of variance of the column over the classes,
 * [Σ_c W_c(m_c − m)²/(C − 1)] / [Σ_c Σ w(x − m_c)²/(W − C)], over the values that are not missing and the C classes that
 * have some; number columns only. By information (Shannon 1948): the mutual information of column and class from the
 * weighted counts, less its bias (cells − values − classes + 1)/(2W) (Miller 1955), counting what occurs; numbers in 10
 * quantile bins of the training rows, a missing value being a value of its own. Equal scores go to the earlier column; the
 * columns kept stay in their order.
 *
 * @param number how many are kept
 */
record Strongest(int number, By by) implements Step {
    private static final int BINS = 10;

    /** How columns are scored. */
    enum By {
        F,
        INFORMATION
    }

    @Override
    public Fitted fit(Training training) {
        List<Column> columns = training.table().columns();
        double[] scores = columns.stream()
                .mapToDouble(c -> by == By.INFORMATION ? information(c, training) : f(c, training))
                .toArray();
        int[] kept = IntStream.range(0, scores.length)
                .boxed()
                .sorted(Comparator.comparingDouble(j -> -scores[j]))
                .limit(number)
                .sorted()
                .mapToInt(Integer::intValue)
                .toArray();
        return new FittedSteps.Choice(kept);
    }

    static double f(Column column, Training training) {
        if (!(column instanceof Numbers x)) {
            throw new FitFailure("strongest by f needs number columns: \"" + column.name()
                    + "\" is a category; put one-hot before it, or say by: information");
        }
        double[] weight = new double[training.classes()];
        double[] mean = new double[training.classes()];
        double total = 0;
        double grand = 0;
        for (int i = 0; i < x.rows(); i++) {
            if (!x.missing(i)) {
                int c = training.target(i);
                weight[c] += training.weight(i);
                mean[c] += training.weight(i) * x.get(i);
            }
        }
        int classes = 0;
        for (int c = 0; c < weight.length; c++) {
            total += weight[c];
            grand += mean[c];
            mean[c] /= weight[c];
            classes += weight[c] > 0 ? 1 : 0;
        }
        grand /= total;
        double between = 0;
        for (int c = 0; c < weight.length; c++) {
            between += weight[c] > 0 ? weight[c] * (mean[c] - grand) * (mean[c] - grand) : 0;
        }
        double within = 0;
        for (int i = 0; i < x.rows(); i++) {
            if (!x.missing(i)) {
                double off = x.get(i) - mean[training.target(i)];
                within += training.weight(i) * off * off;
            }
        }
        if (classes < 2 || !(total > classes) || !Moments.of(x, training).varies()) {
            return 0;
        }
        return between / (classes - 1) / (within / (total - classes));
    }

    static double information(Column column, Training training) {
        int[] values = column.match(n -> binned(n, training), EachColumn::codes);
        int most = Arrays.stream(values).max().orElse(-1) + 2;
        double[][] cells = new double[most][training.classes()];
        double[] classes = new double[training.classes()];
        double total = 0;
        for (int i = 0; i < values.length; i++) {
            double w = training.weight(i);
            cells[values[i] + 1][training.target(i)] += w;
            classes[training.target(i)] += w;
            total += w;
        }
        double information = 0;
        int occupied = 0;
        int rows = 0;
        for (double[] row : cells) {
            double sum = Arrays.stream(row).sum();
            rows += sum > 0 ? 1 : 0;
            for (int c = 0; c < row.length; c++) {
                if (row[c] > 0) {
                    information += row[c] / total * StrictMath.log(row[c] * total / (sum * classes[c]));
                    occupied++;
                }
            }
        }
        double seen = Arrays.stream(classes).filter(w -> w > 0).count();
        return information - (occupied - rows - seen + 1) / (2 * total);
    }

    private static int[] binned(Numbers column, Training training) {
        double[] edges = Bins.quantiles(column.toArray(), training.weights(), BINS);
        int[] bins = new int[column.rows()];
        Arrays.setAll(bins, i -> column.missing(i) ? -1 : Bins.bin(column.get(i), edges));
        return bins;
    }
}
