package keenfold.core.data;

import java.util.random.RandomGenerator;
import java.util.random.RandomGeneratorFactory;

/**
 * The one source of random numbers: L64X128MixRandom, started from a {@link Seed}.
 *
 * <p>Only the generator's 64-bit words are used; bounded integers, uniforms and shuffles are made from them here, so
 * that the same seed gives the same numbers on every JDK. Not safe for several threads.
 *
 * <p>Reference: Steele and Vigna (2021), LXM: better splittable pseudorandom number generators, OOPSLA,
 * doi:10.1145/3485525.
 */
public final class Chance {
    private static final RandomGeneratorFactory<RandomGenerator> FACTORY =
            RandomGeneratorFactory.of("L64X128MixRandom");

    private final RandomGenerator words;

    Chance(Seed seed) {
        this.words = FACTORY.create(seed.value());
    }

    /**
     * Returns a whole number drawn evenly from 0 … bound − 1.
     *
     * <p>Lemire's multiply-and-shift with rejection, which is exactly even.
     *
     * <p>Reference: Lemire (2019), ACM Trans. Model. Comput. Simul. 29(1), doi:10.1145/3230636.
     *
     * @throws IllegalArgumentException if {@code bound < 1}
     */
    public int below(int bound) {
        Checks.atLeast("bound", bound, 1);
        long product = (words.nextLong() >>> 32) * bound;
        long low = product & 0xFFFFFFFFL;
        if (low < bound) {
            long threshold = (1L << 32) % bound;
            while (low < threshold) {
                product = (words.nextLong() >>> 32) * bound;
                low = product & 0xFFFFFFFFL;
            }
        }
        return (int) (product >>> 32);
    }

    /** Returns a number drawn evenly from the open interval (0, 1), a multiple of 2⁻⁵³ plus 2⁻⁵⁴. */
    public double uniform() {
        return ((words.nextLong() >>> 11) + 0.5) * 0x1.0p-53;
    }

    /** Returns a standard normal number (polar method of Marsaglia and Bray, 1964, doi:10.1137/1006063). */
    public double normal() {
        while (true) {
            double u = 2 * uniform() - 1;
            double v = 2 * uniform() - 1;
            double s = u * u + v * v;
            if (s > 0 && s < 1) {
                return u * Math.sqrt(-2 * StrictMath.log(s) / s);
            }
        }
    }

    /** Puts the values into an order drawn evenly from all orders (Fisher and Yates; Durstenfeld 1964). */
    public void shuffle(int[] values) {
        for (int i = values.length - 1; i > 0; i--) {
            int j = below(i + 1);
            int kept = values[i];
            values[i] = values[j];
            values[j] = kept;
        }
    }
}
