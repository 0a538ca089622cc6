package keenfold.core.classify;

import java.util.Optional;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.SingleClass;

/**
 * What is learned from rows of one class alone: that class, whatever the row.
 *
 * @param classes K, with or without training rows
 * @param only the index of the class
 */
public record OneClass(int classes, int only) implements Model {
    @Override
    public double[] probabilities(Table table) {
        double[] all = new double[table.rows() * classes];
        for (int i = only; i < all.length; i += classes) {
            all[i] = 1;
        }
        return all;
    }

    @Override
    public Optional<LearnedModel> learned() {
        return Optional.of(new SingleClass(classes, only));
    }

    @Override
    public double size() {
        return 1;
    }
}
