package keenfold.core.classify.tree;

import java.util.Arrays;

/**
 * The bins of a column that are looked at, as bits: bin b is bit {@code b % 64} of word {@code b / 64}. The search goes
 * through the words themselves, which is what growing spends its time on.
 */
final class OccupiedBins {
    private final long[] words = new long[Binned.MOST / Long.SIZE];

    /** Returns the words; they change with what is marked. */
    long[] words() {
        return words;
    }

    /** Marks bins 0 to {@code bins} − 1, and no others. */
    void markFirst(int bins) {
        for (int word = 0; word < words.length; word++) {
            int left = bins - word * Long.SIZE;
            words[word] = left >= Long.SIZE ? -1L : left > 0 ? (1L << left) - 1 : 0;
        }
    }

    /** Marks no bin. */
    void markNone() {
        Arrays.fill(words, 0);
    }
}
