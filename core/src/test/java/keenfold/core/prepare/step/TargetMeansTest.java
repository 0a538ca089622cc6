package keenfold.core.prepare.step;

import static keenfold.core.prepare.step.StepsTest.numbers;
import static keenfold.core.prepare.step.StepsTest.step;
import static keenfold.core.prepare.step.StepsTest.table;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.InnerFolds;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;

class TargetMeansTest {
    /** Level a: 2 of 3 rows of class q, b: 0 of 2, gaps: 1 of 1; 3 of 6 in all, which count for 2 rows. */
    @Test
    void categoriesBecomeSharesOfTheClassesAmongTheirRows() {
        Table rows = table(Categories.of("c", "a", "a", "a", "b", "b", null), Numbers.of("x", 1, 2, 3, 4, 5, 6));
        Training training = Training.of(rows, new int[] {1, 1, 0, 0, 0, 1}, new double[] {1, 1, 1, 1, 1, 1}, 2);
        Step means = step("target-means prior=2 folds=2");
        LearnedStep learned = means.fit(training);
        Table others = table(Categories.of("c", "a", "b", null, "z"), Numbers.of("x", 7, 8, 9, 10));
        Table made = learned.apply(others);
        assertThat(made.names()).containsExactly("c", "x");
        assertThat(numbers(made.columns().get(0)))
                .containsExactly(new double[] {(2 + 1) / 5.0, (0 + 1) / 4.0, (1 + 1) / 3.0, 0.5}, within(1e-15));
        assertThat(LearnedStep.of(learned.state())).isEqualTo(learned);

        Training three = Training.of(rows, new int[] {1, 1, 0, 2, 0, 1}, new double[] {1, 1, 1, 1, 1, 1}, 3);
        Table two = means.fit(three).apply(others);
        assertThat(two.names()).containsExactly("c: 2", "c: 3", "x");
        assertThat(numbers(two.columns().get(1))[1]).isEqualTo((1 + 2 / 6.0) / 4, within(1e-15));
    }

    /** Each training row has the shares of other rows, so that its own class is not in its columns. */
    @Test
    void aTrainingRowDoesNotSeeItsOwnClassInSharesOfItsLevel() {
        int n = 60;
        RandomSource chance = new Seed(4).chance();
        String[] levels = new String[n];
        int[] y = new int[n];
        int[] groups = new int[n];
        double[] ones = new double[n];
        for (int i = 0; i < n; i++) {
            levels[i] = i % 8 == 3 ? null : "l" + chance.below(20);
            y[i] = chance.below(2);
            // Folds of groups do not go by classes, so that another class of a row leaves them as they are.
            groups[i] = i;
            ones[i] = 1;
        }
        Table rows = table(Categories.of("c", levels));
        Step means = step("target-means folds=4 prior=1");
        double[] before = shares(means, Training.of(rows, y, ones, 2).inGroups(groups));
        int changed = 0;
        for (int i = 0; i < n; i++) {
            int[] other = y.clone();
            other[i] = 1 - y[i];
            double[] after = shares(means, Training.of(rows, other, ones, 2).inGroups(groups));
            assertThat(after[i]).isEqualTo(before[i]);
            changed += Arrays.equals(after, before) ? 0 : 1;
        }
        assertThat(changed).isEqualTo(n);
        // By hand: the folds that are dealt, each with what the others have.
        Training training = Training.of(rows, y, ones, 2);
        int[] fold =
                InnerFolds.deal(training, 4, new Seed(0).with("target-means").chance());
        double[] dealt = shares(means, training);
        for (int i = 0; i < n; i++) {
            double level = 0;
            double ofLevel = 0;
            double all = 0;
            double ofAll = 0;
            for (int j = 0; j < n; j++) {
                if (fold[j] != fold[i]) {
                    all++;
                    ofAll += y[j];
                    boolean same = java.util.Objects.equals(levels[i], levels[j]);
                    level += same ? 1 : 0;
                    ofLevel += same ? y[j] : 0;
                }
            }
            assertThat(dealt[i]).isEqualTo((ofLevel + ofAll / all) / (level + 1), within(1e-14));
        }
        assertThatThrownBy(() -> shares(means, Training.of(rows, y, ones, 2).inGroups(new int[n])))
                .hasMessageContaining("all of one group");
    }

    private static double[] shares(Step step, Training training) {
        return numbers(Preparation.fit(List.of(step), training, new Seed(0))
                .training()
                .table()
                .columns()
                .get(0));
    }
}
