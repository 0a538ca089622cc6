package keenfold.core.prepare.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Names;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class StepsTest {
    static final double GAP = Double.NaN;
    private static final Some ALL = new Some(List.of());

    private static Training training(Table table) {
        double[] ones = new double[table.rows()];
        Arrays.fill(ones, 1);
        return Training.of(table, new int[table.rows()], ones, 2);
    }

    static Training training(Column... columns) {
        return training(table(columns));
    }

    static double[] numbers(Column column) {
        return column.match(Numbers::toArray, c -> new double[0]);
    }

    private static double[] only(Table table) {
        assertThat(table.columns()).hasSize(1);
        return numbers(table.columns().get(0));
    }

    static List<String> texts(Column column) {
        return column.match(n -> List.of(), c -> IntStream.range(0, c.rows())
                .mapToObj(i -> c.missing(i) ? "-" : c.levels().get(c.code(i)))
                .toList());
    }

    static Table table(Column... columns) {
        return new Table(columns[0].rows(), List.of(columns));
    }

    /** A step as a plan would write it: {@code name setting=value …}. */
    static Step step(String text) {
        String[] words = text.split(" ", -1);
        Settings settings = Settings.none();
        for (int i = 1; i < words.length; i++) {
            settings = settings.with(words[i].split("=", 2)[0], words[i].split("=", 2)[1]);
        }
        return StepKinds.of(words[0]).orElseThrow().make(settings);
    }

    @Test
    void fillPutsTheMedianAndTheMode() {
        Table training = table(
                Numbers.of("x", 1, GAP, 3, 100),
                Categories.of("c", "b", "a", "b", null),
                Numbers.of("none", GAP, GAP, GAP, GAP));
        Table test = table(
                Numbers.of("x", GAP, 7, GAP, GAP),
                Categories.of("c", null, "a", "b", null),
                Numbers.of("none", GAP, 1, GAP, 2));
        Table filled = step("fill").fit(training(training)).apply(test);
        assertThat(numbers(filled.columns().get(0))).containsExactly(3, 7, 3, 3);
        assertThat(texts(filled.columns().get(1))).containsExactly("b", "a", "b", "b");
        assertThat(numbers(filled.columns().get(2))).containsExactly(0, 1, 0, 2);
        // Weighted, level a is the more frequent one.
        Training weighted = Training.of(training, new int[4], new double[] {1, 5, 1, 1}, 2);
        assertThat(texts(step("fill").fit(weighted).apply(training).columns().get(1)))
                .containsExactly("b", "a", "b", "a");
    }

    @Test
    void fillTakesMeanModeOrAConstantAndMarksGaps() {
        Column x = Numbers.of("x", 2, 2, 8, GAP, 8, 2, 6);
        Column c = Categories.of("c", "p", null, "q", "q", "p", "q", "q");
        Table other = table(Numbers.of("x", GAP, 1), Categories.of("c", null, "q"));
        assertThat(numbers(step("fill with=mean")
                        .fit(training(x, c))
                        .apply(other)
                        .columns()
                        .get(0)))
                .containsExactly(28.0 / 6, 1);
        assertThat(numbers(step("fill with=mode")
                        .fit(training(x, c))
                        .apply(other)
                        .columns()
                        .get(0)))
                .containsExactly(2, 1);
        Table constant = step("fill with=constant value=-1 level=none mark=yes")
                .fit(training(x, c))
                .apply(other);
        assertThat(constant.names()).containsExactly("x", "x missing", "c", "c missing");
        assertThat(numbers(constant.columns().get(0))).containsExactly(-1, 1);
        assertThat(numbers(constant.columns().get(1))).containsExactly(1, 0);
        assertThat(texts(constant.columns().get(2))).containsExactly("none", "q");
        // The level is there where nothing is missing too, or codes would mean different levels on the two sides.
        Table whole = table(Numbers.of("x", 5), Categories.of("c", "q").select(new int[] {0}));
        Table filled = step("fill with=constant level=a").fit(training(x, c)).apply(whole);
        assertThat(((Categories) filled.columns().get(1)).levels()).containsExactly("a", "q");
        assertThat(numbers(step("fill columns=c")
                        .fit(training(x, c))
                        .apply(other)
                        .columns()
                        .get(0))[0])
                .isNaN();
    }

    @Test
    void oneHotMakesAColumnPerSeenLevelAndOneOfTwo() {
        Categories three = Categories.of("c", "a", "b", "z", "a", "q");
        Table all = table(
                three, Categories.of("two", "u", "v", "u", "u", "v"), Categories.of("one", "k", "k", "k", "k", "k"));
        // q is not seen in training.
        Table training = all.select(new int[] {0, 1, 2, 3});
        Table made = step("one-hot").fit(training(training)).apply(all);
        assertThat(made.names()).containsExactly("c=a", "c=b", "c=z", "two=v");
        assertThat(numbers(made.columns().get(0))).containsExactly(1, 0, 0, 1, 0);
        assertThat(numbers(made.columns().get(2))).containsExactly(0, 0, 1, 0, 0);
        assertThat(numbers(made.columns().get(3))).containsExactly(0, 1, 0, 0, 1);
        assertThat(step("one-hot rare=2").fit(training(training)).apply(all).names())
                .containsExactly("c=a");
    }

    @Test
    void aMadeNameThatIsTakenGetsAMark() {
        Table clash = table(Categories.of("c", "a", "b", "z"), Numbers.of("c=a", 1, 2, 3));
        assertThat(step("one-hot").fit(training(clash)).apply(clash).names())
                .containsExactly("c=a", "c=b", "c=z", "c=a'");
    }

    @Test
    void standardiseAndRescaleUseTrainingRowsAndDropConstants() {
        Training training = training(Numbers.of("x", 1, 2, 3, 6), Numbers.of("same", 4, 4, 4, 4));
        Table other = table(Numbers.of("x", 3, 11), Numbers.of("same", 5, 4));
        // Mean 3, variance (4 + 1 + 0 + 9)/4.
        double sd = Math.sqrt(14.0 / 4);
        assertThat(only(step("standardise").fit(training).apply(other)))
                .containsExactly(new double[] {0, 8 / sd}, within(1e-15));
        assertThat(only(step("rescale").fit(training).apply(other))).containsExactly(0.4, 2);
        assertThat(only(step("rescale low=-1 high=1").fit(training).apply(other)))
                .containsExactly(new double[] {-0.2, 3}, within(1e-15));
        assertThatThrownBy(() -> step("rescale low=1 high=1")).hasMessageContaining("is not below");
    }

    @Test
    void logAndPowerFollowTheirFormulas() {
        Training some = training(Numbers.of("x", 0, 3, -3, GAP));
        assertThat(only(step("log unit=2").fit(some).apply(some.table())))
                .containsExactly(0, Math.log(2.5), -Math.log(2.5), GAP);
        // Yeo and Johnson's four branches.
        for (double lambda : new double[] {0, 0.5, 1, 2, -1}) {
            double up = lambda == 0 ? Math.log(4) : (Math.pow(4, lambda) - 1) / lambda;
            double down = lambda == 2 ? -Math.log(4) : -(Math.pow(4, 2 - lambda) - 1) / (2 - lambda);
            assertThat(only(new Power(OptionalDouble.of(lambda), ALL).fit(some).apply(some.table())))
                    .containsExactly(new double[] {0, up, down, GAP}, within(1e-14));
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3})
    void thePowerFittedHasTheGreatestLikelihood(long seed) {
        RandomSource chance = new Seed(seed).chance();
        double[] x = new double[200];
        Arrays.setAll(x, i -> seed == 1 ? Math.exp(chance.normal()) - 1 : seed * chance.normal() * chance.normal());
        double[] fitted = only(step("power").fit(training(Numbers.of("x", x))).apply(table(Numbers.of("x", 3.0))));
        double best = Double.NEGATIVE_INFINITY;
        double at = 0;
        for (double lambda = -3; lambda <= 5; lambda += 0.001) {
            double likelihood = likelihood(x, lambda);
            if (likelihood > best) {
                best = likelihood;
                at = lambda;
            }
        }
        assertThat(fitted[0]).isCloseTo(power(3, at), within(0.004 * power(3, at)));
        if (seed == 1) {
            assertThat(at).isBetween(-0.3, 0.3);
        }
    }

    private static double power(double x, double lambda) {
        return x >= 0 ? (Math.pow(x + 1, lambda) - 1) / lambda : -(Math.pow(1 - x, 2 - lambda) - 1) / (2 - lambda);
    }

    private static double likelihood(double[] x, double lambda) {
        double[] y = Arrays.stream(x).map(v -> power(v, lambda)).toArray();
        double mean = Arrays.stream(y).average().orElseThrow();
        double variance =
                Arrays.stream(y).map(v -> (v - mean) * (v - mean)).average().orElseThrow();
        double jacobian = Arrays.stream(x)
                .map(v -> Math.signum(v) * Math.log(Math.abs(v) + 1))
                .sum();
        return -x.length / 2.0 * Math.log(variance) + (lambda - 1) * jacobian;
    }

    @Test
    void ordinalPlacesLevels() {
        Categories c = Categories.of("c", "mid", "low", "low", null, "high", "mid", "low");
        Table other = table(c, Numbers.of("x", 1, 2, 3, 4, 5, 6, 7));
        Training training = training(other.select(new int[] {0, 1, 2, 5, 6}));
        assertThat(numbers(step("ordinal").fit(training).apply(other).columns().get(0)))
                .containsExactly(2, 1, 1, GAP, 0, 2, 1);
        assertThat(numbers(step("ordinal by=count")
                        .fit(training)
                        .apply(other)
                        .columns()
                        .get(0)))
                .containsExactly(1, 2, 2, GAP, 0, 1, 2);
        assertThat(numbers(step("ordinal order=low,mid,high")
                        .fit(training)
                        .apply(other)
                        .columns()
                        .get(0)))
                .containsExactly(2, 1, 1, GAP, 3, 2, 1);
    }

    @Test
    void binsHaveEdgesAtQuantilesOrEqualWidths() {
        Training training = training(Numbers.of("x", 1, 2, 3, 4, 5, 6, 7, 100, GAP));
        Table other = table(Numbers.of("x", -9, 2, 2.5, 4, 6, 6.5, 1e9, GAP));
        assertThat(only(step("bins bins=4 as=numbers").fit(training).apply(other)))
                .containsExactly(1, 1, 2, 2, 3, 4, 4, GAP);
        assertThat(only(step("bins bins=3 by=widths as=numbers").fit(training).apply(other)))
                .containsExactly(1, 1, 1, 1, 1, 1, 3, GAP);
        assertThat(texts(
                        step("bins bins=2").fit(training).apply(other).columns().get(0)))
                .containsExactly("1", "1", "1", "1", "2", "2", "2", "-");
        // Equal values share a bin, so that fewer bins are left; a constant column is one bin.
        Training tied = training(Numbers.of("x", 5, 5, 5, 5, 5, 9));
        assertThat(only(step("bins bins=6 as=numbers").fit(tied).apply(tied.table())))
                .containsExactly(1, 1, 1, 1, 1, 2);
        Training same = training(Numbers.of("x", 5, 5));
        assertThat(only(step("bins as=numbers").fit(same).apply(same.table()))).containsExactly(1, 1);
    }

    @Test
    void componentsOfAHandWorkedCase() {
        // Points on the line y = 2x, and one pair off it: covariance [[2, 4], [4, 8]] + [[.4, -.2], [-.2, .1]].
        Training training = training(
                Numbers.of("x", -2, -1, 0, 1, 2, 1, -1, 0, 0, 0), Numbers.of("y", -4, -2, 0, 2, 4, -0.5, 0.5, 0, 0, 0));
        Table made = step("components keep=2").fit(training).apply(training.table());
        assertThat(made.names()).containsExactly("component 1", "component 2");
        double[] first = numbers(made.columns().get(0));
        double[] second = numbers(made.columns().get(1));
        // (2, 4) lies on the first direction, (1, 2)/√5; (1, −0.5) on the second, (1, −0.5)/√1.25.
        assertThat(first[4]).isCloseTo(Math.sqrt(20), within(1e-12));
        assertThat(second[4]).isCloseTo(0, within(1e-12));
        assertThat(second[5]).isCloseTo(Math.sqrt(1.25), within(1e-12));
        // Variances 5 and 0.25: the first holds 0.952 of the sum.
        assertThat(step("components keep=0.95")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .hasSize(1);
        assertThat(step("components keep=0.96")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .hasSize(2);
    }

    @Test
    void componentsAreUncorrelatedHoldAllVarianceAndNeedNoMoreRowsThanColumns() {
        for (int rows : new int[] {6, 40}) {
            Training training = random(rows, 11, 3);
            Table made = step("components keep=50").fit(training).apply(training.table());
            double[][] z = Training.columns(made);
            assertThat(z).hasDimensions(Math.min(11, rows - 1), rows);
            double kept = 0;
            for (int a = 0; a < z.length; a++) {
                for (int b = 0; b < a; b++) {
                    assertThat(covariance(z[a], z[b])).isCloseTo(0, within(1e-10));
                }
                assertThat(covariance(z[a], z[a]))
                        .isLessThanOrEqualTo(a == 0 ? Double.MAX_VALUE : covariance(z[a - 1], z[a - 1]));
                kept += covariance(z[a], z[a]);
            }
            double all = Arrays.stream(Training.columns(training.table()))
                    .mapToDouble(x -> covariance(x, x))
                    .sum();
            assertThat(kept).isCloseTo(all, within(1e-9 * all));
        }
        assertThatThrownBy(() -> step("components").fit(training(Numbers.of("x", 1, GAP))))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("put fill before it");
    }

    private static double covariance(double[] x, double[] y) {
        double mx = Arrays.stream(x).average().orElseThrow();
        double my = Arrays.stream(y).average().orElseThrow();
        return IntStream.range(0, x.length)
                        .mapToDouble(i -> (x[i] - mx) * (y[i] - my))
                        .sum()
                / x.length;
    }

    static Training random(int rows, int columns, long seed) {
        RandomSource chance = new Seed(seed).chance();
        List<Column> made = new ArrayList<>();
        int[] y = new int[rows];
        Arrays.setAll(y, i -> i % 3);
        double[] w = new double[rows];
        Arrays.fill(w, 1);
        for (int j = 0; j < columns; j++) {
            double[] x = new double[rows];
            for (int i = 0; i < rows; i++) {
                x[i] = chance.normal() * (j + 1) + (j == 4 || j == 7 ? 3 * j * y[i] : 0);
            }
            made.add(Numbers.of("x" + j, x));
        }
        return Training.of(new Table(rows, made), y, w, 3);
    }

    @Test
    void strongestByFOfATextbookCase() {
        // Three treatments of six plots: F(2, 15) = 9.26 = 42/(68/15).
        Training plots = Training.of(
                table(Numbers.of("x", 6, 8, 4, 5, 3, 4, 8, 12, 9, 11, 6, 8, 13, 9, 11, 8, 7, 12)),
                IntStream.range(0, 18).map(i -> i / 6).toArray(),
                IntStream.range(0, 18).mapToDouble(i -> 1).toArray(),
                3);
        assertThat(Strongest.f(plots.table().columns().get(0), plots)).isCloseTo(42 / (68.0 / 15), within(1e-12));
        Training many = random(90, 9, 5);
        assertThat(step("strongest number=2").fit(many).apply(many.table()).names())
                .containsExactly("x4", "x7");
        assertThat(step("strongest number=2 by=information")
                        .fit(many)
                        .apply(many.table())
                        .names())
                .containsExactly("x4", "x7");
        assertThat(step("strongest number=99").fit(many).apply(many.table()).names())
                .hasSize(9);
        assertThatThrownBy(() -> step("strongest").fit(training(Categories.of("c", "a", "b"))))
                .hasMessageContaining("put one-hot before it, or say by: information");
    }

    @Test
    void mutualInformationFromItsDefinition() {
        Categories c = Categories.of("c", "a", "a", "b", "b", "b", null);
        Training training = Training.of(table(c), new int[] {0, 0, 1, 1, 0, 1}, new double[] {1, 2, 1, 1, 1, 2}, 2);
        // Counts: a 3/0, b 1/2, missing 0/2 of 8; four cells, three values, two classes.
        double plain = 3 / 8.0 * Math.log(3 * 8 / (3.0 * 4))
                + 1 / 8.0 * Math.log(8 / (3.0 * 4))
                + 2 / 8.0 * Math.log(2 * 8 / (3.0 * 4))
                + 2 / 8.0 * Math.log(2 * 8 / (2.0 * 4));
        assertThat(Strongest.information(c, training)).isCloseTo(plain - (4 - 3 - 2 + 1) / 16.0, within(1e-14));
    }

    /** Where every value is seen with every class the bias is (4 − 2 − 2 + 1)/(2·6), and is taken away. */
    @Test
    void mutualInformationLosesItsBias() {
        Categories c = Categories.of("c", "a", "a", "a", "b", "b", "b");
        Training training = Training.of(table(c), new int[] {0, 0, 1, 0, 1, 1}, new double[] {1, 1, 1, 1, 1, 1}, 2);
        double plain = 2 * 2 / 6.0 * Math.log(2 * 6 / (3.0 * 3)) + 2 * 1 / 6.0 * Math.log(6 / (3.0 * 3));
        assertThat(Strongest.information(c, training)).isCloseTo(plain - 1 / 12.0, within(1e-14));
    }

    /** Of equally frequent values, and levels, the first in order. */
    @Test
    void ofEqualModesTheFirstIsFilledIn() {
        Numbers x = Numbers.of("x", 7, 3, 3, 7, 5, GAP);
        Categories c = Categories.of("c", "q", "p", "q", "p", "r", null);
        Table other = table(x, c).select(new int[] {5});
        Table filled = step("fill with=mode").fit(training(x, c)).apply(other);
        assertThat(numbers(filled.columns().get(0))).containsExactly(3);
        Categories level = (Categories) filled.columns().get(1);
        assertThat(level.levels().get(level.code(0))).isEqualTo("p");
    }

    @Test
    void columnsGoByWhatTheyHold() {
        Training training = training(
                Numbers.of("x", 1, 2, 3, 4, 5),
                Numbers.of("same", 7, 7, GAP, 7, 7),
                Numbers.of("mostly", 0, 0, -0.0, 0, 1),
                Categories.of("c", "a", "a", "a", "a", "a"),
                Numbers.of("empty", GAP, GAP, GAP, GAP, GAP),
                Numbers.of("turned", -2, -4, -6, -8, -10.1),
                Numbers.of("other", 1, -1, 0, -1, 1));
        assertThat(step("drop-constant").fit(training).apply(training.table()).names())
                .containsExactly("x", "mostly", "turned", "other");
        assertThat(step("drop-constant share=0.8")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .containsExactly("x", "turned", "other");
        assertThat(step("drop-correlated").fit(training).apply(training.table()).names())
                .containsExactly("x", "same", "mostly", "c", "empty", "other");
        assertThat(step("leave-out columns=x,c")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .containsExactly("same", "mostly", "empty", "turned", "other");
        assertThat(step("keep-only columns=other,x")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .containsExactly("x", "other");
        assertThatThrownBy(() -> step("leave-out")).hasMessageContaining("needs the names of columns");
    }

    /**
     * By a calendar: 1970-01-01 was a Thursday, 2024-02-29 one too, 1969-12-31 a Wednesday; 2024 has 366 days, 1 July is its
     * 183rd.
     */
    @Test
    void datesBecomeTheirParts() {
        Training training =
                training(Numbers.of("day", 0, 19782, -1, 19905, GAP, 1e300), Numbers.of("x", 1, 2, 3, 4, 5, 6));
        Table all = step("date-parts columns=day").fit(training).apply(training.table());
        assertThat(all.names())
                .containsExactly(
                        "day.year", "day.month", "day.day-of-week", "day.day-of-year-sin", "day.day-of-year-cos", "x");
        assertThat(numbers(all.columns().get(0))).containsExactly(1970, 2024, 1969, 2024, GAP, GAP);
        assertThat(numbers(all.columns().get(1))).containsExactly(1, 2, 12, 7, GAP, GAP);
        assertThat(texts(all.columns().get(2)))
                .containsExactly("Thursday", "Thursday", "Wednesday", "Monday", "-", "-");
        double turn = 2 * Math.PI;
        assertThat(numbers(all.columns().get(3)))
                .containsExactly(
                        new double[] {
                            0,
                            Math.sin(turn * 59 / 366),
                            Math.sin(turn * 364 / 365),
                            Math.sin(turn * 182 / 366),
                            GAP,
                            GAP
                        },
                        within(1e-15));
        assertThat(numbers(all.columns().get(4)))
                .containsExactly(
                        new double[] {
                            1,
                            Math.cos(turn * 59 / 366),
                            Math.cos(turn * 364 / 365),
                            Math.cos(turn * 182 / 366),
                            GAP,
                            GAP
                        },
                        within(1e-15));
        assertThat(step("date-parts columns=day parts=month,year")
                        .fit(training)
                        .apply(training.table())
                        .names())
                .containsExactly("day.month", "day.year", "x");
        assertThatThrownBy(() -> step("date-parts")).hasMessageContaining("needs the names of columns");
        assertThatThrownBy(() -> step("date-parts columns=day parts=week"))
                .hasMessageContaining("expected some of year, month, day-of-week, day-of-year");
        assertThatThrownBy(() -> step("date-parts columns=day parts=year,year")).hasMessageContaining("twice");
        assertThatThrownBy(() -> StepKinds.requireDatesAsTheyAre(
                        List.of(StepKinds.of("standardise").orElseThrow(), StepKinds.DATE_PARTS)))
                .hasMessageContaining("date-parts stands behind standardise");
        StepKinds.requireDatesAsTheyAre(List.of(
                StepKinds.of("fill").orElseThrow(),
                StepKinds.DATE_PARTS,
                StepKinds.of("log").orElseThrow()));
        Training levels = training(Categories.of("c", "a", "b"));
        assertThatThrownBy(() -> step("date-parts columns=c").fit(levels))
                .hasMessageContaining("column \"c\" is not one of ISO dates");
    }

    @Test
    void aNameStandsForWhatOneHotMadeOfIt() {
        Training training = training(
                Categories.of("c", "p", "q", "r"), Categories.of("cc", "p", "q", "r"), Numbers.of("x", 1, 2, 3));
        List<Step> steps = List.of(step("one-hot"), step("leave-out columns=c"));
        assertThat(Preparation.fit(steps, training, new Seed(1))
                        .training()
                        .table()
                        .names())
                .containsExactly("cc=p", "cc=q", "cc=r", "x");
    }

    @Test
    void interactionsAreProductsOfPairs() {
        Training training = training(
                Numbers.of("a", 2, GAP),
                Categories.of("c", "u", "v"),
                Numbers.of("b", 3, 4),
                Numbers.of("d", 1e200, 5));
        Table made = step("interactions").fit(training).apply(training.table());
        assertThat(made.names()).containsExactly("a", "c", "b", "d", "a*b", "a*d", "b*d");
        assertThat(numbers(made.columns().get(4))).containsExactly(6, GAP);
        Table squared =
                step("interactions squares=yes columns=b,d").fit(training).apply(training.table());
        assertThat(squared.names()).containsExactly("a", "c", "b", "d", "b*b", "b*d", "d*d");
        // What leaves the numbers stays the greatest of them.
        assertThat(numbers(squared.columns().get(6))).containsExactly(Double.MAX_VALUE, 25);
        assertThatThrownBy(() -> step("interactions").fit(random(3, 202, 1))).hasMessageContaining("20301 columns");
    }

    @Test
    void namesKeepCommasAndBackslashes() {
        List<String> names = List.of("a,b", "c\\", "", "d e");
        assertThat(Names.split(Names.join(names))).isEqualTo(names);
        assertThat(Names.split("")).isEmpty();
    }

    @Test
    void stepsThatAClassifierNeeds() {
        assertThat(StepKinds.neededBy(Needs.SCALED_NUMBERS))
                .extracting(StepKind::name)
                .containsExactly("fill", "one-hot", "standardise");
        assertThat(StepKinds.neededBy(Needs.NOTHING)).isEmpty();
        Table table = table(Numbers.of("x", 1, GAP), Categories.of("c", "a", "b"));
        assertThatThrownBy(() -> Needs.NUMBERS.require(table, "logistic"))
                .isInstanceOf(FitFailure.class)
                .hasMessage("logistic needs columns without gaps: \"x\" has some; put fill into prepare");
        assertThatThrownBy(() -> Needs.NUMBERS.require(table(Categories.of("c", "a")), "logistic"))
                .hasMessageContaining("\"c\" is a category; put one-hot or ordinal into prepare");
    }
}
