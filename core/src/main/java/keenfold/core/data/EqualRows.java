package keenfold.core.data;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;

/** Rows that are equal in every column of a table; missing values are equal to each other. */
public final class EqualRows {
    private EqualRows() {}

    /** Returns how many rows repeat an earlier one, up to a hash of 64 bits. */
    public static int copies(Table table) {
        if (table.columns().isEmpty()) {
            return 0;
        }
        long[] hashes = hashes(table);
        Arrays.sort(hashes);
        int copies = 0;
        for (int i = 1; i < hashes.length; i++) {
            copies += hashes[i] == hashes[i - 1] ? 1 : 0;
        }
        return copies;
    }

    /** Returns per row the first row that is equal to it: itself, if none before it is. */
    public static int[] firsts(Table table) {
        long[] hashes = hashes(table);
        Map<Long, Integer> seen = new HashMap<>();
        int[] first = new int[table.rows()];
        for (int i = 0; i < first.length; i++) {
            long key = hashes[i];
            Integer there = seen.get(key);
            // Two rows may share a hash without being equal: then the next free key is this row's.
            while (there != null && !equal(table, there, i)) {
                there = seen.get(++key);
            }
            if (there == null) {
                seen.put(key, i);
            }
            first[i] = there == null ? i : there;
        }
        return first;
    }

    private static boolean equal(Table table, int a, int b) {
        return table.columns().stream()
                .allMatch(column -> column.match(
                        n -> Double.doubleToLongBits(n.get(a) + 0.0) == Double.doubleToLongBits(n.get(b) + 0.0),
                        c -> c.code(a) == c.code(b)));
    }

    private static long[] hashes(Table table) {
        long[] hashes = new long[table.rows()];
        for (Column column : table.columns()) {
            column.match(
                    n -> {
                        for (int i = 0; i < hashes.length; i++) {
                            hashes[i] = mix(hashes[i], Double.doubleToLongBits(n.get(i) + 0.0));
                        }
                        return n;
                    },
                    c -> {
                        for (int i = 0; i < hashes.length; i++) {
                            hashes[i] = mix(hashes[i], c.code(i));
                        }
                        return c;
                    });
        }
        return hashes;
    }

    private static long mix(long hash, long value) {
        long x = (hash ^ value) * 0x9E3779B97F4A7C15L;
        return x ^ (x >>> 29);
    }
}
