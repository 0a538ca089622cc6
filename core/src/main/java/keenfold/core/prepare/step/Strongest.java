package keenfold.core.prepare.step;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

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
    private static final Setting NUMBER = Setting.whole("number", 10, 1, Simpler.LOWER, "how many columns are kept");
    private static final Setting BY =
            Setting.word("by", "f", List.of("f", "information"), "the F statistic, or mutual information");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "strongest",
            "keeps the columns that tell the classes apart best, each by itself",
            new About(
                    "the greatest F of an analysis of variance over the classes (numbers only), or the greatest mutual"
                            + " information less its bias (numbers in 10 quantile bins, a gap being a value)",
                    "",
                    "Fisher (1925), Statistical Methods for Research Workers; Miller (1955), Information Theory in"
                            + " Psychology"),
            true,
            List.of(NUMBER, BY),
            s -> new Strongest(s.whole(NUMBER), s.constant(BY, Strongest.By.class)));

    private static final int BINS = 10;

    /** How columns are scored. */
    enum By {
        F,
        INFORMATION
    }

    @Override
    public LearnedStep fit(Training training) {
        List<Column> columns = training.table().columns();
        double[] scores = columns.stream()
                .mapToDouble(c -> by == By.INFORMATION ? information(c, training) : f(c, training))
                .toArray();
        List<Integer> kept = IntStream.range(0, scores.length)
                .boxed()
                .sorted(Comparator.comparingDouble(j -> -scores[j]))
                .limit(number)
                .sorted()
                .toList();
        return new LearnedStep.ColumnChoice(kept);
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
        int[] values = column.match(n -> binned(n, training), Categories::codes);
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
        Arrays.setAll(bins, i -> column.missing(i) ? -1 : ColumnTransform.Binned.interval(column.get(i), edges));
        return bins;
    }
}
