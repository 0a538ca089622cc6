package keenfold.core.data;

import java.nio.charset.StandardCharsets;

/**
 * A 64-bit seed from which others are derived by name, so that what one part of a comparison draws never depends on
 * which other parts there are, nor on their order.
 *
 * <p>Definition: {@code with(x)} absorbs x into the state by a multiply-and-mix step whose finaliser is Stafford's
 * thirteenth variant; text is absorbed as its UTF-8 bytes (FNV-1a) followed by its length. The result depends on the
 * order of the derivations: {@code seed.with("a").with(1)} differs from {@code seed.with(1).with("a")}.
 *
 * <p>Reference: Steele, Lea and Flood (2014), Fast splittable pseudorandom number generators, OOPSLA,
 * doi:10.1145/2660193.2660195.
 *
 * @param value the state
 */
public record Seed(long value) {
    private static final long GOLDEN = 0x9E3779B97F4A7C15L;
    private static final long FNV_OFFSET = 0xCBF29CE484222325L;
    private static final long FNV_PRIME = 0x100000001B3L;

    /** Returns the seed of part {@code number} of what this seed stands for. */
    public Seed with(long number) {
        return new Seed(mix(value * GOLDEN + mix(number + GOLDEN)));
    }

    /** Returns the seed of the part called {@code name}. */
    public Seed with(String name) {
        byte[] bytes = name.getBytes(StandardCharsets.UTF_8);
        long hash = FNV_OFFSET;
        for (byte b : bytes) {
            hash = (hash ^ (b & 0xFF)) * FNV_PRIME;
        }
        return with(hash).with(bytes.length);
    }

    /** Returns a new generator started from this seed. */
    public RandomSource chance() {
        return new RandomSource(this);
    }

    private static long mix(long z) {
        long x = (z ^ (z >>> 30)) * 0xBF58476D1CE4E5B9L;
        x = (x ^ (x >>> 27)) * 0x94D049BB133111EBL;
        return x ^ (x >>> 31);
    }
}
