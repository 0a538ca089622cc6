package keenfold.core.prepare.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What every step promises. */
class StepLawsTest {
    /** Every step, with settings that give it something to do. */
    static Stream<List<Step>> everyStep() {
        List<String> kinds = StepKinds.all().stream().map(StepKind::name).toList();
        List<String> texts = List.of(
                "fill with=constant mark=yes",
                "standardise",
                "rescale",
                "log",
                "power",
                "one-hot rare=2",
                "ordinal by=count",
                "bins",
                "target-means prior=2 folds=3",
                "date-parts columns=x1",
                "words columns=c rows=1 most=3 by=tf-idf",
                "components keep=0.9",
                "strongest number=3 by=information",
                "drop-constant share=0.9",
                "drop-correlated above=0.2",
                "interactions",
                "leave-out columns=x1",
                "keep-only columns=x1,x2,c");
        assertThat(texts.stream().map(t -> t.split(" ", 2)[0]).toList()).isEqualTo(kinds);
        return texts.stream()
                .map(t -> t.startsWith("components")
                        ? List.of(StepsTest.step("fill"), StepsTest.step(t))
                        : List.of(StepsTest.step(t)));
    }

    private static Training mixed(long seed, boolean weighted) {
        Training random = StepsTest.random(40, 5, seed);
        RandomSource chance = new Seed(seed).with("mixed").chance();
        List<Column> columns = new ArrayList<>();
        for (Column column : random.table().columns()) {
            double[] x = StepsTest.numbers(column);
            x[chance.below(40)] = StepsTest.GAP;
            columns.add(Numbers.of(column.name(), x));
        }
        String[] levels = new String[40];
        Arrays.setAll(levels, i -> i % 9 == 5 ? null : "l" + chance.below(4));
        columns.add(Categories.of("c", levels));
        double[] w = IntStream.range(0, 40)
                .mapToDouble(i -> weighted ? 1 + i % 3 : 1)
                .toArray();
        int[] y = IntStream.range(0, 40).map(i -> i % 3).toArray();
        return Training.of(new Table(40, columns), y, w, 3);
    }

    private static void assertSame(Table a, Table b, double tolerance) {
        assertThat(a.names()).isEqualTo(b.names());
        for (int j = 0; j < a.columns().size(); j++) {
            assertThat(StepsTest.numbers(a.columns().get(j)))
                    .containsExactly(StepsTest.numbers(b.columns().get(j)), within(tolerance));
            assertThat(StepsTest.texts(a.columns().get(j)))
                    .isEqualTo(StepsTest.texts(b.columns().get(j)));
        }
    }

    @ParameterizedTest
    @MethodSource("everyStep")
    void weightTwoIsTheRowTwice(List<Step> steps) {
        Training weighted = mixed(8, true);
        int[] repeated = IntStream.range(0, 40)
                .flatMap(i -> IntStream.generate(() -> i).limit((long) weighted.weight(i)))
                .toArray();
        double[] ones = new double[repeated.length];
        Arrays.fill(ones, 1);
        Training twice = Training.of(
                weighted.table().select(repeated),
                IntStream.of(repeated).map(weighted::target).toArray(),
                ones,
                3);
        Table other = mixed(9, false).table();
        assertSame(
                Preparation.fit(steps, weighted, new Seed(1)).apply(other),
                Preparation.fit(steps, twice, new Seed(1)).apply(other),
                1e-6);
    }

    @ParameterizedTest
    @MethodSource("everyStep")
    void whatIsPreparedNeverFlowsBackAndRowsAreTreatedAlike(List<Step> steps) {
        Training training = mixed(11, false);
        Preparation preparation = Preparation.fit(steps, training, new Seed(1));
        Table before = preparation.training().table();
        Table wild = StepsTest.table(
                Numbers.of("x0", 1e300, StepsTest.GAP),
                Numbers.of("x1", -1e300, 0),
                Numbers.of("x2", 0, StepsTest.GAP),
                Numbers.of("x3", 1e-300, 4),
                Numbers.of("x4", 5, 5),
                ((Categories) training.table().columns().get(5)).select(new int[] {5, 0}));
        Table made = preparation.apply(wild);
        assertThat(made.rows()).isEqualTo(2);
        made.columns()
                .forEach(c -> assertThat(Arrays.stream(StepsTest.numbers(c)).filter(Double::isInfinite))
                        .isEmpty());
        assertSame(preparation.training().table(), before, 0);
        Table asOthers = preparation.apply(training.table());
        if (steps.stream().noneMatch(TargetMeans.class::isInstance)) {
            // Training rows come out the same when they are prepared as other rows; shares of classes must not.
            assertSame(asOthers, before, 0);
        }
        assertSame(preparation.apply(training.table().select(new int[] {3})), asOthers.select(new int[] {3}), 0);
    }
}
