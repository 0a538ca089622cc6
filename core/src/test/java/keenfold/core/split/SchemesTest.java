package keenfold.core.split;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.Set;
import java.util.function.IntUnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Laws of every scheme, on random tables: with and without groups, order and equal rows. */
class SchemesTest {
    /** Each scheme, whether it can serve rows in groups, and whether rows that stand alone. */
    private static final List<Arguments> SCHEMES = List.of(
            Arguments.of(new KFold(3, 2, true), true, true),
            Arguments.of(new KFold(4, 1, false), true, true),
            Arguments.of(new LeaveOneOut(), false, true),
            Arguments.of(new LeaveGroupOut(), true, false),
            Arguments.of(new MonteCarlo(0.3, 5, true), true, true),
            Arguments.of(new MonteCarlo(0.15, 4, false), true, true),
            Arguments.of(new OutOfBag(6, false), true, true),
            Arguments.of(new RollingOrigin(0.5, 0.1, 0, OptionalDouble.empty()), false, true),
            Arguments.of(new RollingOrigin(0.4, 0.17, 0.1, OptionalDouble.of(0.25)), false, true));

    /** A table of few different values, so that rows are often equal and times often the same. */
    private static DataSet data(long seed, boolean grouped) {
        RandomSource chance = new Seed(seed).with("table").chance();
        int n = 40 + chance.below(60);
        int classes = 2 + chance.below(2);
        int[] target = IntStream.range(0, n)
                .map(i -> i < classes ? i : chance.below(classes))
                .toArray();
        double[] x = IntStream.range(0, n).mapToDouble(i -> chance.below(60)).toArray();
        double[] day = IntStream.range(0, n).mapToDouble(i -> chance.below(50)).toArray();
        String[] group =
                IntStream.range(0, n).mapToObj(i -> "g" + chance.below(9)).toArray(String[]::new);
        List<String> labels = IntStream.range(0, classes).mapToObj(c -> "c" + c).toList();
        return DataSet.of(
                        "d" + seed,
                        new Table(n, List.of(Numbers.of("x", x))),
                        new Classes(labels, 0),
                        target,
                        grouped ? Optional.of(Categories.of("g", group)) : Optional.empty(),
                        IntStream.rangeClosed(1, n).toArray())
                .withOrder(Numbers.of("day", day));
    }

    static Stream<Arguments> cases() {
        List<Arguments> cases = new ArrayList<>();
        for (Arguments scheme : SCHEMES) {
            for (long seed = 1; seed <= 6; seed++) {
                if ((boolean) scheme.get()[1]) {
                    cases.add(Arguments.of(scheme.get()[0], seed, true, false));
                }
                if ((boolean) scheme.get()[2]) {
                    cases.add(Arguments.of(scheme.get()[0], seed, false, false));
                    cases.add(Arguments.of(scheme.get()[0], seed, false, true));
                }
            }
        }
        return cases.stream();
    }

    @ParameterizedTest
    @MethodSource("cases")
    void lawsHold(Scheme scheme, long seed, boolean grouped, boolean bound) {
        DataSet data = data(seed, grouped);
        Splits splits = scheme.divide(data, bound, seed);
        assertThat(scheme.divide(data, bound, seed)).as("the same seed").isEqualTo(splits);
        int[] firstEqual = EqualRows.firsts(data.labelled());
        for (int r = 0; r < splits.repeats(); r++) {
            int[] tested = new int[data.rows()];
            for (int f = 0; f < splits.folds(r); f++) {
                Split split = splits.at(r, f);
                int[] train = split.train().toArray();
                int[] test = split.test().toArray();
                assertThat(train).isNotEmpty().doesNotContain(test);
                assertThat(test).isNotEmpty();
                Arrays.stream(test).forEach(i -> tested[i]++);
                if (grouped) {
                    Categories g = data.groups().orElseThrow();
                    assertThat(values(train, g::code)).doesNotContainAnyElementsOf(values(test, g::code));
                }
                if (bound) {
                    assertThat(values(train, i -> firstEqual[i]))
                            .doesNotContainAnyElementsOf(values(test, i -> firstEqual[i]));
                }
                if (splits.form() != Splits.Form.IN_ORDER) {
                    assertThat(train.length + test.length).isEqualTo(data.rows());
                }
            }
            if (splits.form() == Splits.Form.PARTITIONS) {
                assertThat(tested).containsOnly(1);
            }
        }
        assertThat(Audit.of(data, splits, bound, false).checks()).noneMatch(c -> c.outcome() == Audit.Outcome.FAILED);
    }

