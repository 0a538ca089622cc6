package keenfold.core.classify.linear;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class LogisticTest {
    private static Logistic.Linear fit(Training training, double strength) {
        return (Logistic.Linear) new Logistic(strength, 0).fit(training, Samples.chance());
    }

    /** Of a 2 x 2 table the slope is the logarithm of the odds ratio, the intercept that of the odds at 0. */
    @Test
    void twoByTwoTableInClosedForm() {
        // x = 0: 3 of class 0, 1 of class 1; x = 1: 2 of class 0, 6 of class 1.
        double[] x = {0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1};
        int[] y = {0, 0, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1};
        double[][] beta = fit(Samples.training(new double[][] {x}, y, 2), 0).beta();
        assertThat(beta[0][1]).isCloseTo(Math.log(1.0 / 3), within(1e-10));
        assertThat(beta[0][0]).isCloseTo(Math.log(6.0 / 2) - Math.log(1.0 / 3), within(1e-10));
    }

    /** The penalised likelihood, written out plainly. */
    private static double objective(Training t, double[][] beta, double strength, boolean symmetric) {
        double sum = 0;
        for (int i = 0; i < t.rows(); i++) {
            int row = i;
            int classes = symmetric ? beta.length : 2;
            double[] eta = new double[classes];
            for (int b = 0; b < beta.length; b++) {
                int c = symmetric ? b : 1;
                int p = beta[b].length - 1;
                eta[c] = beta[b][p];
                for (int j = 0; j < p; j++) {
                    eta[c] += beta[b][j] * t.table().columns().get(j).match(n -> n.get(row), k -> 0.0);
                }
            }
            double total = 0;
            for (double e : eta) {
                total += Math.exp(e);
            }
            sum += t.weight(i) * (Math.log(total) - eta[t.target(i)]);
        }
        for (double[] b : beta) {
            for (int j = 0; j < b.length - 1; j++) {
                sum += strength / 2 * b[j] * b[j];
            }
        }
        return sum;
    }

    /** At the minimum every partial derivative, by central differences of the plain objective, is 0. */
    @ParameterizedTest
    @CsvSource({"2,1", "2,0.01", "2,50", "3,1", "4,0.1", "3,30"})
    void partialDerivativesVanish(int classes, double strength) {
        Training t = Samples.normal(20 + classes, 80, 3, classes);
        double[][] beta = fit(t, strength).beta();
        double h = 1e-4;
        for (double[] b : beta) {
            for (int j = 0; j < b.length; j++) {
                double kept = b[j];
                b[j] = kept + h;
                double up = objective(t, beta, strength, classes > 2);
                b[j] = kept - h;
                double down = objective(t, beta, strength, classes > 2);
                b[j] = kept;
                assertThat((up - down) / (2 * h)).isCloseTo(0, within(1e-6));
            }
        }
    }

    /** Symmetric coefficients of two classes, ±β/2, pay half the penalty: strength s there is s/2 here. */
    @Test
    void multinomialOfTwoClassesIsBinaryWithHalfThePenalty() {
        Training t = Samples.normal(31, 60, 2, 2);
        double[][] x = Logistic.withIntercept(t.table());
        Likelihood symmetric = new Likelihood(x, Samples.targets(t), t.weights(), 2);
        double[] flat = new PenalisedFit(symmetric, 4, 0).minimise(PenalisedFit.Start.at(new double[2 * x.length]));
        Model multi = new Logistic.Linear(2, new int[] {0, 1}, Logistic.rows(flat, 2), 0);
        double[] binary = fit(t, 2).probabilities(t.table());
        assertThat(multi.probabilities(t.table())).containsExactly(binary, within(1e-7));
    }

    /** Size without a penalty is the number of coefficients, and falls towards the intercept as the penalty grows. */
    @Test
    void sizeCountsEffectiveCoefficients() {
        Training two = Samples.normal(32, 100, 3, 2);
        assertThat(fit(two, 0).size()).isCloseTo(4, within(1e-9));
        assertThat(fit(two, 1e9).size()).isCloseTo(1, within(1e-5));
        Training three = Samples.normal(33, 100, 3, 3);
        assertThat(fit(three, 1e-9).size()).isCloseTo(8, within(1e-5));
        assertThat(fit(three, 1e9).size()).isCloseTo(2, within(1e-5));
        // One column: h = Σ of w(1, x) (X'WX + P)⁻¹ (1, x)', with the 2 x 2 inverse by hand.
        Training one = Samples.normal(34, 50, 1, 2);
        Logistic.Linear model = fit(one, 3);
        double[] p = model.probabilities(one.table());
        double[] x = Training.columns(one.table())[0];
        double s0 = 0;
        double s1 = 0;
        double s2 = 0;
        for (int i = 0; i < x.length; i++) {
            double w = p[2 * i] * p[2 * i + 1];
            s0 += w;
            s1 += w * x[i];
            s2 += w * x[i] * x[i];
        }
        double determinant = s0 * (s2 + 3) - s1 * s1;
        double trace = ((s2 + 3) * s0 - 2 * s1 * s1 + s0 * s2) / determinant;
        assertThat(model.size()).isCloseTo(trace, within(1e-9));
    }

    @Test
    void withoutPenaltySeparationAndDependenceFailWithTheirReason() {
        Training apart = Samples.training(new double[][] {{-2, -1, 1, 2}}, new int[] {0, 0, 1, 1}, 2);
        assertThatThrownBy(() -> fit(apart, 0))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("set strength above 0");
        double[] x = {1, 2, 3, 4, 5, 6};
        Training twice = Samples.training(new double[][] {x, x}, new int[] {0, 1, 0, 1, 0, 1}, 2);
        assertThatThrownBy(() -> fit(twice, 0))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("linearly dependent");
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 3})
    void separatedClassesAreSaidToBeSoAndNotDependentColumns(int classes) {
        double[] x = IntStream.range(0, 30)
                .mapToDouble(i -> i % classes * 4 + 0.1 * (i % 7))
                .toArray();
        double[] noise = IntStream.range(0, 30).mapToDouble(i -> (i * 7) % 11).toArray();
        Training apart = Samples.training(
                new double[][] {x, noise},
                IntStream.range(0, 30).map(i -> i % classes).toArray(),
                classes);
        assertThatThrownBy(() -> fit(apart, 0))
                .isInstanceOf(FitFailure.class)
                .hasMessageContaining("the classes can be separated without error");
        assertThat(fit(apart, 1e-6).size()).isGreaterThan(1);
    }

    /** Nineteen classes that many columns nearly separate: the derivatives, written out anew, vanish at the end. */
    @ParameterizedTest
    @ValueSource(doubles = {1e-6, 1e-3, 0.1, 0.3, 1})
    void aPositivePenaltyAlwaysHasItsSolution(double strength) {
        Training plain = Samples.normal(36, 400, 30, 19);
        double[][] x = Training.columns(plain.table());
        for (int j = 0; j < x.length; j++) {
            for (int i = 0; i < 400; i++) {
                // Columns of zeros and ones, as of categories, beside numbers.
                x[j][i] = j % 2 == 0 ? (x[j][i] > 0.8 ? 1 : 0) : x[j][i] + (plain.target(i) * (j + 3)) % 19;
            }
        }
        Training t = Samples.training(x, plain.targets(), 19);
        Logistic.Linear model = fit(t, strength);
        double[] p = model.probabilities(t.table());
        double[][] beta = model.beta();
        for (int c = 0; c < 19; c++) {
            for (int j = 0; j <= x.length; j++) {
                double slope = j < x.length ? strength * beta[c][j] : 0;
                for (int i = 0; i < 400; i++) {
                    double value = j < x.length ? x[j][i] : 1;
                    slope += (p[i * 19 + c] - (t.target(i) == c ? 1 : 0)) * value;
                }
                assertThat(slope).isCloseTo(0, within(1e-6));
            }
        }
    }

    /** The conditions of a minimum, written out anew, for tables that a weak penalty nearly lets apart, and wide ones. */
    @ParameterizedTest
    @CsvSource({
        "19,400,30,1,1",
        "19,400,30,0.1,1",
        "19,400,30,0.001,0.5",
        "6,90,12,0.01,1",
        "4,60,80,0.1,1",
        "2,40,150,0.01,1",
        "2,200,40,0.001,0.3",
        "3,30,60,1,0.9"
    })
    void aSparseSolutionMeetsItsOptimalityConditions(int classes, int n, int p, double strength, double mix) {
        Training plain = Samples.normal(37, n, p, classes);
        double[][] x = Training.columns(plain.table());
        for (int j = 0; j < p; j++) {
            for (int i = 0; i < n; i++) {
                x[j][i] = j % 3 == 0 ? (x[j][i] > 0.8 ? 1 : 0) : x[j][i] + (plain.target(i) * (j + 3)) % 7;
            }
        }
        Training t = Samples.training(x, plain.targets(), classes);
        Logistic.Linear model = (Logistic.Linear) new Logistic(strength, mix).fit(t, Samples.chance());
        double[] prob = model.probabilities(t.table());
        double[][] beta = model.beta();
        int zeros = 0;
        for (int k = 0; k < beta.length; k++) {
            int c = beta.length == 1 ? 1 : k;
            for (int j = 0; j <= p; j++) {
                double slope = 0;
                for (int i = 0; i < n; i++) {
                    slope += (prob[i * classes + c] - (t.target(i) == c ? 1 : 0)) * (j < p ? x[j][i] : 1);
                }
                double b = beta[k][j];
                if (j < p && b == 0) {
                    zeros++;
                    assertThat(Math.abs(slope)).isLessThan(strength * mix + 1e-6);
                } else {
                    double penalty = j < p ? strength * (mix * Math.signum(b) + (1 - mix) * b) : 0;
                    assertThat(slope + penalty).isCloseTo(0, within(1e-6));
                }
            }
        }
        assertThat(zeros).isGreaterThan(p / 4);
    }

    /** What all classes' coefficients of a column can be moved by without another prediction, against a search. */
    @ParameterizedTest
    @CsvSource({"1,0", "1,0.5", "0.2,2", "0,1"})
    void coefficientsOfAllClassesAreMovedToTheLeastPenalty(double lasso, double ridge) {
        Penalty penalty = new Penalty(lasso, ridge, 2);
        for (double[] b : new double[][] {{1, 2, 4}, {-3, 0.5, 1, 7}, {2, 2, 2}, {-1, 0, 0, 6}, {5, -5}}) {
            double t = penalty.common(b, false);
            double at = spread(penalty, b, t);
            for (double other = -8; other < 8; other += 0.01) {
                assertThat(spread(penalty, b, other)).isGreaterThan(at - 1e-12);
            }
        }
        assertThat(penalty.common(new double[] {1, 2, 6}, true)).isEqualTo(3);
    }

    private static double spread(Penalty penalty, double[] b, double t) {
        return Arrays.stream(b).map(v -> penalty.of(new double[] {v - t, 0})).sum();
    }

    /** Of very many columns only the diagonals of the second derivatives are kept: the end is the same. */
    @ParameterizedTest
    @CsvSource({"2,1,1", "2,0.1,0.5", "4,1,1", "4,0.5,0.3", "3,2,0"})
    void withDiagonalsAloneItEndsWhereItEndsWithBlocks(int classes, double strength, double mix) {
        Training t = Samples.normal(74, 90, 40, classes);
        int parts = classes == 2 ? 1 : classes;
        double[][] x = Logistic.withIntercept(t.table());
        Likelihood likelihood = new Likelihood(x, Samples.targets(t), t.weights(), parts);
        PenalisedFit.Start start = PenalisedFit.Start.at(new double[parts * x.length]);
        double[] blocks = new PenalisedFit(likelihood, strength, mix).minimise(start);
        double[] diagonals = new PenalisedFit(likelihood, strength, mix, 0).minimise(start);
        assertThat(diagonals).containsExactly(blocks, within(1e-6));
    }

    /** From where the fit of all rows ended, a fold's fit ends where it does alone; with fewer levels than all rows too. */
    @ParameterizedTest
    @CsvSource({"2,0.3,0", "2,0.3,1", "4,1,0", "4,0.5,1", "11,0.2,0.5"})
    void aFoldEndsWhereItEndsAlone(int classes, double strength, double mix) {
        Training all = Samples.normal(73, 240, 6, classes);
        Logistic logistic = new Logistic(strength, mix);
        Training fold = Samples.select(all, IntStream.range(0, 210).toArray());
        Training fewer =
                Samples.training(Arrays.copyOf(Training.columns(fold.table()), 5), Samples.targets(fold), classes);
        for (Training part : List.of(fold, fewer)) {
            double[] near =
                    logistic.whole(all).orElseThrow().near(part).orElseThrow().probabilities(part.table());
            double[] alone = logistic.fit(part, Samples.chance()).probabilities(part.table());
            assertThat(near).containsExactly(alone, within(1e-7));
        }
    }

    @Test
    void manyColumnsAreNotTakenForDependentOnes() {
        Training wide = Samples.normal(35, 400, 70, 2);
        assertThat(fit(wide, 1).size()).isBetween(40.0, 71.0);
    }

    /**
     * The objective is smooth but for absolute values of single coefficients, so that a point from which no step along one
     * coefficient leads down is its minimum.
     */
    @ParameterizedTest
    @CsvSource({"2,1,1", "2,8,1", "2,5,0.5", "3,2,1", "3,4,0.3", "4,1,0.7", "2,0.01,1"})
    void noStepAlongACoefficientLeadsDownFromASparseSolution(int classes, double strength, double mix) {
        Training t = Samples.normal(60 + classes, 80, 6, classes);
        Logistic.Linear model = (Logistic.Linear) new Logistic(strength, mix).fit(t, Samples.chance());
        double[][] beta = model.beta();
        double least = sparse(t, beta, strength, mix);
        for (double[] b : beta) {
            for (int j = 0; j < b.length; j++) {
                double kept = b[j];
                for (double step : new double[] {1e-4, -1e-4, 1e-5, -1e-5}) {
                    b[j] = kept + step;
                    assertThat(sparse(t, beta, strength, mix)).isGreaterThan(least - 1e-11);
                }
                b[j] = kept;
            }
        }
        if (mix == 1 && classes == 2) {
            long kept = Arrays.stream(beta[0]).limit(6).filter(b -> b != 0).count();
            assertThat(model.size()).isEqualTo(kept + 1.0);
            assertThat(kept).isLessThan(strength == 8 ? 5 : 7);
        }
    }

    private static double sparse(Training t, double[][] beta, double strength, double mix) {
        double corners = Arrays.stream(beta)
                .flatMapToDouble(b -> Arrays.stream(b).limit(b.length - 1))
                .map(Math::abs)
                .sum();
        return objective(t, beta, strength * (1 - mix), beta.length > 1) + strength * mix * corners;
    }

    @Test
    void aLassoStrongEnoughLeavesTheInterceptAlone() {
        Training t = Samples.normal(70, 90, 4, 2);
        double[] weights = t.classWeights();
        double share = weights[1] / 90;
        double[][] x = Training.columns(t.table());
        double most = 0;
        for (double[] column : x) {
            double pull = IntStream.range(0, 90)
                    .mapToDouble(i -> column[i] * (t.target(i) - share))
                    .sum();
            most = Math.max(most, Math.abs(pull));
        }
        Logistic.Linear none = (Logistic.Linear) new Logistic(most * 1.0001, 1).fit(t, Samples.chance());
        assertThat(Arrays.copyOf(none.beta()[0], 4)).containsOnly(0);
        assertThat(none.beta()[0][4]).isCloseTo(Math.log(share / (1 - share)), within(1e-8));
        Logistic.Linear one = (Logistic.Linear) new Logistic(most * 0.999, 1).fit(t, Samples.chance());
        assertThat(Arrays.stream(one.beta()[0]).limit(4).filter(b -> b != 0).count())
                .isEqualTo(1);
    }

    /** Several strengths are fitted along their path; each is what it is alone. */
    @ParameterizedTest
    @CsvSource({"2,0", "2,1", "3,0", "3,0.5"})
    void aPathEndsWhereEachFitAloneEnds(int classes, double mix) {
        Training t = Samples.normal(71, 120, 5, classes);
        List<Logistic> all =
                Stream.of(0.3, 20.0, 1.0, 5.0).map(s -> new Logistic(s, mix)).toList();
        List<Model> path = Logistic.joint(all, t);
        for (int i = 0; i < all.size(); i++) {
            double[][] alone = ((Logistic.Linear) all.get(i).fit(t, Samples.chance())).beta();
            double[][] joint = ((Logistic.Linear) path.get(i)).beta();
            for (int k = 0; k < alone.length; k++) {
                assertThat(joint[k]).containsExactly(alone[k], within(1e-7));
            }
            assertThat(path.get(i).size())
                    .isCloseTo(all.get(i).fit(t, Samples.chance()).size(), within(1e-6));
        }
    }

    /** More columns than rows: the same minimum, found in the space of the rows. */
    @ParameterizedTest
    @CsvSource({"2", "3"})
    void moreColumnsThanRowsAreFittedInTheirRowsSpace(int classes) {
        Training wide = Samples.normal(72, 12, 30, classes);
        Logistic.Linear model = (Logistic.Linear) new Logistic(2, 0).fit(wide, Samples.chance());
        double[][] beta = model.beta();
        double h = 1e-4;
        for (double[] b : beta) {
            for (int j = 0; j < b.length; j++) {
                double kept = b[j];
                b[j] = kept + h;
                double up = objective(wide, beta, 2, classes > 2);
                b[j] = kept - h;
                double down = objective(wide, beta, 2, classes > 2);
                b[j] = kept;
                assertThat((up - down) / (2 * h)).isCloseTo(0, within(1e-6));
            }
        }
        if (classes == 2) {
            double[] p = model.probabilities(wide.table());
            double[] curvature = IntStream.range(0, 12)
                    .mapToDouble(i -> p[2 * i] * p[2 * i + 1])
                    .toArray();
            assertThat(model.size())
                    .isCloseTo(Logistic.hatTrace(Logistic.withIntercept(wide.table()), curvature, 2), within(1e-8));
        }
    }
}
