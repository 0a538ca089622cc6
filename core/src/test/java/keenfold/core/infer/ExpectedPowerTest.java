package keenfold.core.infer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.OptionalDouble;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.run.Trials;
import keenfold.core.split.KFold;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.RollingOrigin;
import org.junit.jupiter.api.Test;

class ExpectedPowerTest {
    private static final DataSet DATA = Trials.data("d", 3, 200, 1, 0);

    /** By hand: 0.35/√200 = 0.02475; (1.96 + 0.84)·0.02475 = 0.0693; of 45 pairs q = 3.26. */
    @Test
    void severalPartitionsFollowTheRule() {
        ExpectedPower power = ExpectedPower.of(new KFold(10, 10, true).divide(DATA, 1), 10, 0.95)
                .orElseThrow();
        assertThat(power.alone()).isCloseTo(0.0693, within(0.0001));
        assertThat(power.pairs()).isEqualTo(45);
        assertThat(power.amongAll()).isCloseTo(0.02475 * (3.26 + 0.84), within(0.0002));
    }

    /** One partition: √((1 + 10/9)/1.3) times as much; 20 random fifths: (1/20 + 40/160)·200/40/1.3 of the variance. */
    @Test
    void otherSplitsSeeLess() {
        double several = ExpectedPower.of(new KFold(10, 10, true).divide(DATA, 1), 2, 0.95)
                .orElseThrow()
                .alone();
        double one = ExpectedPower.of(new KFold(10, 1, true).divide(DATA, 1), 2, 0.95)
                .orElseThrow()
                .alone();
        assertThat(one / several).isCloseTo(Math.sqrt((1 + 10 / 9.0) / 1.3), within(1e-3));
        double random = ExpectedPower.of(new MonteCarlo(0.2, 20, true).divide(DATA, 1), 2, 0.95)
                .orElseThrow()
                .alone();
        assertThat(random / several).isCloseTo(Math.sqrt((1 / 20.0 + 0.25) * 5 / 1.3), within(1e-2));
    }

    @Test
    void whereNothingIsCalledNothingIsPromised() {
        double[] when = IntStream.range(0, 200).asDoubleStream().toArray();
        DataSet inOrder = DATA.withOrder(Numbers.of("when", when));
        assertThat(ExpectedPower.of(new RollingOrigin(0.5, 0.1, 0, OptionalDouble.empty()).divide(inOrder, 1), 3, 0.95))
                .isEmpty();
        assertThat(ExpectedPower.of(new KFold(5, 2, true).divide(DATA, 1), 1, 0.95))
                .isEmpty();
    }
}
