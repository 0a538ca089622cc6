package keenfold.core.prepare.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

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
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Fitted steps, kept and made again. */
class LearnedStepTest {
    private static final Some ALL = new Some(List.of());

    private static Table table(long seed, int rows, boolean gaps, String... levels) {
        RandomSource chance = new Seed(seed).chance();
        double[] x = new double[rows];
        double[] y = new double[rows];
        double[] z = new double[rows];
        String[] hue = new String[rows];
        for (int i = 0; i < rows; i++) {
            x[i] = gaps && i % 5 == 0 ? Double.NaN : chance.normal();
            y[i] = Math.abs(chance.normal()) * 10;
            z[i] = 2 * y[i] + 0.01 * chance.normal();
            hue[i] = gaps && i % 4 == 0 ? null : levels[chance.below(levels.length)];
        }
        return new Table(
                rows,
                List.of(
                        Numbers.owning("x", x),
                        Numbers.owning("y", y),
                        Numbers.owning("z", z),
                        Categories.of("hue", hue)));
    }

    private static final Table LEARNED = table(3, 40, true, "amber", "gold", "pale");

    private static Training training(Table table) {
        int[] y = IntStream.range(0, table.rows()).map(i -> i % 2).toArray();
        double[] ones = new double[table.rows()];
        Arrays.fill(ones, 1);
        return Training.of(table, y, ones, 2);
    }

    static Stream<Step> steps() {
        return Stream.of(
                new Fill(Fill.With.MEDIAN, 0, "", false, ALL),
                new Fill(Fill.With.MODE, 0, "", true, ALL),
                new Fill(Fill.With.CONSTANT, -1, "fog", true, ALL),
                new OneHot(1, ALL),
                new OneHot(15, ALL),
                new Ordinal(Ordinal.By.COUNT, List.of(), ALL),
                new Ordinal(Ordinal.By.NAME, List.of("pale", "amber"), ALL),
                new Standardise(new Some(List.of("y"))),
                new Rescale(-1, 1, ALL),
                new Log(0.5, ALL),
                new Power(java.util.OptionalDouble.empty(), ALL),
                new Power(java.util.OptionalDouble.of(0), ALL),
                new Bins(4, Bins.By.QUANTILES, true, ALL),
                new Bins(12, Bins.By.WIDTHS, false, ALL),
                new DropConstant(0.99),
                new DropCorrelated(0.9),
                new Interactions(true, ALL),
                new Strongest(2, Strongest.By.INFORMATION),
                new Keep(true, new Some(List.of("hue", "z"))),
                new Keep(false, new Some(List.of("x"))));
    }

    private static List<String> texts(Table table) {
        List<String> texts = new ArrayList<>();
        for (Column c : table.columns()) {
            texts.add(c.name() + ": "
                    + c.match(n -> Arrays.toString(n.toArray()), k -> IntStream.range(0, k.rows())
                            .mapToObj(i -> k.missing(i) ? "-" : k.levels().get(k.code(i)))
                            .toList()
                            .toString()));
        }
        return texts;
    }

    @ParameterizedTest
    @MethodSource("steps")
    void whatIsMadeAgainDoesTheSame(Step step) {
        LearnedStep fitted = step.fit(training(LEARNED));
        LearnedStep again = LearnedStep.of(fitted.state());
        assertThat(again.state()).isEqualTo(fitted.state());
        assertThat(texts(again.apply(LEARNED))).isEqualTo(texts(fitted.apply(LEARNED)));
        Table other = table(8, 25, true, "amber", "gold", "pale");
        assertThat(texts(again.apply(other))).isEqualTo(texts(fitted.apply(other)));
        // Rows of nothing give the same columns.
        assertThat(again.apply(other.select(new int[0])).names())
                .isEqualTo(again.apply(other).names());
    }

    @Test
    void componentsToo() {
        Table whole = table(3, 40, false, "amber", "gold");
        for (double keep : new double[] {2, 0.8}) {
            LearnedStep fitted = new Components(keep).fit(training(whole));
            LearnedStep again = LearnedStep.of(fitted.state());
            assertThat(texts(again.apply(whole))).isEqualTo(texts(fitted.apply(whole)));
        }
    }

    /** A level behind all that were trained on: zeros, place 0, and no other level's code moves. */
    @Test
    void aLevelBehindAllOthersMovesNothing() {
        Categories known = Categories.of("hue", "amber", "gold", "pale", null);
        Table training = new Table(4, List.of(known));
        Table other = new Table(
                3,
                List.of(Categories.ofCodes(
                        "hue", List.of("amber", "gold", "pale", "\uDBFF\uDFFF"), new int[] {0, 3, 2})));
        Table hot = new OneHot(1, ALL).fit(training(training)).apply(other);
        assertThat(hot.names()).containsExactly("hue=amber", "hue=gold", "hue=pale");
        assertThat(texts(hot))
                .containsExactly(
                        "hue=amber: [1.0, 0.0, 0.0]", "hue=gold: [0.0, 0.0, 0.0]", "hue=pale: [0.0, 0.0, 1.0]");
        Table placed = new Ordinal(Ordinal.By.NAME, List.of(), ALL)
                .fit(training(training))
                .apply(other);
        assertThat(texts(placed)).containsExactly("hue: [1.0, 0.0, 3.0]");
        Table filled = new Fill(Fill.With.CONSTANT, 0, "fog", false, ALL)
                .fit(training(training))
                .apply(other);
        assertThat(((Categories) filled.columns().get(0)).levels())
                .containsExactly("amber", "fog", "gold", "pale", "\uDBFF\uDFFF");
    }

    @Test
    void statesOfNoStepAreRefused() {
        assertThatThrownBy(() -> LearnedStep.of(State.of("bake"))).hasMessage("no step is called \"bake\"");
        assertThatThrownBy(() -> LearnedStep.of(State.of("choice").with("columns", new double[] {-1})))
                .hasMessage("choice, \"columns\": expected whole numbers from 0 to 10000000, not -1.0");
        assertThatThrownBy(() -> LearnedStep.of(State.of("each").withParts("columns", List.of(State.of("polish")))))
                .hasMessage("no change of a column is called \"polish\"");
        assertThatThrownBy(() -> LearnedStep.of(State.of("components")
                        .with("columns", new int[] {0, 1})
                        .with("means", new double[] {1})
                        .withRows("directions", List.of())))
                .hasMessage("components, \"means\": expected 2 numbers, not 1");
    }
}
