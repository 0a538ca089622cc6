package keenfold.core.classify.svm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.classify.svm.Svm.Kernel;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.learned.SupportVectors.Shape;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class SvmTest {
    private static int[] all(int n) {
        return IntStream.range(0, n).toArray();
    }

    private static double[] bounds(int n, double most) {
        double[] bounds = new double[n];
        Arrays.fill(bounds, most);
        return bounds;
    }

    @Test
    void twoPointsAreSolvedByHand() {
        // f(x) = x has both points on the margin: α = 1/2 each. A bound of 1/4 leaves w = 1/4 + 1/4.
        KernelRows kernel = new KernelRows(new Kernel(Shape.LINEAR, 1), new double[][] {{-1}, {1}});
        Margin wide = new Margin(kernel, all(2), new boolean[] {false, true}, bounds(2, 9));
        assertThat(wide.coefficients()).containsExactly(new double[] {-0.5, 0.5}, within(1e-9));
        assertThat(wide.bias()).isCloseTo(0, within(1e-9));
        assertThat(wide.onMargin()).isEqualTo(2);
        Margin tight = new Margin(kernel, all(2), new boolean[] {false, true}, bounds(2, 0.25));
        assertThat(tight.coefficients()).containsExactly(-0.25, 0.25);
        assertThat(tight.at(1)).isCloseTo(0.5, within(1e-12));
        assertThat(tight.onMargin()).isZero();
    }

    @ParameterizedTest
    @CsvSource({
        "LINEAR, 1, 0.2, 120, 3",
        "LINEAR, 1, 50, 90, 2",
        "RADIAL, 1, 3, 100, 4",
        "RADIAL, 1, 1000, 60, 2",
        "POLYNOMIAL, 3, 0.5, 80, 3",
        "POLYNOMIAL, 2, 20, 150, 2",
        "RADIAL, 1, 0.01, 200, 5"
    })
    void theSolutionIsOptimal(Shape shape, int degree, double most, int n, int p) {
        RandomSource chance = new Seed(n).chance();
        double[][] x = new double[n][p];
        boolean[] is = new boolean[n];
        double[] bound = new double[n];
        for (int i = 0; i < n; i++) {
            Arrays.setAll(x[i], j -> chance.normal() / Math.sqrt(p));
            is[i] = x[i][0] + x[i][1] * x[i][1] + 0.4 * chance.normal() > 0.2;
            bound[i] = most * (1 + i % 3);
        }
        Kernel kernel = new Kernel(shape, degree);
        Margin margin = new Margin(new KernelRows(kernel, x), all(n), is, bound);
        double[] c = margin.coefficients();
        double[][] k = new double[n][n];
        for (int i = 0; i < n; i++) {
            for (int j = 0; j < n; j++) {
                k[i][j] = plainKernel(shape, degree, x[i], x[j]);
            }
        }
        double balance = 0;
        double quadratic = 0;
        double linear = 0;
        double losses = 0;
        for (int i = 0; i < n; i++) {
            double y = is[i] ? 1 : -1;
            double alpha = c[i] * y + 0.0;
            double f = margin.bias();
            for (int j = 0; j < n; j++) {
                f += c[j] * k[i][j];
                quadratic += c[i] * c[j] * k[i][j];
            }
            assertThat(margin.at(i)).isCloseTo(f, within(1e-9 * (1 + Math.abs(f))));
            assertThat(alpha).isBetween(0.0, bound[i]);
            double room = bound[i];
            // Beyond the margin without α, on it with some, within it with all that is allowed.
            assertThat(y * f).matches(v -> alpha > 0 || v >= 1 - 1e-4);
            assertThat(y * f).matches(v -> alpha < room || v <= 1 + 1e-4);
            assertThat(y * f).matches(v -> alpha == 0 || alpha == room || Math.abs(v - 1) < 1e-4);
            balance += c[i];
            linear += alpha;
            losses += bound[i] * Math.max(0, 1 - y * f);
        }
        assertThat(balance).isCloseTo(0, within(1e-9 * most * n));
        // Strong duality: what is lost in the primal is what is won in the dual.
        double primal = quadratic / 2 + losses;
        assertThat(linear - quadratic / 2).isCloseTo(primal, within(1e-5 * (1 + primal)));
    }

    private static double plainKernel(Shape shape, int degree, double[] x, double[] z) {
        double dot = 0;
        double far = 0;
        for (int j = 0; j < x.length; j++) {
            dot += x[j] * z[j];
            far += (x[j] - z[j]) * (x[j] - z[j]);
        }
        return switch (shape) {
            case LINEAR -> dot;
            case RADIAL -> Math.exp(-far / 2);
            case POLYNOMIAL -> Math.pow(1 + dot, degree);
        };
    }

    @Test
    void aWeightOfTwoIsTheRowTwice() {
        Training once = Samples.normal(4, 40, 2, 2);
        double[][] x = new double[40][];
        Arrays.setAll(x, i -> new double[] {value(once, 0, i), value(once, 1, i)});
        boolean[] is = new boolean[40];
        double[] bound = new double[40];
        Arrays.setAll(bound, i -> 0.7 * (1 + i % 2));
        int[] twice =
                IntStream.range(0, 60).map(t -> t < 40 ? t : 2 * (t - 40) + 1).toArray();
        for (int i = 0; i < 40; i++) {
            is[i] = once.target(i) == 1;
        }
        boolean[] isTwice = new boolean[60];
        double[][] xTwice = new double[60][];
        for (int t = 0; t < 60; t++) {
            isTwice[t] = is[twice[t]];
            xTwice[t] = x[twice[t]];
        }
        for (Shape shape : Shape.values()) {
            Kernel kernel = new Kernel(shape, 2);
            Margin weighted = new Margin(new KernelRows(kernel, x), all(40), is, bound);
            Margin repeated = new Margin(new KernelRows(kernel, xTwice), all(60), isTwice, bounds(60, 0.7));
            for (int i = 0; i < 40; i++) {
                assertThat(repeated.at(i)).isCloseTo(weighted.at(i), within(1e-4));
            }
        }
    }

    private static double value(Training training, int column, int row) {
        return Training.columns(training.table())[column][row];
    }

    @Test
    void howManyKernelValuesAreKeptChangesNoBit() {
        Training training = Samples.normal(6, 70, 3, 2);
        double[][] x = new double[70][];
        Arrays.setAll(x, i -> IntStream.range(0, 3)
                .mapToDouble(j -> value(training, j, i))
                .toArray());
        boolean[] is = new boolean[70];
        IntStream.range(0, 70).forEach(i -> is[i] = training.target(i) == 1);
        Kernel kernel = new Kernel(Shape.RADIAL, 1);
        double[] few = new Margin(new KernelRows(kernel, x, 140), all(70), is, bounds(70, 2)).coefficients();
        assertThat(new Margin(new KernelRows(kernel, x), all(70), is, bounds(70, 2)).coefficients())
                .containsExactly(few);
    }

    @Test
    void aFamilySharesTheKernelAndGivesWhatEachAloneGives() {
        Training training = Samples.normal(8, 90, 3, 3);
        List<Svm> family = List.of(
                new Svm(0.1, Shape.RADIAL, 0, 3, 3),
                new Svm(2, Shape.RADIAL, Math.sqrt(3), 1, 3),
                new Svm(2, Shape.LINEAR, 0, 1, 3));
        List<Model> joint = Svm.joint(family, training, Samples::chance);
        for (int m = 0; m < 3; m++) {
            Model alone = family.get(m).fit(training, Samples.chance());
            assertThat(joint.get(m).probabilities(training.table()))
                    .containsExactly(alone.probabilities(training.table()));
            assertThat(joint.get(m).size()).isEqualTo(alone.size());
        }
        // At most p + 1 for each linear function, and 2 for its calibration; times K − 1.
        assertThat(joint.get(2).size()).isBetween(2 * 3.0, 2 * 6.0);
    }

    /** Rows held out: from the solution of all rows it comes to where the others alone lead, and f of those held out is known. */
    @ParameterizedTest
    @CsvSource({"RADIAL, 0.2, 100000", "RADIAL, 500, 500", "POLYNOMIAL, 3, 100000", "LINEAR, 1, 100000"})
    void withoutSomeRowsItIsWhatTheOthersAloneGive(Shape shape, double most, int kept) {
        int n = 160;
        Training training = Samples.normal(11, n, 3, 2);
        double[][] x = new double[n][];
        Arrays.setAll(x, i -> IntStream.range(0, 3)
                .mapToDouble(j -> value(training, j, i) / 2)
                .toArray());
        boolean[] is = new boolean[n];
        boolean[] held = new boolean[n];
        for (int i = 0; i < n; i++) {
            is[i] = training.target(i) == 1;
            held[i] = i % 4 == 1;
        }
        Kernel kernel = new Kernel(shape, 2);
        Margin whole = new Margin(new KernelRows(kernel, x, kept), all(n), is, bounds(n, most));
        Margin without = whole.without(held);
        int[] others = IntStream.range(0, n).filter(i -> !held[i]).toArray();
        boolean[] own = new boolean[others.length];
        IntStream.range(0, own.length).forEach(t -> own[t] = is[others[t]]);
        Margin alone = new Margin(new KernelRows(kernel, x), others, own, bounds(others.length, most));
        double[] c = alone.coefficients();
        for (int i = 0; i < n; i++) {
            double f = alone.bias();
            for (int j = 0; j < n; j++) {
                f += c[j] * plainKernel(shape, 2, x[j], x[i]);
            }
            assertThat(without.at(i)).isCloseTo(f, within(2e-3));
            assertThat(!held[i] || without.coefficients()[i] == 0).isTrue();
        }
    }

    @Test
    void aCurvedBoundaryIsFoundByTheKernelsThatCanBend() {
        RandomSource chance = new Seed(3).chance();
        double[][] x = new double[2][300];
        int[] y = new int[300];
        for (int i = 0; i < 300; i++) {
            x[0][i] = chance.normal();
            x[1][i] = chance.normal();
            y[i] = x[0][i] * x[0][i] + x[1][i] * x[1][i] > 1.4 ? 1 : 0;
        }
        Training training = Samples.training(x, y, 2);
        Training test = training.select(IntStream.range(200, 300).toArray());
        Training train = training.select(all(200));
        assertThat(errors(new Svm(0.1, Shape.RADIAL, 1, 1, 3), train, test)).isLessThan(8);
        assertThat(errors(new Svm(0.1, Shape.POLYNOMIAL, 1, 2, 3), train, test)).isLessThan(8);
        assertThat(errors(new Svm(0.1, Shape.LINEAR, 0, 1, 3), train, test)).isGreaterThan(25);
    }

    private static long errors(Svm svm, Training train, Training test) {
        double[] p = svm.fit(train, Samples.chance()).probabilities(test.table());
        return IntStream.range(0, test.rows())
                .filter(i -> (p[2 * i + 1] > 0.5 ? 1 : 0) != test.target(i))
                .count();
    }

    @Test
    void pairsThatAgreeAreCoupledExactlyAndOthersAsWellAsCanBe() {
        double[] p = {0.5, 0.2, 0.27, 0.03};
        double[][] r = new double[4][4];
        for (int i = 0; i < 4; i++) {
            for (int j = 0; j < 4; j++) {
                r[i][j] = i == j ? 0 : p[i] / (p[i] + p[j]);
            }
        }
        assertThat(Coupling.of(r)).containsExactly(p, within(1e-12));
        double[][] odd = {{0, 0.9, 0.4}, {0.1, 0, 0.7}, {0.6, 0.3, 0}};
        double[] found = Coupling.of(odd);
        double least = disagreement(odd, found);
        for (int a = 0; a <= 100; a++) {
            for (int b = 0; a + b <= 100; b++) {
                assertThat(disagreement(odd, new double[] {a / 100.0, b / 100.0, (100 - a - b) / 100.0}))
                        .isGreaterThanOrEqualTo(least - 1e-12);
            }
        }
    }

    private static double disagreement(double[][] r, double[] p) {
        double sum = 0;
        for (int i = 0; i < p.length; i++) {
            for (int j = 0; j < p.length; j++) {
                double off = r[j][i] * p[i] - r[i][j] * p[j];
                sum += i == j ? 0 : off * off;
            }
        }
        return sum;
    }
}
