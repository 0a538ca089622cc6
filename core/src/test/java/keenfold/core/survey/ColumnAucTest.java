package keenfold.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;

class ColumnAucTest {
    private static final int ROWS = 240;

    private static Categories target(int classes, Seed seed) {
        RandomSource chance = seed.chance();
        String[] labels = new String[ROWS];
        Arrays.setAll(labels, i -> "c" + chance.below(classes));
        return Categories.of("y", labels);
    }

    private static double auc(Categories target, Numbers column) {
        return ColumnAuc.dividing(target).orElseThrow().auc(column);
    }

    @Test
    void whatSaysTheClassHasOneAndWhatSaysNothingHasAHalf() {
        Categories y = target(3, new Seed(4));
        double[] code = new double[ROWS];
        Arrays.setAll(code, y::code);
        assertThat(auc(y, Numbers.of("x", code))).isEqualTo(1);
        assertThat(auc(y, Numbers.of("x", new double[ROWS]))).isEqualTo(0.5);
        // A name for each row: its level is new to the training rows, whose shares it then gets.
        String[] names = IntStream.range(0, ROWS).mapToObj(i -> "r" + i).toArray(String[]::new);
        assertThat(ColumnAuc.dividing(y).orElseThrow().auc(Categories.of("id", names)))
                .isEqualTo(0.5);
    }

    @Test
    void missingValuesAreAPartOfTheirOwn() {
        Categories y = target(2, new Seed(5));
        double[] x = new double[ROWS];
        Arrays.setAll(x, i -> y.code(i) == 1 ? Double.NaN : 7);
        assertThat(auc(y, Numbers.of("x", x))).isEqualTo(1);
    }

    /** By the definition: rows in folds, shares of each part from the other folds, every pair of rows looked at. */
    @Test
    void agreesWithCountingEveryPair() {
        for (int classes = 2; classes <= 4; classes++) {
            Categories y = target(classes, new Seed(60 + classes));
            RandomSource chance = new Seed(7).chance();
            String[] levels = new String[ROWS];
            Arrays.setAll(levels, i -> chance.uniform() < 0.1 ? null : "l" + (y.code(i) + chance.below(4)));
            Categories x = Categories.of("x", levels);
            assertThat(ColumnAuc.dividing(y).orElseThrow().auc(x)).isCloseTo(counted(y, x), within(1e-12));
        }
    }

    private static double counted(Categories y, Categories x) {
        int k = y.levels().size();
        int[] target = IntStream.range(0, ROWS).map(y::code).toArray();
        DataSet data = DataSet.of(
                "t", new Table(ROWS, List.of(Numbers.of("row", new double[ROWS]))), new Classes(y.levels(), 0), target);
        Splits splits = new KFold(10, 10, true).divide(data, 1);
        double[][] right = new double[k][k];
        double[][] pairs = new double[k][k];
        for (int r = 0; r < 10; r++) {
            double[][] probability = new double[ROWS][k];
            for (int i = 0; i < ROWS; i++) {
                int fold = splits.foldOf(r, i);
                double[] own = new double[k];
                double[] all = new double[k];
                for (int j = 0; j < ROWS; j++) {
                    if (splits.foldOf(r, j) != fold) {
                        all[target[j]]++;
                        own[target[j]] += x.code(j) == x.code(i) ? 1 : 0;
                    }
                }
                for (int c = 0; c < k; c++) {
                    double prior = all[c] / Arrays.stream(all).sum();
                    probability[i][c] =
                            (own[c] + 10 * prior) / (Arrays.stream(own).sum() + 10);
                }
            }
            for (int i = 0; i < ROWS; i++) {
                for (int j = 0; j < ROWS; j++) {
                    if (target[i] != target[j] && splits.foldOf(r, i) == splits.foldOf(r, j)) {
                        double difference = probability[i][target[i]] - probability[j][target[i]];
                        right[target[i]][target[j]] += Math.abs(difference) < 1e-12 ? 0.5 : difference > 0 ? 1 : 0;
                        pairs[target[i]][target[j]]++;
                    }
                }
            }
        }
        double sum = 0;
        for (int i = 0; i < k; i++) {
            for (int j = 0; j < k; j++) {
                sum += i == j ? 0 : right[i][j] / pairs[i][j];
            }
        }
        return sum / (k * (k - 1));
    }

    @Test
    void intervalsTakeAboutAsManyRowsAndKeepEqualValuesTogether() {
        Categories y = target(2, new Seed(8));
        RandomSource chance = new Seed(9).chance();
        double[] x = new double[ROWS];
        Arrays.setAll(x, i -> y.code(i) + 0.6 * chance.normal());
        double plain = auc(y, Numbers.of("x", x));
        assertThat(plain).isBetween(0.75, 0.95);
        // Only the order counts, and neither end is far away.
        assertThat(auc(y, Numbers.of("x", Arrays.stream(x).map(StrictMath::exp).toArray())))
                .isEqualTo(plain);
        assertThat(auc(y, Numbers.of("x", Arrays.stream(x).map(v -> -v).toArray())))
                .isCloseTo(plain, within(0.02));
    }

    @Test
    void oneInTwentyRandomColumnsReachesWhatChanceReachesAndFewRowsHaveNone() {
        ColumnAuc auc = ColumnAuc.dividing(target(2, new Seed(10))).orElseThrow();
        double bound = auc.reachedByChance();
        RandomSource chance = new Seed(11).chance();
        int reached = 0;
        for (int t = 0; t < 400; t++) {
            double[] x = new double[ROWS];
            Arrays.setAll(x, i -> chance.normal());
            reached += auc.auc(Numbers.of("x", x)) >= bound ? 1 : 0;
        }
        // 20 of 400 are expected, with an sd of 4.4 and as much again from the estimated bound.
        assertThat(reached).isBetween(4, 45);
        assertThat(ColumnAuc.dividing(Categories.of("y", "a", "b", "a")).isPresent())
                .isFalse();
        assertThat(ColumnAuc.dividing(Categories.of("y", new String[200])).isPresent())
                .isFalse();
    }
}