    private static Set<Integer> values(int[] rows, IntUnaryOperator of) {
        return Arrays.stream(rows).map(of).boxed().collect(Collectors.toSet());
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10})
    void drawnTestSidesAreWithinOneRowOfTheirShares(long seed) {
        DataSet data = data(seed, false);
        double share = 0.05 + 0.9 * new Seed(seed).chance().uniform();
        Splits splits = new MonteCarlo(share, 6, true).divide(data, seed);
        for (int r = 0; r < 6; r++) {
            Split split = splits.at(r, 0);
            assertThat((double) split.test().size()).isBetween(share * data.rows() - 1, share * data.rows() + 1);
            int[] counts = new int[data.classes().count()];
            Arrays.stream(split.test().toArray()).forEach(i -> counts[data.target(i)]++);
            for (int c = 0; c < counts.length; c++) {
                double ideal = share * data.classCounts()[c];
                assertThat((double) counts[c]).isBetween(ideal - 1, ideal + 1);
            }
        }
        assertThat(splits.at(0, 0).test().toArray())
                .isNotEqualTo(splits.at(1, 0).test().toArray());
    }

    @Test
    void rollingOriginIsWhatItsDefinitionSays() {
        // Days 0 0 1 1 2 2 ... 9 9: each time whole.
        double[] day =
                IntStream.range(0, 20).mapToDouble(i -> Math.floor(i / 2.0)).toArray();
        DataSet data = timed(day);
        Splits all = new RollingOrigin(0.5, 0.2, 0, OptionalDouble.empty()).divide(data, 1);
        assertThat(all.folds(0)).isEqualTo(3);
        assertThat(all.at(0, 0).train().toArray()).containsExactly(rows(0, 10));
        assertThat(all.at(0, 0).test().toArray()).containsExactly(rows(10, 14));
        assertThat(all.at(0, 2).train().toArray()).containsExactly(rows(0, 18));
        assertThat(all.at(0, 2).test().toArray()).containsExactly(rows(18, 20));
        Splits some = new RollingOrigin(0.5, 0.25, 0.1, OptionalDouble.of(0.2)).divide(data, 1);
        assertThat(some.at(0, 0).train().toArray())
                .as("rows 8 and 9 are the gap")
                .containsExactly(rows(4, 8));
        // Three quarters are 15 rows, but row 14 shares its day with row 15 and is tested with it.
        assertThat(some.at(0, 0).test().toArray()).containsExactly(rows(10, 14));
        assertThat(some.at(0, 1).test().toArray()).containsExactly(rows(14, 20));
    }

    private static int[] rows(int from, int to) {
        return IntStream.range(from, to).toArray();
    }

    private static DataSet timed(double[] day) {
        int[] target = IntStream.range(0, day.length).map(i -> i % 2).toArray();
        return DataSet.of(
                        "t",
                        new Table(day.length, List.of(Numbers.of("x", day))),
                        new Classes(List.of("a", "b"), 0),
                        target)
                .withOrder(Numbers.of("day", day));
    }

    @Test
    void outOfBagCountsHowOftenARowWasDrawn() {
        DataSet data = data(3, false);
        Splits splits = OutOfBag.DEFAULT.divide(data, 1);
        double left = 0;
        for (int r = 0; r < 100; r++) {
            assertThat(Arrays.stream(splits.countsOf(r, 0)).sum()).isEqualTo(data.rows());
            left += splits.at(r, 0).test().size() / (100.0 * data.rows());
        }
        // (1 - 1/n)^n is 0.36 to 0.37 here; a hundred draws scatter by about 0.003.
        assertThat(left).isBetween(0.34, 0.39);
        int[] counts = new OutOfBag(3, true).divide(data, 1).countsOf(0, 0);
        for (int c = 0; c < data.classes().count(); c++) {
            int wanted = c;
            assertThat(IntStream.range(0, data.rows())
                            .filter(i -> data.target(i) == wanted)
                            .map(i -> counts[i])
                            .sum())
                    .isEqualTo(data.classCounts()[c]);
        }
    }

    /** Rows of the day on which the last share begins are all held back: none of that day is trained on. */
    @Test
    void aDayIsHeldBackWhole() {
        int rows = 12;
        double[] day = new double[rows];
        java.util.Arrays.setAll(day, i -> i / 4);
        DataSet data = DataSet.of(
                        "d",
                        new keenfold.core.data.Table(
                                rows, java.util.List.of(keenfold.core.data.Numbers.of("x", new double[rows]))),
                        new keenfold.core.data.Classes(java.util.List.of("no", "yes"), 1),
                        IntStream.range(0, rows).map(i -> i % 2).toArray())
                .withOrder(keenfold.core.data.Numbers.of("day", day));
        // A quarter of 12 are 3 rows: the cut falls on the third day, whose four rows are all held back.
        boolean[] held = new Holdout(0.25, true).heldBack(data, false, 9);
        for (int i = 0; i < rows; i++) {
            assertThat(held[i]).as("row " + i).isEqualTo(i >= 8);
        }
    }

    @Test
    void heldBackRowsAreStratifiedWholeOrTheLast() {
        DataSet plain = data(4, false);
        boolean[] held = new Holdout(0.25, false).heldBack(plain, false, 9);
        for (int c = 0; c < plain.classes().count(); c++) {
            int wanted = c;
            double ideal = 0.25 * plain.classCounts()[c];
            assertThat((double) IntStream.range(0, plain.rows())
                            .filter(i -> held[i] && plain.target(i) == wanted)
                            .count())
                    .isBetween(ideal - 1, ideal + 1);
        }
        boolean[] last = new Holdout(0.25, true).heldBack(plain, false, 9);
        double[] day = plain.order().orElseThrow().toArray();
        double latestKept = IntStream.range(0, day.length)
                .filter(i -> !last[i])
                .mapToDouble(i -> day[i])
                .max()
                .orElseThrow();
        assertThat(IntStream.range(0, day.length).filter(i -> last[i])).allMatch(i -> day[i] > latestKept);
        DataSet grouped = data(4, true);
        boolean[] whole = new Holdout(0.25, false).heldBack(grouped, true, 9);
        Categories g = grouped.groups().orElseThrow();
        int[] in = IntStream.range(0, whole.length).filter(i -> whole[i]).toArray();
        int[] out = IntStream.range(0, whole.length).filter(i -> !whole[i]).toArray();
        assertThat(values(in, g::code)).isNotEmpty().doesNotContainAnyElementsOf(values(out, g::code));
        assertThatThrownBy(() -> new Holdout(0.25, true).heldBack(grouped, false, 9))
                .hasMessageContaining("groups have rows among the last and before");
    }

    @Test
    void whatCannotBeDoneSaysTheNearestThatCan() {
        DataSet grouped = data(5, true);
        DataSet plain = data(5, false);
        DataSet noOrder = DataSet.of("n", plain.features(), plain.classes(), plain.targets());
        assertThatThrownBy(() -> new LeaveOneOut().divide(grouped, 1)).hasMessageContaining("use leave-group-out");
        assertThatThrownBy(() -> new LeaveGroupOut().divide(plain, 1))
                .hasMessageContaining("name their column with groups:");
        assertThatThrownBy(() -> new OutOfBag(3, true).divide(grouped, 1)).hasMessageContaining("leave stratified out");
        DataSet everywhere = DataSet.of(
                        "e",
                        plain.features(),
                        plain.classes(),
                        plain.targets(),
                        Optional.of(Categories.of(
                                "g",
                                IntStream.range(0, plain.rows())
                                        .mapToObj(i -> "one")
                                        .toArray(String[]::new))),
                        plain.sourceRows())
                .withOrder(plain.order().orElseThrow());
        assertThatThrownBy(() -> RollingOrigin.DEFAULT.divide(everywhere, 1)).hasMessageContaining("do without groups");
        assertThatThrownBy(() -> RollingOrigin.DEFAULT.divide(timed(new double[10]), 1))
                .hasMessageContaining("rows of one time are never divided");
        assertThatThrownBy(() -> RollingOrigin.DEFAULT.divide(noOrder, 1)).hasMessageContaining("with order:");
        assertThatThrownBy(() -> new Holdout(0.2, true).heldBack(noOrder, false, 1))
                .hasMessageContaining("with order:");
        assertThatThrownBy(() -> new RollingOrigin(0.8, 0.3, 0, OptionalDouble.empty()))
                .hasMessageContaining("step = 0.3");
        assertThatThrownBy(() -> new MonteCarlo(1, 3, true)).hasMessageContaining("share = 1");
    }

    @Test
    void theAuditSeesWhatIsWrong() {
        DataSet data = data(6, true);
        int n = data.rows();
        int[] alternating = IntStream.range(0, n).map(i -> i % 2).toArray();
        Splits torn = Splits.partitions(new int[][] {alternating});
        assertThat(failed(Audit.of(data, torn, true, true)))
                .containsExactlyInAnyOrder(Audit.Question.GROUPS_WHOLE, Audit.Question.COPIES_TOGETHER);
        assertThatThrownBy(() -> Audit.requireWhole(data, torn, false))
                .hasMessageContaining("stands on both sides in repeat 1, fold 1");
        int[] thirds = IntStream.range(0, n).map(i -> i % 3 == 0 ? 0 : 1).toArray();
        int[] halves = IntStream.range(0, n).map(i -> i % 2).toArray();
        Splits unordered = Splits.sides(Splits.Form.IN_ORDER, new int[] {2}, new int[][] {thirds, halves});
        assertThat(failed(Audit.of(data, unordered, false, false)))
                .contains(Audit.Question.IN_ORDER, Audit.Question.GROUPS_WHOLE);
        int[] partly = IntStream.range(0, n).map(i -> i < 3 ? -1 : i % 2).toArray();
        assertThat(Audit.of(data, Splits.partitions(new int[][] {partly}), false, false)
                        .checks())
                .anyMatch(c -> c.question() == Audit.Question.TESTED_ONCE && c.value() == 3);
        assertThatThrownBy(() -> Splits.partitions(new int[][] {new int[n]}))
                .hasMessageContaining("leaves none to train on");
    }

    private static List<Audit.Question> failed(Audit audit) {
        return audit.checks().stream()
                .filter(c -> c.outcome() == Audit.Outcome.FAILED)
                .map(Audit.Check::question)
                .toList();
    }

    @Test
    void splitsInTimeAreAsManyAsLeaveEachEnoughToTest() {
        assertThat(RollingOrigin.suiting(640, 154)).isEqualTo(RollingOrigin.DEFAULT);
        // 2 % of 2,600 rows are 52, with 12 of the 592 rarer ones.
        assertThat(RollingOrigin.suiting(2600, 592).step()).isEqualTo(0.02);
        // 2 % of 300 rows of the rarer class are 6, 5 % are 15.
        assertThat(RollingOrigin.suiting(2600, 300).step()).isEqualTo(0.05);
        assertThat(RollingOrigin.suiting(100_000, 20).step()).isEqualTo(0.1);
    }
}
