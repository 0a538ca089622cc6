package keenfold.core.data;

import java.util.Arrays;
import java.util.stream.DoubleStream;

/** Numbers in a fixed order. Immutable; two are equal if they have the same numbers, NaN included. */
public final class Vector {
    private final double[] values;

    private Vector(double[] values) {
        this.values = values;
    }

    /** Returns a copy of numbers. */
    public static Vector of(double... values) {
        return new Vector(values.clone());
    }

    /** Returns how many there are. */
    public int size() {
        return values.length;
    }

    /** Returns one of them. */
    public double get(int i) {
        return values[i];
    }

    /** Returns them in order. */
    public DoubleStream stream() {
        return Arrays.stream(values);
    }

    /** Returns a copy. */
    public double[] toArray() {
        return values.clone();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Vector vector && Arrays.equals(values, vector.values);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(values);
    }

    @Override
    public String toString() {
        return Arrays.toString(values);
    }
}
