package keenfold.core.classify.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.classify.bayes.NaiveBayes;
import keenfold.core.classify.discriminant.Discriminant;
import keenfold.core.classify.linear.Logistic;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

/** What folds take from all rows, against fits of the same rows from the beginning. */
class FullDataFitTest {
    private static final int FOLDS = 10;

    /** A classifier, rows for it, and how far its probabilities may be off. */
    private record Case(String name, AcrossFolds classifier, Training all, double tolerance) {
        @Override
        public String toString() {
            return name;
        }
    }

    /** Columns far from 0 and of unlike scales, one of them with gaps, and one of levels. */
    private static Training uneven(int rows) {
        Training plain = Samples.normal(5, rows, 3, 3);
        RandomSource chance = new Seed(6).chance();
        double[][] x = Training.columns(plain.table());
        for (int i = 0; i < rows; i++) {
            x[0][i] = 1e6 + x[0][i];
            x[1][i] = chance.below(6) == 0 ? Double.NaN : 1e-7 * x[1][i];
        }
        String[] levels = new String[rows];
        Arrays.setAll(levels, i -> i == 7 ? "once" : chance.below(9) == 0 ? null : "l" + chance.below(3));
        List<Column> columns = new ArrayList<>(Samples.table(x).columns());
        columns.add(Categories.of("c", levels));
        return Training.of(new Table(rows, columns), plain.targets(), plain.weights(), 3);
    }

    /** The same, but the last class has no value of the first number, nor of the category. */
    private static Training withoutValuesInAClass(int rows) {
        Training all = uneven(rows);
        double[] x = new double[rows];
        String[] level = new String[rows];
        for (int i = 0; i < rows; i++) {
            int row = i;
            boolean last = all.target(i) == 2;
            x[i] = last ? Double.NaN : all.table().columns().get(0).match(n -> n.get(row), c -> Double.NaN);
            level[i] = last ? null : "l" + i % 3;
        }
        Table table = new Table(
                rows, List.of(Numbers.of("x", x), all.table().columns().get(1), Categories.of("c", level)));
        return Training.of(table, all.targets(), all.weights(), 3);
    }

    private static Training scaled(Training training) {
        double[][] x = Training.columns(training.table());
        for (double[] column : x) {
            for (int i = 0; i < column.length; i++) {
                column[i] = 300 + 40 * column[i];
            }
        }
        return Samples.training(x, training.targets(), training.classes());
    }

    static Stream<Case> cases() {
        Training two = Samples.normal(1, 200, 6, 2);
        Training four = Samples.normal(2, 240, 5, 4);
        return Stream.of(
                new Case("bayes", new NaiveBayes(1, false, 1e-3), uneven(150), 1e-9),
                new Case("bayes without values", new NaiveBayes(1, false, 1e-3), withoutValuesInAClass(150), 1e-9),
                new Case("linear", new Discriminant(1, 0), scaled(two), 1e-8),
                new Case("quadratic", new Discriminant(0, 0), scaled(four), 1e-8),
                new Case("between", new Discriminant(0.4, 0.3), four, 1e-8),
                new Case("ridge", new Logistic(1, 0), two, 1e-7),
                new Case("hardly ridge", new Logistic(1e-6, 0), two, 1e-7),
                new Case("multinomial", new Logistic(2, 0), four, 1e-7),
                new Case("lasso", new Logistic(3, 1), two, 1e-7),
                new Case("elastic net of classes", new Logistic(3, 0.5), four, 1e-7));
    }

    private static int[] fold(int f, int rows) {
        return IntStream.range(0, rows).filter(i -> i % FOLDS == f).toArray();
    }

    private static Training rest(Training all, int[] held) {
        return all.without(held);
    }

    private static Optional<Model> shortened(FullDataFit whole, Training all, int[] held) {
        Optional<Model> less = whole.without(held);
        return less.isPresent() ? less : whole.near(rest(all, held));
    }

    @ParameterizedTest
    @MethodSource("cases")
    void everyFoldIsFittedAsFromTheBeginning(Case one) {
        FullDataFit whole = one.classifier.whole(one.all).orElseThrow();
        for (int f = 0; f < FOLDS; f++) {
            int[] held = fold(f, one.all.rows());
            Table tested = one.all.table().select(held);
            Model model = shortened(whole, one.all, held).orElseThrow();
            Model plain = one.classifier.fit(rest(one.all, held), Samples.chance());
            double[] expected = plain.probabilities(tested);
            double[] found = model.probabilities(tested);
            for (int i = 0; i < expected.length; i++) {
                assertThat(found[i]).isCloseTo(expected[i], within(one.tolerance));
            }
            assertThat(model.size()).isCloseTo(plain.size(), within(1e-6 * plain.size()));
        }
    }

    @ParameterizedTest
    @CsvSource({"1e300", "1e150", "1e7", "-1e20"})
    void aDifferenceThatWouldLoseItsDigitsIsNotTaken(double value) {
        for (AcrossFolds classifier : List.of(new NaiveBayes(1, false, 1e-3), new Discriminant(1, 0))) {
            Training sane = Samples.normal(3, 120, 4, 2);
            double[][] x = Training.columns(sane.table());
            x[2][30] = value;
            Training all = Samples.training(x, sane.targets(), 2);
            FullDataFit whole = classifier.whole(all).orElseThrow();
            // Row 30 is held out with fold 0, whose model must not know of it.
            assertThat(whole.without(fold(0, 120))).isEmpty();
            // Where it is trained on, the model is the plain one, or it is fitted plainly.
            int[] other = fold(1, 120);
            Table tested = all.table().select(other);
            whole.without(other).ifPresent(m -> {
                double[] plain =
                        classifier.fit(rest(all, other), Samples.chance()).probabilities(tested);
                double[] found = m.probabilities(tested);
                for (int i = 0; i < plain.length; i++) {
                    assertThat(found[i]).isCloseTo(plain[i], within(1e-8));
                }
            });
        }
    }

