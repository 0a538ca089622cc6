package keenfold.core.prepare;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import org.junit.jupiter.api.Test;

class StepsTest {
    private static final double GAP = Double.NaN;

    private static double[] ones(int n) {
        double[] ones = new double[n];
        java.util.Arrays.fill(ones, 1);
        return ones;
    }

    private static double[] numbers(Column column) {
        return column.match(Numbers::toArray, c -> new double[0]);
    }

    private static Table table(Column... columns) {
        return new Table(columns[0].rows(), List.of(columns));
    }

    @Test
    void fillPutsTheMedianAndTheMostFrequentLevel() {
        Table training = table(
                Numbers.of("x", 1, GAP, 3, 100),
                Categories.of("c", "b", "a", "b", null),
                Numbers.of("none", GAP, GAP, GAP, GAP));
        Table test = table(
                Numbers.of("x", GAP, 7, GAP, GAP),
                Categories.of("c", null, "a", "b", null),
                Numbers.of("none", GAP, 1, GAP, 2));
        Table filled = Steps.FILL.fit(training, ones(4)).apply(test);
        assertThat(numbers(filled.columns().get(0))).containsExactly(3, 7, 3, 3);
        Categories c = filled.columns().get(1).match(n -> Categories.of(""), k -> k);
        assertThat(c.levels().get(c.code(0))).isEqualTo("b");
        assertThat(c.countMissing()).isZero();
        assertThat(numbers(filled.columns().get(2))).containsExactly(0, 1, 0, 2);
        // Weighted, level a is the more frequent one.
        Table weighted = Steps.FILL.fit(training, new double[] {1, 5, 1, 1}).apply(training);
        int filled3 = weighted.columns().get(1).match(n -> -1, k -> k.code(3));
        assertThat(filled3).isZero();
    }

    @Test
    void oneHotMakesAColumnPerSeenLevelAndOneOfTwo() {
        Categories three = Categories.of("c", "a", "b", "z", "a", "q");
        Table all = table(
                three, Categories.of("two", "u", "v", "u", "u", "v"), Categories.of("one", "k", "k", "k", "k", "k"));
        // q is not seen in training.
        Table training = all.select(new int[] {0, 1, 2, 3});
        Table made = Steps.ONE_HOT.fit(training, ones(4)).apply(all);
        assertThat(made.names()).containsExactly("c=a", "c=b", "c=z", "two=v");
        assertThat(numbers(made.columns().get(0))).containsExactly(1, 0, 0, 1, 0);
        assertThat(numbers(made.columns().get(2))).containsExactly(0, 0, 1, 0, 0);
        assertThat(numbers(made.columns().get(3))).containsExactly(0, 1, 0, 0, 1);
    }

    @Test
    void standardiseUsesTrainingMomentsAndDropsConstants() {
        Table training = table(Numbers.of("x", 1, 2, 3, 6), Numbers.of("same", 4, 4, 4, 4));
        Step.Fitted fitted = Steps.STANDARDISE.fit(training, ones(4));
        // Mean 3, variance (4 + 1 + 0 + 9)/4.
        double sd = Math.sqrt(14.0 / 4);
        Table made = fitted.apply(table(Numbers.of("x", 3, 10), Numbers.of("same", 5, 4)));
        assertThat(made.names()).containsExactly("x");
        assertThat(numbers(made.columns().get(0))).containsExactly(new double[] {0, 7 / sd}, within(1e-15));
    }

    @Test
    void weightTwoIsTheRowTwice() {
        Table once = table(Numbers.of("x", 1, 2, 9), Categories.of("c", "a", "b", "b"));
        Table twice = once.select(new int[] {0, 0, 1, 2});
        Table other = table(Numbers.of("x", 4, GAP, 5), Categories.of("c", "a", "b", null));
        List<Step> steps = List.of(Steps.FILL, Steps.ONE_HOT, Steps.STANDARDISE);
        Table a = Preparation.fit(steps, once, new double[] {2, 1, 1}).apply(other);
        Table b = Preparation.fit(steps, twice, ones(4)).apply(other);
        for (int j = 0; j < a.columns().size(); j++) {
            assertThat(numbers(a.columns().get(j)))
                    .containsExactly(numbers(b.columns().get(j)), within(1e-14));
        }
    }

    @Test
    void whatIsPreparedNeverFlowsBack() {
        Table training = table(Numbers.of("x", 1, 2, GAP, 6), Categories.of("c", "a", "b", "a", null));
        List<Step> steps = Steps.neededBy(Needs.SCALED_NUMBERS);
        Preparation preparation = Preparation.fit(steps, training, ones(4));
        double[] before = numbers(preparation.training().columns().get(0));
        preparation.apply(table(Numbers.of("x", 1e300, -1e300), Categories.of("c", "zzz", "b")));
        assertThat(numbers(preparation.training().columns().get(0))).containsExactly(before);
        assertThat(steps).extracting(Step::name).containsExactly("fill", "one-hot", "standardise");
        assertThat(Steps.neededBy(Needs.NOTHING)).isEmpty();
    }
}
