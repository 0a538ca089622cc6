package keenfold.core.prepare;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;

/** Deals training rows to folds by which a classifier or a step settles something inside the training side. */
public final class InnerFolds {
    private InnerFolds() {}

    /**
     * Deals the rows: of each class as many to each fold, or, where rows belong to groups, whole groups.
     *
     * @param folds at least 2
     * @return the fold of each row, from 0
     */
    public static int[] deal(Training training, int folds, RandomSource chance) {
        int[] fold = new int[training.rows()];
        if (training.grouped()) {
            int[] groupOf = training.groups();
            int[] order = IntStream.rangeClosed(0, Arrays.stream(groupOf).max().orElse(0))
                    .toArray();
            chance.shuffle(order);
            int[] foldOf = new int[order.length];
            for (int k = 0; k < order.length; k++) {
                foldOf[order[k]] = k % folds;
            }
            Arrays.setAll(fold, i -> foldOf[groupOf[i]]);
            return fold;
        }
        int dealt = 0;
        for (int c = 0; c < training.classes(); c++) {
            int wanted = c;
            int[] own = IntStream.range(0, fold.length)
                    .filter(i -> training.target(i) == wanted)
                    .toArray();
            chance.shuffle(own);
            for (int i : own) {
                fold[i] = dealt++ % folds;
            }
        }
        return fold;
    }
}