    @Test
    void nearlyDependentColumnsAreFittedFromTheirRows() {
        Training plain = Samples.normal(4, 100, 3, 2);
        double[][] x = Training.columns(plain.table());
        for (int i = 0; i < 100; i++) {
            x[2][i] = x[0][i] + 1e-4 * x[2][i];
        }
        Training all = Samples.training(x, plain.targets(), 2);
        assertThat(new Discriminant(1, 0).whole(all).orElseThrow().without(fold(0, 100)))
                .isEmpty();
    }

    @Test
    void aClassOrAColumnThatAFoldLacksLeadsToThePlainFit() {
        // The one row of class 2 is held out, so that the fold has two classes where all rows have three.
        Training all = Samples.training(
                new double[][] {{1, 2, 3, 4, 5, 6, 7}, {2, 1, 2, 1, 3, 1, 2}}, new int[] {2, 0, 1, 0, 1, 0, 1}, 3);
        int[] held = {0};
        for (AcrossFolds classifier :
                List.of(new Logistic(1, 0), new Discriminant(1, 0), new NaiveBayes(1, false, 1e-3))) {
            FullDataFit whole = classifier.whole(all).orElseThrow();
            assertThat(shortened(whole, all, held)).isEmpty();
        }
        // A column that all rows have and the fold has not is skipped; one that only the fold has begins at 0.
        Training four = Samples.normal(8, 80, 4, 2);
        List<Column> columns = four.table().columns();
        Training fewer = four.with(new Table(80, columns.subList(0, 3)));
        Training more = four.with(new Table(
                80,
                Stream.concat(columns.stream(), Stream.of(Numbers.of("new", odd(80))))
                        .toList()));
        FullDataFit whole = new Logistic(1, 0).whole(four).orElseThrow();
        for (Training fold : List.of(fewer, more)) {
            double[] expected = new Logistic(1, 0).fit(fold, Samples.chance()).probabilities(fold.table());
            double[] found = whole.near(fold).orElseThrow().probabilities(fold.table());
            for (int i = 0; i < expected.length; i++) {
                assertThat(found[i]).isCloseTo(expected[i], within(1e-9));
            }
        }
    }

    private static double[] odd(int rows) {
        double[] values = new double[rows];
        Arrays.setAll(values, i -> i % 2);
        return values;
    }

    @Test
    void farAwayStartsEndAtTheSameSolution() {
        // All rows but those of the fold say the opposite of it, so that the curvature of all is of no use.
        Training fold = Samples.normal(9, 60, 3, 2);
        double[][] x = Training.columns(fold.table());
        double[][] far = Arrays.stream(x).map(double[]::clone).toArray(double[][]::new);
        for (int i = 0; i < 60; i++) {
            far[0][i] = -9 * far[0][i];
        }
        Training misleading = Samples.training(far, fold.targets(), 2);
        FullDataFit whole = new Logistic(0.01, 0).whole(misleading).orElseThrow();
        double[] expected = new Logistic(0.01, 0).fit(fold, Samples.chance()).probabilities(fold.table());
        double[] found = whole.near(fold).orElseThrow().probabilities(fold.table());
        for (int i = 0; i < expected.length; i++) {
            assertThat(found[i]).isCloseTo(expected[i], within(1e-7));
        }
    }

    /** One huge value among the rows held out: nearly all of the curvature of all rows lies in its column. */
    @ParameterizedTest
    @CsvSource({"1e5", "1e9", "-1e12"})
    void aHugeValueHeldOutHidesNoDirection(double value) {
        Training sane = Samples.normal(12, 200, 4, 2);
        double[][] x = Training.columns(sane.table());
        x[0][10] = value;
        x[2][20] = -value;
        Training all = Samples.training(x, sane.targets(), 2);
        int[] held = fold(0, 200);
        Training fold = rest(all, held);
        double[] expected = new Logistic(1, 0).fit(fold, Samples.chance()).probabilities(fold.table());
        FullDataFit whole = new Logistic(1, 0).whole(all).orElseThrow();
        whole.near(fold).ifPresent(m -> {
            double[] found = m.probabilities(fold.table());
            for (int i = 0; i < expected.length; i++) {
                assertThat(found[i]).isCloseTo(expected[i], within(1e-7));
            }
        });
    }

    @Test
    void aConstantColumnAddsNothingToADiscriminant() {
        Training plain = Samples.normal(13, 90, 2, 3);
        double[][] x = Training.columns(plain.table());
        double[] tenth = new double[90];
        Arrays.fill(tenth, 0.1);
        Training more = Samples.training(new double[][] {x[0], tenth, x[1]}, plain.targets(), 3);
        for (Discriminant one : List.of(new Discriminant(1, 0), new Discriminant(0.5, 0))) {
            double[] expected = one.fit(plain, Samples.chance()).probabilities(plain.table());
            assertThat(one.fit(more, Samples.chance()).probabilities(more.table()))
                    .containsExactly(expected);
        }
    }

    @Test
    void aConstantColumnTellsNoClassesApartByRounding() {
        double[] tenth = new double[7];
        Arrays.fill(tenth, 0.1);
        Training all = Samples.training(new double[][] {tenth}, new int[] {0, 0, 0, 0, 1, 1, 1}, 2);
        assertThat(new NaiveBayes(1, false, 1e-3).fit(all, Samples.chance()).probabilities(all.table())[0])
                .isCloseTo(4.0 / 7, within(1e-15));
    }
}
