package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Training;

/** Draws the training rows that early stopping watches and does not train on. */
public final class WatchedRows {
    /** Which rows patience watches: a setting of every kind that stops early. */
    public static final Setting WATCHED = Setting.number(
                    "watched",
                    "0.2",
                    Bounds.above(0).to(0.9),
                    Simpler.NEITHER,
                    "share of the training rows that patience watches, and that is not trained on")
            .unless("patience", "never");

    private WatchedRows() {}

    /**
     * Draws about a share of the rows: of each class as many, or, where rows belong to groups, whole groups. A row that
     * counts twice goes whole. Never all rows of a class; none at all where there are too few.
     */
    public static int[] draw(Training training, double share, RandomSource chance) {
        List<Integer> watched = new ArrayList<>();
        if (training.grouped()) {
            int[] groupOf = training.groups();
            int groups = 1 + Arrays.stream(groupOf).max().orElse(0);
            int[] order = IntStream.range(0, groups).toArray();
            chance.shuffle(order);
            boolean[] taken = new boolean[groups];
            for (int g = 0; g < Math.rint(share * groups); g++) {
                taken[order[g]] = true;
            }
            for (int i = 0; i < training.rows(); i++) {
                if (taken[groupOf[i]]) {
                    watched.add(i);
                }
            }
        } else {
            for (int c = 0; c < training.classes(); c++) {
                int wanted = c;
                int[] own = IntStream.range(0, training.rows())
                        .filter(i -> training.target(i) == wanted)
                        .toArray();
                chance.shuffle(own);
                Arrays.stream(own)
                        .limit((long) Math.max(0, Math.min(Math.rint(share * own.length), own.length - 1)))
                        .forEach(watched::add);
            }
        }
        int[] rows = watched.stream().mapToInt(Integer::intValue).sorted().toArray();
        return leavesEveryClass(training, rows) ? rows : new int[0];
    }

    private static boolean leavesEveryClass(Training training, int[] rows) {
        double[] left = training.classWeights();
        double[] all = left.clone();
        for (int i : rows) {
            left[training.target(i)] -= training.weight(i);
        }
        return IntStream.range(0, left.length).allMatch(c -> !(all[c] > 0) || left[c] > 0);
    }
}
