package keenfold.core.data;

import java.util.function.Function;

/** One named column of a {@link Table}: {@link Numbers} or {@link Categories}. */
public sealed interface Column permits Numbers, Categories {
    /** Returns the column's name, unique in its table. */
    String name();

    /** Returns the number of rows. */
    int rows();

    /** Returns whether the value of a row is missing. */
    boolean missing(int row);

    /** Returns the column made of the given rows, in their order; a row may be named more than once. */
    Column select(int[] rows);

    /** Returns what the function that fits this kind of column gives. */
    <T> T match(Function<? super Numbers, ? extends T> numbers, Function<? super Categories, ? extends T> categories);

    /** Returns how many values are missing. */
    default int countMissing() {
        int count = 0;
        for (int i = 0; i < rows(); i++) {
            if (missing(i)) {
                count++;
            }
        }
        return count;
    }
}
