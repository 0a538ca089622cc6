package keenfold.core.data;

import java.util.Arrays;
import java.util.List;

/** Immutable lists of numbers from arrays, and arrays from them. */
public final class Lists {
    private Lists() {}

    /** Returns whole numbers as a list. */
    public static List<Integer> of(int[] numbers) {
        return Arrays.stream(numbers).boxed().toList();
    }

    /** Returns rows of numbers, which may be of different lengths, as a list. */
    public static List<Vector> of(double[][] rows) {
        return Arrays.stream(rows).map(Vector::of).toList();
    }

    /** Returns whole numbers as an array. */
    public static int[] ints(List<Integer> numbers) {
        return numbers.stream().mapToInt(Integer::intValue).toArray();
    }

    /** Returns rows of numbers as arrays. */
    public static double[][] rows(List<Vector> rows) {
        return rows.stream().map(Vector::toArray).toArray(double[][]::new);
    }
}
