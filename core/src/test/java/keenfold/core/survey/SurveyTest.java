package keenfold.core.survey;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongFunction;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Decimals;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Numbers;
import keenfold.core.data.RadixSort;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.survey.Suspicion.Kind;
import org.junit.jupiter.api.Test;

class SurveyTest {
    @Test
    void profileOfNumbersByHand() {
        ColumnProfile p = ColumnProfile.of(Numbers.of("x", 4, Double.NaN, 1, 2, 2, 11));
        assertThat(p.missing()).isEqualTo(1);
        assertThat(p.distinct()).isEqualTo(4);
        ColumnProfile.Spread s = p.numbers().orElseThrow();
        assertThat(s.mean()).isEqualTo(4);
        // Squares about the mean: 0 + 9 + 4 + 4 + 49, divisor 4.
        assertThat(s.sd()).isCloseTo(Math.sqrt(66 / 4.0), within(1e-14));
        assertThat(List.of(s.min(), s.lowerQuartile(), s.median(), s.upperQuartile(), s.max()))
                .containsExactly(1.0, 2.0, 2.0, 4.0, 11.0);
        assertThat(s.histogram()).containsExactly(1, 2, 0, 1, 0, 0, 0, 0, 0, 1);
        assertThat(ColumnProfile.of(Numbers.of("e", Double.NaN)).numbers()).isEmpty();
    }

    @Test
    void quartilesInterpolateAndBinsBearTheWidestRange() {
        ColumnProfile.Spread s =
                ColumnProfile.of(Numbers.of("x", 1, 2, 3, 4)).numbers().orElseThrow();
        assertThat(s.lowerQuartile()).isEqualTo(1.75);
        assertThat(s.upperQuartile()).isEqualTo(3.25);
        assertThat(ColumnProfile.bin(Double.MAX_VALUE, -Double.MAX_VALUE, Double.MAX_VALUE))
                .isEqualTo(9);
        assertThat(ColumnProfile.bin(0, -Double.MAX_VALUE, Double.MAX_VALUE)).isEqualTo(5);
        assertThat(ColumnProfile.bin(3, 3, 3)).isZero();
    }

    @Test
    void levelsStandByFallingCount() {
        ColumnProfile p = ColumnProfile.of(Categories.of("c", "b", "a", "b", null, "c", "c", "b"));
        assertThat(p.levels())
                .containsExactly(
                        new ColumnProfile.Level("b", 3),
                        new ColumnProfile.Level("c", 2),
                        new ColumnProfile.Level("a", 1));
    }

    @Test
    void classesAreCountedByLevelAndByBin() {
        Categories y = Categories.of("y", "p", "q", "p", null, "q");
        Breakdown byLevel = Breakdown.of(y, Categories.of("c", "u", "u", "v", "v", null), Optional.empty());
        assertThat(byLevel.parts())
                .containsExactly(
                        new Breakdown.Part("u", List.of(1, 1)),
                        new Breakdown.Part("v", List.of(1, 0)),
                        new Breakdown.Part("(missing)", List.of(0, 1)));
        Breakdown byBin = Breakdown.of(y, Numbers.of("x", 0, 10, 4.5, 7, Double.NaN), Optional.empty());
        assertThat(byBin.parts()).hasSize(11);
        assertThat(byBin.parts().get(0)).isEqualTo(new Breakdown.Part("0 to 1", List.of(1, 0)));
        assertThat(byBin.parts().get(4).counts()).containsExactly(1, 0);
        assertThat(byBin.parts().get(9).counts()).containsExactly(0, 1);
        assertThat(byBin.parts().get(10).label()).isEqualTo("(missing)");
    }

    private static List<ColumnProfile> profiles(Table table) {
        return table.columns().stream().map(ColumnProfile::of).toList();
    }

    private static String[] texts(int n, java.util.function.IntFunction<String> of) {
        return IntStream.range(0, n).mapToObj(of).toArray(String[]::new);
    }

    private static double[] numbers(int n, java.util.function.IntToDoubleFunction of) {
        return IntStream.range(0, n).mapToDouble(of).toArray();
    }

