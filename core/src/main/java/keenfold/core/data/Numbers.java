package keenfold.core.data;

import java.util.function.Function;

/** A column of numbers; NaN stands for a missing one. */
public final class Numbers implements Column {
    private final String name;
    private final double[] values;

    private Numbers(String name, double[] values) {
        this.name = name;
        this.values = values;
    }

    /**
     * Returns a column of a copy of the values.
     *
     * @throws IllegalArgumentException if a value is infinite
     */
    public static Numbers of(String name, double... values) {
        for (int i = 0; i < values.length; i++) {
            Checks.that(
                    !Double.isInfinite(values[i]),
                    "column \"%s\", row %d: %s is not a finite number",
                    name,
                    i + 1,
                    values[i]);
        }
        return new Numbers(name, values.clone());
    }

    /** Returns a column that keeps {@code values} itself, which the caller promises never to change again. */
    public static Numbers owning(String name, double[] values) {
        return new Numbers(name, values);
    }

    @Override
    public String name() {
        return name;
    }

    @Override
    public int rows() {
        return values.length;
    }

    /** Returns the value of a row, NaN if it is missing. */
    public double get(int row) {
        return values[row];
    }

    @Override
    public boolean missing(int row) {
        return Double.isNaN(values[row]);
    }

    @Override
    public Numbers select(int[] rows) {
        double[] chosen = new double[rows.length];
        for (int i = 0; i < rows.length; i++) {
            chosen[i] = values[rows[i]];
        }
        return new Numbers(name, chosen);
    }

    /** Returns a copy of the values. */
    public double[] toArray() {
        return values.clone();
    }

    @Override
    public <T> T match(
            Function<? super Numbers, ? extends T> numbers, Function<? super Categories, ? extends T> categories) {
        return numbers.apply(this);
    }
}
