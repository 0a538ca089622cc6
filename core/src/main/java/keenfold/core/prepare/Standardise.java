package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;

/**
 * Shifts and scales each number column to mean 0 and standard deviation 1 over the training rows.
 *
 * <p>Definition: (x − m)/s with m the weighted mean and s² = Σw(x − m)²/Σw over the values that are not missing. A
 * column that is constant in the training rows is dropped: it tells nothing, and a test value off it would be measured on
 * no scale.
 */
final class Standardise implements Step {
    @Override
    public String name() {
        return "standardise";
    }

    @Override
    public Fitted fit(Table training, double[] weights) {
        List<Scale> scales = new ArrayList<>();
        for (Column column : training.columns()) {
            scales.add(column.match(n -> Scale.of(n, weights), c -> Scale.NONE));
        }
        return table -> {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < scales.size(); i++) {
                Scale scale = scales.get(i);
                Column column = table.columns().get(i);
                column.match(
                        n -> scale.sd > 0 && columns.add(scale.apply(n)), //
                        columns::add);
            }
            return new Table(table.rows(), columns);
        };
    }

    private record Scale(double mean, double sd) {
        static final Scale NONE = new Scale(0, 0);

        static Scale of(Numbers column, double[] weights) {
            double total = 0;
            double sum = 0;
            double low = Double.POSITIVE_INFINITY;
            double high = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < column.rows(); i++) {
                double x = column.get(i);
                if (!Double.isNaN(x)) {
                    total += weights[i];
                    sum += weights[i] * x;
                    low = Math.min(low, x);
                    high = Math.max(high, x);
                }
            }
            // Judged by the values, not by a sum of squares, which rounding can lift above 0.
            if (!(high > low)) {
                return NONE;
            }
            double mean = sum / total;
            double squares = 0;
            for (int i = 0; i < column.rows(); i++) {
                double x = column.get(i);
                if (!Double.isNaN(x)) {
                    squares += weights[i] * (x - mean) * (x - mean);
                }
            }
            return new Scale(mean, Math.sqrt(squares / total));
        }

        Numbers apply(Numbers column) {
            double[] values = column.toArray();
            for (int i = 0; i < values.length; i++) {
                values[i] = (values[i] - mean) / sd;
            }
            return Numbers.owning(column.name(), values);
        }
    }
}
