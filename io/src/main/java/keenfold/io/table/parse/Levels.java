package keenfold.io.table.parse;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** The different texts of a column, numbered by first appearance: a hash table without a box per value. */
final class Levels {
    private static final int FIRST_CAPACITY = 64;

    private final List<String> texts = new ArrayList<>();
    private int[] slots = empty(FIRST_CAPACITY);

    private static int[] empty(int capacity) {
        int[] slots = new int[capacity];
        Arrays.fill(slots, -1);
        return slots;
    }

    /** The number of a text, which is the number of texts so far if it is new; it is kept then. */
    int of(char[] text, int from, int length) {
        int slot = find(text, from, length, slots);
        if (slots[slot] >= 0) {
            return slots[slot];
        }
        int code = texts.size();
        texts.add(new String(text, from, length));
        slots[slot] = code;
        if (2 * texts.size() > slots.length) {
            int[] larger = empty(2 * slots.length);
            for (int i = 0; i < texts.size(); i++) {
                char[] own = texts.get(i).toCharArray();
                larger[find(own, 0, own.length, larger)] = i;
            }
            slots = larger;
        }
        return code;
    }

    /** The slot that holds a text, or the free one where it belongs. */
    private int find(char[] text, int from, int length, int[] in) {
        int hash = 0;
        for (int i = from; i < from + length; i++) {
            hash = 31 * hash + text[i];
        }
        hash *= 0x9E3779B9;
        int mask = in.length - 1;
        int slot = (hash ^ (hash >>> 15)) & mask;
        while (in[slot] >= 0 && !equal(texts.get(in[slot]), text, from, length)) {
            slot = (slot + 1) & mask;
        }
        return slot;
    }

    private static boolean equal(String level, char[] text, int from, int length) {
        if (level.length() != length) {
            return false;
        }
        for (int i = 0; i < length; i++) {
            if (level.charAt(i) != text[from + i]) {
                return false;
            }
        }
        return true;
    }

    int count() {
        return texts.size();
    }

    List<String> texts() {
        return texts;
    }
}
