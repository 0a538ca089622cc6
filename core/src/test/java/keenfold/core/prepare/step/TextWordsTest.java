package keenfold.core.prepare.step;

import static keenfold.core.prepare.step.StepsTest.numbers;
import static keenfold.core.prepare.step.StepsTest.step;
import static keenfold.core.prepare.step.StepsTest.table;
import static keenfold.core.prepare.step.StepsTest.training;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Collections;
import keenfold.core.data.Categories;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.WordCounts;
import keenfold.core.learned.Words;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;

class TextWordsTest {
    /** Runs of letters, digits and marks: a composed letter, one with its mark behind it, a digit of another script. */
    @Test
    void wordsAreRunsOfLettersAndDigits() {
        assertThat(Words.of("It's -- 3pm, \u00C9T\u00C9/e\u0301t\u00e9; \u0663"))
                .containsExactly("it", "s", "3pm", "\u00e9t\u00e9", "e\u0301t\u00e9", "\u0663");
        assertThat(Words.of(Categories.UNSEEN + "a B")).containsExactly("a", "b");
        assertThat(Words.of(" ?! ")).isEmpty();
    }

    /** rain is in four of five rows, sun in two, frost (twice) and 3 in one. */
    @Test
    void textsBecomeCountsOfTheirWords() {
        Training training = training(
                Categories.of("t", "Frost, frost & rain", "rain", "RAIN; sun", null, "sun-rain 3"),
                Numbers.of("x", 1, 2, 3, 4, 5));
        LearnedStep counts = step("words columns=t").fit(training);
        Table all = counts.apply(training.table());
        assertThat(all.names()).containsExactly("t=rain", "t=sun", "x");
        assertThat(numbers(all.columns().get(0))).containsExactly(1, 1, 1, 0, 1);
        assertThat(numbers(all.columns().get(1))).containsExactly(0, 0, 1, 0, 1);
        Table fewer = step("words columns=t most=1").fit(training).apply(training.table());
        assertThat(fewer.names()).containsExactly("t=rain", "x");
        Table tied = step("words columns=t most=3 rows=1").fit(training).apply(training.table());
        assertThat(tied.names()).containsExactly("t=3", "t=rain", "t=sun", "x");
        Table twice = step("words columns=t rows=1").fit(training).apply(training.table());
        assertThat(numbers(twice.columns().get(1))).containsExactly(2, 0, 0, 0, 0);

        Table weights = step("words columns=t by=tf-idf").fit(training).apply(training.table());
        double rain = Math.log(5 / 4.0);
        double sun = Math.log(5 / 2.0);
        double both = Math.sqrt(rain * rain + sun * sun);
        assertThat(numbers(weights.columns().get(0)))
                .containsExactly(new double[] {1, 1, rain / both, 0, rain / both}, within(1e-15));
        assertThat(numbers(weights.columns().get(1)))
                .containsExactly(new double[] {0, 0, sun / both, 0, sun / both}, within(1e-15));

        // Texts that were not trained on have their words all the same.
        Table others = table(
                Categories.of("t", Categories.UNSEEN + "Sun and sun", Categories.UNSEEN + "snow"),
                Numbers.of("x", 1, 2));
        assertThat(numbers(counts.apply(others).columns().get(1))).containsExactly(2, 0);
        assertThat(LearnedStep.of(counts.state()).apply(others).columns().get(1).missing(0))
                .isFalse();
        assertThat(LearnedStep.of(counts.state())).isEqualTo(counts);
        assertThatThrownBy(() -> step("words")).hasMessageContaining("needs the names of columns");
        assertThatThrownBy(() -> step("words columns=x").fit(training))
                .hasMessageContaining("column \"x\" holds numbers");
    }

    /** Each word is a column: neither a plan nor a model file may ask for more than memory holds. */
    @Test
    void aVocabularyIsBounded() {
        assertThatThrownBy(() -> step("words columns=t most=10001")).hasMessageContaining("from 1 to 10000");
        assertThatThrownBy(() -> new WordCounts(Collections.nCopies(10_001, "w"), Vector.of(new double[10_001]), false))
                .hasMessageContaining("at most 10000 are possible");
    }
}