    @Test
    void eachOddColumnIsFoundAndPlainOnesAreNot() {
        int n = 120;
        RandomSource chance = new Seed(2).chance();
        Categories y = Categories.of("y", texts(n, i -> i % 3 == 0 ? "lost" : "kept"));
        Table table = new Table(
                n,
                List.of(
                        y,
                        Categories.of("same", texts(n, i -> "k")),
                        Categories.of("name", texts(n, i -> "id" + i)),
                        Numbers.of("number", numbers(n, i -> 100 + i)),
                        Categories.of("site", texts(n, i -> "s" + i % 30)),
                        Numbers.of("day", numbers(n, i -> 20000 + i % 9)),
                        Numbers.of("clock", numbers(n, i -> Math.floor(i / 2.0))),
                        Categories.of("fate", texts(n, i -> i % 3 == 0 ? "dead" : i % 2 == 0 ? "well" : "strong")),
                        Numbers.of("score", numbers(n, i -> chance.uniform() + (i % 3 == 0 ? 0.99 : 0))),
                        Numbers.of("noise", numbers(n, i -> chance.normal())),
                        Categories.of("plain", texts(n, i -> "l" + chance.below(4)))));
        List<Suspicion> found = Suspicion.in(table, profiles(table), List.of("day"), Optional.of(y));
        assertThat(found)
                .contains(
                        new Suspicion(Kind.CONSTANT, "same", n),
                        new Suspicion(Kind.UNIQUE, "name", n),
                        new Suspicion(Kind.UNIQUE, "number", n),
                        new Suspicion(Kind.GROUP_LIKE, "site", 30),
                        new Suspicion(Kind.TIME_LIKE, "day", n),
                        new Suspicion(Kind.TIME_LIKE, "clock", n),
                        new Suspicion(Kind.TELLS_CLASS, "fate", 100, 67))
                .anyMatch(s -> s.kind() == Kind.TELLS_CLASS && s.column().equals("score"))
                .noneMatch(s -> List.of("noise", "plain", "y").contains(s.column()));
    }

    private static final LongFunction<String> DAYS =
            d -> LocalDate.ofEpochDay(d).toString();

    @Test
    void datesAreBrokenDownByDays() {
        // 2026-03-01 is day 20513; eleven days in ten bins, and three days, of which most bins hold none.
        Categories y = Categories.of("y", texts(12, i -> i % 2 == 0 ? "a" : "b"));
        Breakdown wide = Breakdown.of(y, Numbers.of("day", numbers(12, i -> 20513 + i)), Optional.of(DAYS));
        assertThat(wide.parts().get(0).label()).isEqualTo("2026-03-01 to 2026-03-02");
        assertThat(wide.parts().get(9).label()).isEqualTo("2026-03-11 to 2026-03-12");
        assertThat(wide.parts().stream().mapToInt(Breakdown.Part::total).sum()).isEqualTo(12);
        Breakdown narrow = Breakdown.of(y, Numbers.of("day", numbers(12, i -> 20513 + i % 3)), Optional.of(DAYS));
        assertThat(narrow.parts())
                .extracting(Breakdown.Part::label)
                .containsExactly("2026-03-01", "2026-03-02", "2026-03-03");
        assertThat(narrow.parts()).allMatch(p -> p.total() == 4);
    }

    private static List<Suspicion> suspicions(Categories y, Column... columns) {
        return Suspicion.ofColumns(new Table(y.rows(), List.of(columns)), Set.of(), y);
    }

    /** Nineteen classes: a column that sets one of them apart gives the class of few rows, and is no leak. */
    @Test
    void aColumnThatSetsOneOfManyClassesApartIsNoLeak() {
        RandomSource chance = new Seed(5).chance();
        Categories y = Categories.of("y", texts(570, i -> "k" + i % 19));
        Numbers mild = Numbers.of("mild", numbers(570, i -> (i % 19 == 3 ? 50 : 0) + chance.uniform()));
        Numbers noise = Numbers.of("noise", numbers(570, i -> chance.uniform()));
        assertThat(suspicions(y, mild, noise)).isEmpty();
        // The class itself, as a number in no order of its labels, is one.
        Numbers code = Numbers.of("code", numbers(570, i -> i % 19 * 7 % 19 + 0.01 * chance.uniform()));
        assertThat(suspicions(y, mild, noise, code)).containsExactly(new Suspicion(Kind.TELLS_CLASS, "code", 100, 5));
    }

