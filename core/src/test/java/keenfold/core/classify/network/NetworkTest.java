package keenfold.core.classify.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.Model;
import keenfold.core.classify.Samples;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NetworkTest {
    @ParameterizedTest
    @CsvSource({"1, 3, 2", "2, 4, 3", "3, 2, 4"})
    void derivativesAreThoseOfFiniteDifferences(int layers, int units, int classes) {
        // More rows than are worked at a time.
        int rows = RowBlock.ROWS + 25;
        Training training = Samples.normal(layers, rows, 3, classes);
        double[] weights = IntStream.range(0, rows).mapToDouble(i -> 1 + i % 3).toArray();
        int[] present = IntStream.range(0, classes).toArray();
        Shape shape = new Shape(3, layers, units, classes == 2 ? 1 : classes);
        PenalisedLoss loss = new PenalisedLoss(shape, training.withWeights(weights), present, 0.7);
        double[] at = shape.draw(new Seed(9).chance());
        double[] gradient = new double[at.length];
        loss.at(at, gradient);
        for (int k = 0; k < at.length; k++) {
            double[] up = at.clone();
            double[] down = at.clone();
            up[k] += 1e-5;
            down[k] -= 1e-5;
            assertThat(gradient[k]).isCloseTo((loss.of(up) - loss.of(down)) / 2e-5, within(1e-5));
        }
    }

    @Test
    void aNetworkOfOneUnitIsWorkedByHand() {
        // p = 1/(1 + exp(−(2·tanh(0.5·1 − 0.2) + 0.1))), the row is of the second class and counts three times.
        Shape shape = new Shape(1, 1, 1, 1);
        Training one = Samples.training(new double[][] {{1}}, new int[] {1}, 2).withWeights(new double[] {3});
        double score = 2 * Math.tanh(0.3) + 0.1;
        assertThat(new PenalisedLoss(shape, one, new int[] {0, 1}, 0.4).of(new double[] {0.5, -0.2, 2, 0.1}))
                .isCloseTo(3 * Math.log1p(Math.exp(-score)) + 0.2 * (0.25 + 4), within(1e-13));
    }

    @Test
    void descentEndsWhereNothingIsSteep() {
        // A quadratic function of badly scaled variables has its minimum where it is known to be.
        Descent descent = new Descent(
                (x, g) -> {
                    double sum = 0;
                    for (int k = 0; k < x.length; k++) {
                        double scale = Math.pow(10, k);
                        sum += scale * (x[k] - k) * (x[k] - k) / 2;
                        g[k] = scale * (x[k] - k);
                    }
                    return sum;
                },
                new double[6]);
        double before = descent.value();
        for (int step = 0; step < 500 && descent.steepness() > 1e-9 && descent.step(); step++) {
            assertThat(descent.value()).isLessThan(before);
            before = descent.value();
        }
        assertThat(descent.at()).containsExactly(new double[] {0, 1, 2, 3, 4, 5}, within(1e-7));
    }

    /** Patience only says after how many steps to end; all rows are trained on. */
    @Test
    void patienceEndsTrainingOnAllRows() {
        Training training = Samples.normal(6, 90, 3, 2);
        double[] patient = new Network(1, 5, 0.1, 60, 4, 0.3, true)
                .fit(training, Samples.chance())
                .probabilities(training.table());
        // The rows to watch are drawn first, with one word of the random numbers.
        List<double[]> bySteps = IntStream.rangeClosed(1, 60)
                .mapToObj(steps -> {
                    RandomSource chance = Samples.chance();
                    chance.word();
                    return new Network(1, 5, 0.1, steps, 0, 0.3, true)
                            .fit(training, chance)
                            .probabilities(training.table());
                })
                .toList();
        assertThat(bySteps).anyMatch(p -> Arrays.equals(p, patient));
        assertThat(bySteps.get(59)).isNotEqualTo(patient);
    }

    @Test
    void withoutUnitsTheTableSaysHowMany() {
        Training training = Samples.normal(6, 40, 3, 2);
        assertThat(new Network(1, 0, 1, 3, 0, 0.2, true)
                        .fit(training, Samples.chance())
                        .size())
                .isEqualTo(32 * 4 + 33);
        assertThat(Network.unitsFor(20, 5)).isEqualTo(50);
        assertThat(Network.unitsFor(300, 5)).isEqualTo(64);
    }

    @Test
    void underAnEndlessPenaltyOnlyTheClassSharesAreLeft() {
        Training training = Samples.normal(5, 60, 3, 3);
        double[] shares =
                Arrays.stream(training.classWeights()).map(w -> w / 60).toArray();
        double[] p = new Network(1, 4, 1e7, 2000, 0, 0.2, true)
                .fit(training, Samples.chance())
                .probabilities(training.table());
        for (int i = 0; i < p.length; i++) {
            assertThat(p[i]).isCloseTo(shares[i % 3], within(1e-3));
        }
    }

    @Test
    void aWeightOfTwoIsTheRowTwice() {
        Training once = Samples.normal(4, 30, 2, 3);
        double[] weights = IntStream.range(0, 30).mapToDouble(i -> 1 + i % 2).toArray();
        int[] twice =
                IntStream.range(0, 45).map(t -> t < 30 ? t : 2 * (t - 30) + 1).toArray();
        Network network = new Network(2, 3, 0.3, 25, 0, 0.2, true);
        double[] weighted =
                network.fit(once.withWeights(weights), Samples.chance()).probabilities(once.table());
        assertThat(network.fit(once.select(twice), Samples.chance()).probabilities(once.table()))
                .containsExactly(weighted, within(1e-6));
    }

    @Test
    void oneHiddenLayerLearnsWhatNoLineDivides() {
        RandomSource chance = new Seed(8).chance();
        double[][] x = new double[2][400];
        int[] y = new int[400];
        for (int i = 0; i < 400; i++) {
            x[0][i] = chance.normal();
            x[1][i] = chance.normal();
            y[i] = x[0][i] * x[1][i] > 0 ? 1 : 0;
        }
        Training all = Samples.training(x, y, 2);
        Training train = all.select(IntStream.range(0, 300).toArray());
        Training test = all.select(IntStream.range(300, 400).toArray());
        Model model = new Network(1, 8, 0.01, 300, 0, 0.2, true).fit(train, Samples.chance());
        double[] p = model.probabilities(test.table());
        long wrong = IntStream.range(0, 100)
                .filter(i -> (p[2 * i + 1] > 0.5 ? 1 : 0) != test.target(i))
                .count();
        assertThat(wrong).isLessThan(12);
        assertThat(model.size()).isEqualTo(8 * 3 + 9);
    }

    @Test
    void patienceKeepsANetworkFromLearningNoise() {
        RandomSource chance = new Seed(2).chance();
        double[][] x = new double[6][120];
        int[] y = new int[120];
        for (int i = 0; i < 120; i++) {
            for (double[] column : x) {
                column[i] = chance.normal();
            }
            y[i] = x[0][i] + 1.5 * chance.normal() > 0 ? 1 : 0;
        }
        Training all = Samples.training(x, y, 2);
        Training train = all.select(IntStream.range(0, 80).toArray());
        Training test = all.select(IntStream.range(80, 120).toArray());
        assertThat(loss(new Network(1, 12, 0, 500, 5, 0.25, true), train, test))
                .isLessThan(loss(new Network(1, 12, 0, 500, 0, 0.25, true), train, test) / 2);
    }

    private static double loss(Network network, Training train, Training test) {
        double[] p = network.fit(train, Samples.chance()).probabilities(test.table());
        double sum = 0;
        for (int i = 0; i < test.rows(); i++) {
            sum -= Math.log(Math.max(1e-12, p[2 * i + test.target(i)]));
        }
        return sum / test.rows();
    }
}
