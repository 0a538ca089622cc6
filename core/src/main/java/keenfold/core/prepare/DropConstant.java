package keenfold.core.prepare;

import java.util.HashMap;
import java.util.Map;
import keenfold.core.data.Column;

/**
 * Takes away columns that hardly vary in the training rows: those of which one value has at least {@code share} of the
 * weight of all values. Missing values do not count; a column without any value goes.
 *
 * @param share above 0, at most 1; 1 takes away constant columns alone
 */
record DropConstant(double share) implements Step {
    @Override
    public Fitted fit(Training training) {
        return EachColumn.fit(
                training, new Some(java.util.List.of()), n -> change(n, training), k -> change(k, training));
    }

    private Change change(Column column, Training training) {
        Map<Object, Double> weights = new HashMap<>();
        double total = 0;
        double most = 0;
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                int row = i;
                // 0.0 turns −0 into 0, which is the same number.
                Object value = column.match(n -> n.get(row) + 0.0, k -> k.code(row));
                most = Math.max(most, weights.merge(value, training.weight(i), Double::sum));
                total += training.weight(i);
            }
        }
        return weights.size() < 2 || (share < 1 && most >= share * total) ? Change.DROP : Change.KEEP;
    }
}
