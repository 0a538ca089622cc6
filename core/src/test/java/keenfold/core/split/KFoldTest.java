package keenfold.core.split;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class KFoldTest {
    private static DataSet data(int n, int classes, RandomSource chance, int groups) {
        int[] target = IntStream.range(0, n)
                .map(i -> i < classes ? i : chance.below(classes))
                .toArray();
        String[] group = IntStream.range(0, n)
                .mapToObj(i -> "g" + (i < groups ? i : chance.below(Math.max(1, groups))))
                .toArray(String[]::new);
        List<String> labels = IntStream.range(0, classes).mapToObj(c -> "c" + c).toList();
        return DataSet.of(
                "d",
                new Table(n, List.of(Numbers.of("x", new double[n]))),
                new Classes(labels, 0),
                target,
                groups > 0 ? Optional.of(Categories.of("g", group)) : Optional.empty(),
                IntStream.rangeClosed(1, n).toArray());
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void foldsPartitionTheRowsInEqualSizesAndClassShares(long seed) {
        RandomSource chance = new Seed(seed).chance();
        int k = 2 + chance.below(9);
        DataSet data = data(k + chance.below(150), 2 + chance.below(3), chance, 0);
        Splits splits = new KFold(k, 3, true).divide(data, seed);
        for (int r = 0; r < 3; r++) {
            int[] tested = new int[data.rows()];
            for (int f = 0; f < k; f++) {
                Split split = splits.at(r, f);
                int[] sides = IntStream.concat(
                                Arrays.stream(split.train().toArray()),
                                Arrays.stream(split.test().toArray()))
                        .sorted()
                        .toArray();
                assertThat(sides)
                        .containsExactly(IntStream.range(0, data.rows()).toArray());
                Arrays.stream(split.test().toArray()).forEach(i -> tested[i]++);
                assertThat((double) split.test().size())
                        .isBetween(Math.floor((double) data.rows() / k), Math.ceil((double) data.rows() / k));
                int[] counts = new int[data.classes().count()];
                Arrays.stream(split.test().toArray()).forEach(i -> counts[data.target(i)]++);
                for (int c = 0; c < counts.length; c++) {
                    double ideal = (double) data.classCounts()[c] / k;
                    assertThat((double) counts[c]).isBetween(Math.floor(ideal), Math.ceil(ideal));
                }
            }
            assertThat(tested).containsOnly(1);
        }
    }

    @Test
    void repeatsDifferSeedsDifferAndTheSameSeedGivesTheSame() {
        DataSet data = data(60, 2, new Seed(1).chance(), 0);
        Splits a = new KFold(5, 4, true).divide(data, 9);
        Splits b = new KFold(5, 4, true).divide(data, 9);
        assertThat(a.foldsOf(2)).containsExactly(b.foldsOf(2));
        assertThat(a.distinctPartitions()).isEqualTo(4);
        assertThat(a.foldsOf(0))
                .isNotEqualTo(new KFold(5, 4, true).divide(data, 10).foldsOf(0));
        // More repeats leave the earlier ones as they are.
        assertThat(new KFold(5, 9, true).divide(data, 9).foldsOf(3)).containsExactly(a.foldsOf(3));
    }

    @Test
    void equalPartitionsUnderOtherNumbersAreOne() {
        assertThat(Splits.partitions(new int[][] {{0, 0, 1, 1}, {1, 1, 0, 0}, {0, 1, 0, 1}})
                        .distinctPartitions())
                .isEqualTo(2);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
    void groupsStayWholeAndNearTheBestBalanceThereIs(long seed) {
        RandomSource chance = new Seed(seed).with("groups").chance();
        int groups = 4 + chance.below(5);
        int k = 2 + chance.below(2);
        DataSet data = data(groups + 20 + chance.below(60), 2, chance, groups);
        Splits splits = new KFold(k, 2, true).divide(data, seed);
        int[] foldOfGroup = new int[groups];
        Arrays.fill(foldOfGroup, -1);
        for (int i = 0; i < data.rows(); i++) {
            int g = data.groups().orElseThrow().code(i);
            assertThat(foldOfGroup[g]).isIn(-1, splits.foldOf(0, i));
            foldOfGroup[g] = splits.foldOf(0, i);
        }
        assertThat(worst(data, foldOfGroup, k)).isLessThanOrEqualTo(1.1 * best(data, groups, k) + 1e-9);
    }

    /** The largest deviation of a fold's size or class count from its ideal. */
    private static double worst(DataSet data, int[] foldOfGroup, int k) {
        int classes = data.classes().count();
        double[][] counts = new double[k][classes + 1];
        for (int i = 0; i < data.rows(); i++) {
            int f = foldOfGroup[data.groups().orElseThrow().code(i)];
            counts[f][data.target(i)]++;
            counts[f][classes]++;
        }
        double worst = 0;
        for (int c = 0; c <= classes; c++) {
            double ideal = (c == classes ? data.rows() : data.classCounts()[c]) / (double) k;
            for (int f = 0; f < k; f++) {
                worst = Math.max(worst, Math.abs(counts[f][c] - ideal));
            }
        }
        return worst;
    }

    private static double best(DataSet data, int groups, int k) {
        double best = Double.POSITIVE_INFINITY;
        int all = (int) Math.round(Math.pow(k, groups));
        for (int code = 0; code < all; code++) {
            int[] folds = new int[groups];
            int rest = code;
            for (int g = 0; g < groups; g++) {
                folds[g] = rest % k;
                rest /= k;
            }
            if (Arrays.stream(folds).distinct().count() == k) {
                best = Math.min(best, worst(data, folds, k));
            }
        }
        return best;
    }

    @Test
    void moreFoldsThanThereCanBeAreRefused() {
        DataSet rows = data(4, 2, new Seed(1).chance(), 0);
        assertThatThrownBy(() -> new KFold(5, 1, true).divide(rows, 1))
                .hasMessage("folds = 5: data set \"d\" has only 4 rows; ask for 4 folds or fewer");
        DataSet grouped = data(40, 2, new Seed(1).chance(), 3);
        assertThatThrownBy(() -> new KFold(5, 1, true).divide(grouped, 1)).hasMessageContaining("only 3 groups");
        assertThatThrownBy(() -> new KFold(1, 1, true)).hasMessageContaining("folds = 1");
    }
}
