package keenfold.io.table;

import java.io.IOException;
import java.nio.file.Path;

/**
 * A file format that an optional part of the program reads. Parts are found on the class path by Java's service loader.
 */
public interface TablePart {
    /** Returns the format's name, such as {@code parquet}. */
    String format();

    /**
     * Hands over the columns' names, then every value of every row.
     *
     * @throws IOException if the file cannot be read; the message goes to the user
     */
    void feed(Path file, TableSink intake) throws IOException;
}
