package keenfold.core.survey;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.survey.Suspicion.Kind;
import org.junit.jupiter.api.Test;

class SuspicionTest {
    private static final int ROWS = 40;

    private static List<Suspicion> in(Kind kind, Optional<Categories> target, Column... columns) {
        Table table = new Table(columns[0].rows(), List.of(columns));
        return Suspicion.in(
                        table, table.columns().stream().map(ColumnProfile::of).toList(), List.of(), target)
                .stream()
                .filter(s -> s.kind() == kind)
                .toList();
    }

    private static Numbers numbers(String name, java.util.function.IntToDoubleFunction value) {
        return Numbers.of(name, IntStream.range(0, ROWS).mapToDouble(value).toArray());
    }

    private static Categories words(String name, java.util.function.IntFunction<String> value) {
        return Categories.of(name, IntStream.range(0, ROWS).mapToObj(value).toArray(String[]::new));
    }

    private static List<String> code(Column column) {
        return in(Kind.MISSING_CODE, Optional.empty(), column).stream()
                .map(s -> s.detail() + " " + s.count())
                .toList();
    }

    @Test
    void codesOfMissingValuesLieFarFromTheRestAndRecur() {
        assertThat(code(numbers("t", i -> i % 8 == 0 ? -999 : 10 + i % 7))).containsExactly("-999 5");
        assertThat(code(numbers("t", i -> i % 8 == 0 ? 99 : i % 7))).containsExactly("99 5");
        assertThat(code(numbers("t", i -> i % 8 == 0 ? -1 : i % 7))).containsExactly("-1 5");
        // A pressure of 0 among 60 to 66, a count of 0 among 0 to 6.
        assertThat(code(numbers("t", i -> i % 8 == 0 ? 0 : 60 + i % 7))).containsExactly("0 5");
        assertThat(code(numbers("t", i -> i % 7))).isEmpty();
        // 99 as the end of a range, -1 between others, -999 once.
        assertThat(code(numbers("t", i -> 60 + i))).isEmpty();
        assertThat(code(numbers("t", i -> i % 7 - 3))).isEmpty();
        assertThat(code(numbers("t", i -> i == 3 ? -999 : i % 7))).isEmpty();
        assertThat(code(words("t", i -> i % 4 == 0 ? "Unknown" : i % 3 == 0 ? "a" : "b")))
                .containsExactly("Unknown 10");
        assertThat(code(words("t", i -> i % 4 == 0 ? "none" : "b"))).isEmpty();
    }

    @Test
    void columnsThatSayTheSameAreFoundInWhateverForm() {
        Numbers kilos = numbers("kilos", i -> i * 37 % 41 / 8.0);
        List<Suspicion> found = in(
                Kind.REPEATS_COLUMN,
                Optional.empty(),
                kilos,
                numbers("other", i -> i * 11 % 41 / 8.0),
                numbers("lack", i -> 9 - i * 37 % 41 / 8.0),
                numbers("pounds", i -> Math.rint(22 * (i * 37 % 41 / 8.0)) / 10),
                words("site", i -> List.of("wood", "heath", "town").get(i % 3)),
                numbers("site_code", i -> 7 * (i % 3)),
                words("nearly", i -> List.of("wood", "heath", "town").get(i == 5 ? 0 : i % 3)),
                numbers("constant", i -> 4),
                numbers("constant_too", i -> 4));
        assertThat(found)
                .extracting(s -> s.column() + " = " + s.detail())
                .containsExactly("lack = kilos", "pounds = kilos", "site_code = site");
    }

    @Test
    void rowsThatContradictEachOtherBoundWhatCanBeRight() {
        // Rows 0 to 3 are equal: three of class a, one of b. Rows 4 and 5 are equal, and both of b.
        Numbers x = numbers("x", i -> i < 4 ? 1 : i < 6 ? 2 : i);
        Categories y = words("y", i -> i < 3 ? "a" : i < 20 ? "b" : "a");
        List<Suspicion> found = in(Kind.CONTRADICTIONS, Optional.of(y), x, words("id", i -> "r" + i), y);
        assertThat(found).containsExactly(new Suspicion(Kind.CONTRADICTIONS, "", 4, 1, "id"));
        // Two copies of row 0 and one of row 4; the names of the rows are left aside.
        assertThat(in(Kind.DUPLICATES, Optional.of(y), x, words("id", i -> "r" + i), y))
                .containsExactly(new Suspicion(Kind.DUPLICATES, "", 3, 0, "id"));
        assertThat(in(Kind.CONTRADICTIONS, Optional.of(y), numbers("x", i -> i), y))
                .isEmpty();
    }

    @Test
    void aLongColumnIsComparedBySomeOfItsRows() {
        double[] x = new double[50_000];
        Arrays.setAll(x, i -> (i * 7919L) % 50_021);
        double[] twice = Arrays.stream(x).map(v -> 2 * v + 1).toArray();
        assertThat(in(Kind.REPEATS_COLUMN, Optional.empty(), Numbers.of("x", x), Numbers.of("twice", twice)))
                .extracting(Suspicion::column)
                .containsExactly("twice");
    }

    private static final int LONG = 60_001;

    private static Numbers longNumbers(String name, java.util.function.IntToDoubleFunction value) {
        return Numbers.of(name, IntStream.range(0, LONG).mapToDouble(value).toArray());
    }

    /** Of a long table some rows are looked at first; what is said holds for all of them, and counts them. */
    @Test
    void whatIsSaidOfALongTableCountsEveryRow() {
        Categories kind = Categories.of(
                "kind",
                IntStream.range(0, LONG)
                        .mapToObj(i -> i % 3 == 0 ? "dark" : "light")
                        .toArray(String[]::new));
        // Every fourth row is looked at, which all have even numbers: one value there, another one in row 1.
        Numbers even = longNumbers("even", i -> i == 1 ? 7 : 5);
        // A code in every tenth row.
        Numbers coded = longNumbers("coded", i -> i % 10 == 0 ? -999 : 10 + i % 7);
        Numbers constant = longNumbers("constant", i -> 3);
        // Gives the class in every row that is looked at, and in two of three others by chance.
        Numbers told = longNumbers("told", i -> i % 4 == 0 ? (i % 3 == 0 ? 1 : 0) : 0);
        Numbers gives = longNumbers("gives", i -> i == 5 ? 1 : i % 3 == 0 ? 1 : 0);
        Table table = new Table(LONG, List.of(even, coded, constant, told, gives));
        List<Suspicion> found = Suspicion.ofColumns(table, java.util.Set.of(), kind);
        assertThat(found)
                .filteredOn(s -> s.kind() == Kind.CONSTANT)
                .extracting(s -> s.column() + " " + s.count())
                .containsExactly("constant 60001");
        assertThat(found)
                .filteredOn(s -> s.kind() == Kind.MISSING_CODE)
                .extracting(s -> s.column() + " " + s.detail() + " " + s.count())
                .containsExactly("coded -999 6001");
        assertThat(found)
                .filteredOn(s -> s.kind() == Kind.TELLS_CLASS)
                .extracting(s -> s.column() + " " + s.count() + " " + s.beside())
                .containsExactly("gives 99 67");
    }
}