    /** Every column of an easy table gives the class: none stands out. That a value is missing can give it, too. */
    @Test
    void ofAnEasyTableNoColumnIsALeak() {
        RandomSource chance = new Seed(6).chance();
        Categories y = Categories.of("y", texts(150, i -> "k" + i % 3));
        Column[] easy = IntStream.range(0, 4)
                .mapToObj(j -> Numbers.of("c" + j, numbers(150, i -> 6 * (i % 3) + chance.uniform())))
                .toArray(Column[]::new);
        assertThat(suspicions(y, easy)).isEmpty();
        Categories lost = Categories.of("y", texts(150, i -> i % 3 == 0 ? "lost" : "kept"));
        Numbers diedOn = Numbers.of("died_on", numbers(150, i -> i % 3 == 0 ? chance.uniform() : Double.NaN));
        Numbers weight = Numbers.of("weight", numbers(150, i -> chance.normal()));
        assertThat(suspicions(lost, diedOn, weight))
                .containsExactly(new Suspicion(Kind.TELLS_CLASS, "died_on", 100, 67));
    }

    @Test
    void numbersThatNameGroupsAreToldFromAgesAndCounts() {
        RandomSource chance = new Seed(7).chance();
        Categories y = Categories.of("y", texts(990, i -> "k" + chance.below(3)));
        Numbers speaker = Numbers.of("speaker", numbers(990, i -> i * 7 % 15));
        Numbers blocks = Numbers.of("visit", numbers(990, i -> (i < 500 ? i / 9 : 40 + i / 30) * 31 % 97));
        Numbers age = Numbers.of("age", numbers(990, i -> 20 + Math.floor(40 * chance.uniform() * chance.uniform())));
        Numbers eggs = Numbers.of("eggs", numbers(990, i -> Math.floor(12 + 4 * chance.normal())));
        Numbers half = Numbers.of("half", numbers(990, i -> i % 20 / 2.0));
        assertThat(suspicions(y, speaker, blocks, age, eggs, half))
                .allMatch(s -> s.kind() == Kind.GROUP_LIKE)
                .extracting(Suspicion::column)
                .containsExactly("speaker", "visit");
    }

    @Test
    void countsAsClassesAreSeenAndCodesAreNot() {
        RandomSource chance = new Seed(8).chance();
        Categories rings = Categories.of("rings", texts(400, i -> "" + Math.round(12 + 3 * chance.normal())));
        assertThat(Suspicion.ofTarget(rings)).isPresent();
        assertThat(Suspicion.ofTarget(Categories.of("digit", texts(400, i -> "" + i % 10))))
                .isEmpty();
        assertThat(Suspicion.ofTarget(Categories.of("letter", texts(520, i -> "" + i % 26))))
                .isEmpty();
    }

    @Test
    void aNumberTargetAndCopiesOfRowsAreFound() {
        double[] x = numbers(60, i -> i % 30 * 1.5);
        Table table = new Table(60, List.of(Numbers.of("y", x)));
        String[] labels = Arrays.stream(x).mapToObj(Decimals::exact).toArray(String[]::new);
        assertThat(Suspicion.in(table, profiles(table), List.of(), Optional.of(Categories.of("y", labels))))
                .containsExactlyInAnyOrder(
                        new Suspicion(Kind.NUMBER_TARGET, "y", 30), new Suspicion(Kind.DUPLICATES, "", 30));
        assertThat(EqualRows.copies(new Table(3, List.of(Numbers.of("x", 0.0, -0.0, 1)))))
                .isEqualTo(1);
    }

    @Test
    void manyNumbersAreSortedAsFewAre() {
        RandomSource chance = new Seed(8).chance();
        double[] values = new double[20_000];
        for (int i = 0; i < values.length; i++) {
            values[i] = chance.below(3) == 0
                    ? chance.below(50) - 25
                    : chance.normal() * Math.pow(10, chance.below(600) - 300);
        }
        values[7] = Double.MAX_VALUE;
        values[8] = -Double.MIN_VALUE;
        double[] expected = values.clone();
        java.util.Arrays.sort(expected);
        RadixSort.sort(values);
        assertThat(values).containsExactly(expected);
    }

    @Test
    void equalNumbersHaveThatMeanAndNoSpread() {
        double[] tenths = new double[10];
        java.util.Arrays.fill(tenths, 0.1);
        ColumnProfile.Spread same =
                ColumnProfile.of(Numbers.of("x", tenths)).numbers().orElseThrow();
        assertThat(same.mean()).isEqualTo(0.1);
        assertThat(same.sd()).isZero();
        ColumnProfile.Spread wide = ColumnProfile.of(Numbers.of("x", -1e308, -1e308, 1e308, 1e308))
                .numbers()
                .orElseThrow();
        assertThat(wide.mean()).isZero();
        ColumnProfile.Spread four =
                ColumnProfile.of(Numbers.of("x", 4, 1, 3, 2)).numbers().orElseThrow();
        assertThat(four.mean()).isEqualTo(2.5);
    }
}
