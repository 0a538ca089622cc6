package keenfold.core.data;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class RandomSourceTest {
    @Test
    void sameSeedSameNumbersAndNamesTellSeedsApart() {
        Seed seed = new Seed(1);
        assertThat(seed.with("a").with(2).chance().uniform())
                .isEqualTo(seed.with("a").with(2).chance().uniform());
        assertThat(seed.with("a").with(2)).isNotEqualTo(seed.with("a").with(3));
        assertThat(seed.with("ab").with("c")).isNotEqualTo(seed.with("a").with("bc"));
        assertThat(seed.with("a").with("b")).isNotEqualTo(seed.with("b").with("a"));
    }

    @Test
    void belowIsEven() {
        RandomSource chance = new Seed(5).chance();
        int[] counts = new int[7];
        int n = 70_000;
        for (int i = 0; i < n; i++) {
            counts[chance.below(7)]++;
        }
        double chiSquare = Arrays.stream(counts)
                .mapToDouble(c -> (c - n / 7.0) * (c - n / 7.0) / (n / 7.0))
                .sum();
        // The 99.9 % quantile of the chi-square distribution with 6 degrees of freedom, from a printed table.
        assertThat(chiSquare).isLessThan(22.46);
        assertThatThrownBy(() -> chance.below(0)).hasMessageContaining("bound = 0");
    }

    @Test
    void shuffleGivesEachOrderAlike() {
        RandomSource chance = new Seed(6).chance();
        int[] counts = new int[27];
        for (int i = 0; i < 6000; i++) {
            int[] order = {0, 1, 2};
            chance.shuffle(order);
            counts[order[0] * 9 + order[1] * 3 + order[2]]++;
        }
        assertThat(IntStream.of(counts).filter(c -> c > 0).count()).isEqualTo(6);
        // Six orders of 1000 each, four standard deviations either way.
        assertThat(IntStream.of(counts).filter(c -> c > 0)).allMatch(c -> Math.abs(c - 1000) < 4 * 29);
    }

    @Test
    void normalHasMeanZeroAndVarianceOne() {
        RandomSource chance = new Seed(7).chance();
        double[] x =
                IntStream.range(0, 40_000).mapToDouble(i -> chance.normal()).toArray();
        double mean = Arrays.stream(x).average().orElseThrow();
        assertThat(mean).isCloseTo(0, within(0.02));
        assertThat(Arrays.stream(x).map(v -> v * v).average().orElseThrow()).isCloseTo(1, within(0.03));
    }

    @Test
    void itsWordsAreThoseOfTheGeneratorOfThatNameInJava() {
        for (long value : new long[] {0, 1, -1, 42, Long.MIN_VALUE, 0x6A09E667F3BCC909L, 123456789012345L}) {
            java.util.random.RandomGenerator theirs = java.util.random.RandomGeneratorFactory.of("L64X128MixRandom")
                    .create(value);
            RandomSource chance = new Seed(value).chance();
            for (int i = 0; i < 1000; i++) {
                assertThat(chance.word()).isEqualTo(theirs.nextLong());
            }
        }
    }
}
