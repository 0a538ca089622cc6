package keenfold.io.table;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.stream.StreamSupport;
import java.util.zip.GZIPInputStream;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.table.parse.ColumnBuilder;
import keenfold.io.table.parse.MixedColumnException;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import org.jspecify.annotations.Nullable;

/**
 * Reads tables into typed columns: delimited text and JSON Lines, either of them perhaps gzipped, and tables of SQLite
 * files. Which one it is, is seen from how the file begins.
 *
 * <p>A column is one of numbers if each value that is not missing is a number; of dates if each is an ISO date; otherwise
 * of categories, unless at least nine values in ten are numbers: then the first word is refused with its line, being more
 * likely a slip. White space around a value is left out.
 *
 * <p>Cost: one pass; two where a column turns from numbers to words on the way.
 */
public final class TableReader {
    private static final byte[] SQLITE = "SQLite format 3\0".getBytes(StandardCharsets.US_ASCII);
    private static final byte[] PARQUET = "PAR1".getBytes(StandardCharsets.US_ASCII);

    private final TableLocation where;
    private final TableFormat format;

    private TableReader(TableLocation where, TableFormat format) {
        this.where = where;
        this.format = format;
    }

    /**
     * Reads a table.
     *
     * @throws InputException if it cannot be read as a table, with line and column, or if a word stands in a column nine
     *     tenths of which are numbers, or one that holds numbers in disguise
     */
    public static ReadTable read(TableLocation where, TableFormat format) {
        ReadTable table = readAsItIs(where, format);
        List<MixedColumnException.MixedColumn> mixed = new ArrayList<>();
        for (ReadColumn column : table.columns()) {
            String name = column.column().name();
            if (!format.text().contains(name)) {
                Optional<MixedColumnException.MixedColumn> words =
                        column.stray().flatMap(s -> ColumnBuilder.mixed(where.shown(), name, s));
                if (words.isPresent()) {
                    mixed.add(words.get());
                } else if (column.disguised().isPresent()) {
                    throw ColumnBuilder.disguise(
                            where.shown(), name, column.disguised().get());
                }
            }
        }
        if (!mixed.isEmpty()) {
            throw new MixedColumnException(mixed);
        }
        return table;
    }

    /** Reads a table in which words may stand among numbers; {@link ReadColumn#stray} tells of them. */
    public static ReadTable readAsItIs(TableLocation where, TableFormat format) {
        TableReader reader = new TableReader(where, format);
        TableSink first = reader.pass(Set.of());
        Set<String> mixed = first.mixed();
        ReadTable table = mixed.isEmpty() ? first.table() : reader.pass(mixed).table();
        if (table.rows() == 0) {
            throw new InputException(where.shown(), "there is no row below the line of column names");
        }
        return table;
    }

    /** What to add to a complaint about a column that is not there, where the whole line was taken for one name. */
    public static String hintOfOneColumn(List<String> names) {
        if (names.size() != 1) {
            return "";
        }
        // A separator that was named, and is not the file's.
        return names.get(0).matches(".*[,;|\t].*")
                ? "; the first line was taken for one name: leave out separator (--separator), or name the"
                        + " character between the fields"
                : names.get(0).matches(".*[\\s:~^#].*")
                        ? "; the first line was taken for one name: fields are separated by , ; | or tab, so write it with one"
                                + " of these"
                        : "";
    }

    /** What is done with the rows of a table, one after another. */
    public interface Rows {
        /** Takes the names of the columns, once, before any row. */
        void names(List<String> names);

        /**
         * Takes a row.
         *
         * @param values as they stand in the file, white space around them left out; null for a missing one
         * @param place of the row, such as {@code line 7}
         */
        void row(@Nullable String[] values, String place);
    }

    /**
     * Hands over a table row by row, in memory that does not grow with it.
     *
     * @throws InputException if it cannot be read as a table, with line and column
     */
    public static void rows(TableLocation where, TableFormat format, Rows rows) {
        TableReader reader = new TableReader(where, format);
        RowIntake intake = new RowIntake(where.shown(), reader.unit(), format, rows);
        try {
            reader.pass(intake);
        } catch (RuntimeException e) {
            throw intake.failure().orElse(e);
        }
    }

    private String unit() {
        byte[] start = start();
        return starts(start, SQLITE) || starts(start, PARQUET) ? "row" : "line";
    }

    private TableSink pass(Set<String> mixed) {
        return pass(new TableSink(where.shown(), unit(), format, new HashSet<>(mixed)));
    }

    private TableSink pass(TableSink intake) {
        byte[] start = start();
        if (starts(start, SQLITE)) {
            new SqliteFeed(where.file(), where.shown(), where.part()).feed(intake);
            return intake;
        }
        if (starts(start, PARQUET)) {
            foreign("parquet", intake);
            return intake;
        }
        where.part().ifPresent(part -> {
            if (start.length > 0) {
                throw new InputException(where.file().toString(), "is no SQLite file, so it has no \"#" + part + "\"");
            }
        });
        TextSource text = new TextSource(where.file(), where.shown(), format.encoding());
        char first = firstCharacter(start);
        if (first == '[') {
            throw new InputException(
                    where.shown() + ", line 1", "a JSON list; write one JSON object a line instead (JSON Lines)");
        }
        (first == '{' ? new JsonLinesFeed(text) : new CsvFeed(text, format.separator())).feed(intake);
        return intake;
    }

    private void foreign(String name, TableSink intake) {
        TablePart part = StreamSupport.stream(
                        ServiceLoader.load(TablePart.class).spliterator(), false)
                .filter(p -> p.format().equals(name))
                .findFirst()
                .orElseThrow(() -> new InputException(
                        where.shown(),
                        "is a Parquet file, which an optional part reads; docs/parquet.md says how to add it (or write"
                                + " the table as CSV)"));
        try {
            part.feed(where.file(), intake);
        } catch (IOException e) {
            throw new InputException(where.shown(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    private static boolean starts(byte[] start, byte[] with) {
        return start.length >= with.length && Arrays.equals(start, 0, with.length, with, 0, with.length);
    }

    /** The first bytes, unpacked; none of a file that cannot be opened, which its feed will complain about. */
    private byte[] start() {
        Path file = where.file();
        if (!Files.isRegularFile(file)) {
            return new byte[0];
        }
        try (InputStream raw = new BufferedInputStream(Files.newInputStream(file))) {
            raw.mark(2);
            boolean packed = raw.read() == 0x1F && raw.read() == 0x8B;
            raw.reset();
            return (packed ? new GZIPInputStream(raw) : raw).readNBytes(64);
        } catch (IOException e) {
            return new byte[0];
        }
    }

    private static char firstCharacter(byte[] start) {
        for (byte b : start) {
            boolean mark = b == (byte) 0xEF || b == (byte) 0xBB || b == (byte) 0xBF;
            if (!mark && b > ' ') {
                return (char) b;
            }
        }
        return ' ';
    }
}
