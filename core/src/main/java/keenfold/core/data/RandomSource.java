package keenfold.core.data;

/**
 * The one source of random numbers: the generator L64X128Mix, started from a {@link Seed}.
 *
 * <p>Definition: a linear congruential part s ← M·s + a and a xoroshiro128 part (x₀, x₁); a word is Lea's mix of s + x₀.
 * These are the very words of Java's own generator of that name, written out here because looking that one up takes as long
 * as a short run. Bounded integers, uniforms and shuffles are made from the words here as well, so that the same seed gives
 * the same numbers on every JDK. Not safe for several threads.
 *
 * <p>Reference: Steele and Vigna (2021), LXM: better splittable pseudorandom number generators, OOPSLA,
 * doi:10.1145/3485525.
 */
public final class RandomSource {
    private static final long MULTIPLIER = 0xD1342543DE82EF95L;
    private static final long GOLDEN = 0x9E3779B97F4A7C15L;
    private static final long SILVER = 0x6A09E667F3BCC909L;
    private static final long LEA = 0xDABA0B6EB09322E3L;

    private final long addend;
    private long linear = 1;
    private long x0;
    private long x1;

    RandomSource(Seed seed) {
        long start = seed.value() ^ SILVER;
        this.addend = murmur(start) | 1;
        this.x0 = stafford(start);
        this.x1 = stafford(start + GOLDEN);
        if ((x0 | x1) == 0) {
            this.x0 = stafford(linear + GOLDEN);
            this.x1 = stafford(linear + GOLDEN + GOLDEN);
        }
    }

    /** Returns the next word, each of 2⁶⁴ as likely as any other. */
    public long word() {
        long z = linear + x0;
        z = (z ^ (z >>> 32)) * LEA;
        z = (z ^ (z >>> 32)) * LEA;
        z ^= z >>> 32;
        linear = MULTIPLIER * linear + addend;
        long q0 = x0;
        long q1 = x1 ^ q0;
        x0 = Long.rotateLeft(q0, 24) ^ q1 ^ (q1 << 16);
        x1 = Long.rotateLeft(q1, 37);
        return z;
    }

    private static long murmur(long value) {
        long z = (value ^ (value >>> 33)) * 0xFF51AFD7ED558CCDL;
        z = (z ^ (z >>> 33)) * 0xC4CEB9FE1A85EC53L;
        return z ^ (z >>> 33);
    }

    private static long stafford(long value) {
        long z = (value ^ (value >>> 30)) * 0xBF58476D1CE4E5B9L;
        z = (z ^ (z >>> 27)) * 0x94D049BB133111EBL;
        return z ^ (z >>> 31);
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
        long product = (word() >>> 32) * bound;
        long low = product & 0xFFFFFFFFL;
        if (low < bound) {
            long threshold = (1L << 32) % bound;
            while (low < threshold) {
                product = (word() >>> 32) * bound;
                low = product & 0xFFFFFFFFL;
            }
        }
        return (int) (product >>> 32);
    }

    /** Returns a number drawn evenly from the open interval (0, 1), a multiple of 2⁻⁵³ plus 2⁻⁵⁴. */
    public double uniform() {
        return ((word() >>> 11) + 0.5) * 0x1.0p-53;
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
