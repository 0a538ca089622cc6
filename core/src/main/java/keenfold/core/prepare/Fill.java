package keenfold.core.prepare;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;

/**
 * Puts the training rows' median into missing numbers, and their most frequent level into missing categories.
 *
 * <p>Definition: the weighted median is the value at half of the total weight, the mean of two neighbours where the half
 * falls between them; among equally frequent levels, the first in code point order. A column without any value in the
 * training rows is filled with 0, or with its first level.
 */
final class Fill implements Step {
    @Override
    public String name() {
        return "fill";
    }

    @Override
    public Fitted fit(Table training, double[] weights) {
        List<UnaryOperator<Column>> fills = new ArrayList<>();
        for (Column column : training.columns()) {
            fills.add(column.<UnaryOperator<Column>>match(
                    n -> {
                        double median = WeightedSort.median(n.toArray(), weights);
                        double value = Double.isNaN(median) ? 0 : median;
                        return c -> c.match(x -> fillNumbers(x, value), x -> x);
                    },
                    k -> {
                        int code = mostFrequent(k, weights);
                        return c -> c.match(x -> x, x -> x.fill(code));
                    }));
        }
        return table -> {
            List<Column> columns = new ArrayList<>();
            for (int i = 0; i < fills.size(); i++) {
                Column column = table.columns().get(i);
                columns.add(column.countMissing() == 0 ? column : fills.get(i).apply(column));
            }
            return new Table(table.rows(), columns);
        };
    }

    private static Numbers fillNumbers(Numbers column, double value) {
        double[] filled = column.toArray();
        for (int i = 0; i < filled.length; i++) {
            if (Double.isNaN(filled[i])) {
                filled[i] = value;
            }
        }
        return Numbers.owning(column.name(), filled);
    }

    private static int mostFrequent(Categories column, double[] weights) {
        double[] sums = new double[Math.max(1, column.levels().size())];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                sums[column.code(i)] += weights[i];
            }
        }
        int best = 0;
        for (int code = 1; code < sums.length; code++) {
            if (sums[code] > sums[best]) {
                best = code;
            }
        }
        return column.levels().isEmpty() ? -1 : best;
    }
}
