package keenfold.io.table;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.IOException;
import java.io.Reader;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.io.InputException;

/**
 * Reads delimited text (RFC 4180; comma, semicolon or tab) into typed columns.
 *
 * <p>The first line names the columns. A column is one of numbers if each value that is not missing is a number; of dates
 * if each is an ISO date; otherwise of categories, unless at least nine values in ten are numbers: then the first word is
 * refused with its line, being more likely a slip. White space around a value is left out.
 *
 * <p>Cost: one pass; two where a column turns from numbers to words on the way.
 */
public final class TableReader {
    private static final char[] SEPARATORS = {',', ';', '\t'};
    private static final int MOST_COLUMNS = 100_000;

    private final TextSource source;
    private final String file;
    private final TableFormat format;

    private TableReader(Path path, TableFormat format) {
        this.source = new TextSource(path);
        this.file = String.valueOf(path);
        this.format = format;
    }

    /**
     * Reads a file.
     *
     * @throws InputException if it cannot be read as a table, with line and column, or if a word stands in a column nine
     *     tenths of which are numbers
     */
    public static List<ReadColumn> read(Path path, TableFormat format) {
        List<ReadColumn> columns = readAsItIs(path, format);
        for (ReadColumn column : columns) {
            String name = column.column().name();
            if (!format.text().contains(name)) {
                column.stray().ifPresent(s -> ColumnBuilder.refuse(String.valueOf(path), name, s));
            }
        }
        return columns;
    }

    /** Reads a file in which words may stand among numbers; {@link ReadColumn#stray} tells of them. */
    public static List<ReadColumn> readAsItIs(Path path, TableFormat format) {
        TableReader reader = new TableReader(path, format);
        List<ColumnBuilder> built = reader.pass(format);
        Set<String> mixed = built.stream()
                .filter(ColumnBuilder::mixed)
                .map(ColumnBuilder::name)
                .collect(Collectors.toSet());
        if (!mixed.isEmpty()) {
            built = reader.pass(format.withText(mixed));
        }
        return built.stream().map(ColumnBuilder::build).toList();
    }

    private List<ColumnBuilder> pass(TableFormat as) {
        char separator = format.separator().orElseGet(this::findSeparator);
        try (Reader text = source.open();
                CsvReader<CsvRecord> records = CsvReader.builder()
                        .fieldSeparator(separator)
                        .skipEmptyLines(true)
                        .allowExtraFields(true)
                        .allowMissingFields(true)
                        .ofCsvRecord(text)) {
            List<ColumnBuilder> columns = List.of();
            for (CsvRecord line : records) {
                if (columns.isEmpty()) {
                    columns = header(line, as);
                } else {
                    add(line, columns);
                }
            }
            if (columns.isEmpty()) {
                throw new InputException(file, "the file is empty: expected a line of column names, then rows");
            }
            return columns;
        } catch (CharacterCodingException e) {
            throw source.notUtf8(e);
        } catch (IOException e) {
            throw new InputException(file, "cannot be read: " + e.getMessage(), e);
        } catch (CsvParseException e) {
            throw broken(e);
        } catch (java.io.UncheckedIOException e) {
            if (e.getCause() instanceof CharacterCodingException cause) {
                throw source.notUtf8(cause);
            }
            throw new InputException(file, "cannot be read: " + e.getMessage(), e);
        }
    }

    private InputException broken(CsvParseException e) {
        if (e.getCause() instanceof CharacterCodingException cause) {
            return source.notUtf8(cause);
        }
        return new InputException(file, e.getMessage() + "; perhaps a quotation mark was opened and never closed", e);
    }

    private char findSeparator() {
        char[] start = new char[1 << 16];
        int length = 0;
        try (Reader text = source.open()) {
            for (int n = text.read(start); n > 0; n = text.read(start, length, start.length - length)) {
                length += n;
                if (length == start.length) {
                    break;
                }
            }
        } catch (CharacterCodingException e) {
            throw source.notUtf8(e);
        } catch (IOException e) {
            throw new InputException(file, "cannot be read: " + e.getMessage(), e);
        }
        int[] counts = new int[SEPARATORS.length];
        boolean quoted = false;
        for (int i = 0; i < length && (quoted || (start[i] != '\n' && start[i] != '\r')); i++) {
            quoted ^= start[i] == '"';
            for (int s = 0; s < SEPARATORS.length; s++) {
                counts[s] += !quoted && start[i] == SEPARATORS[s] ? 1 : 0;
            }
        }
        int best = 0;
        for (int s = 1; s < SEPARATORS.length; s++) {
            best = counts[s] > counts[best] ? s : best;
        }
        return SEPARATORS[best];
    }

    private List<ColumnBuilder> header(CsvRecord line, TableFormat as) {
        if (line.getFieldCount() > MOST_COLUMNS) {
            throw new InputException(
                    file + ", line 1", line.getFieldCount() + " columns: expected at most " + MOST_COLUMNS);
        }
        List<ColumnBuilder> columns = new ArrayList<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < line.getFieldCount(); i++) {
            String name = line.getField(i).strip();
            if (name.isEmpty()) {
                throw new InputException(
                        place(line), String.format(Locale.ROOT, "column %d has no name; give it one", i + 1));
            }
            if (!names.add(name)) {
                throw new InputException(place(line), "two columns are called \"" + name + "\"; rename one");
            }
            columns.add(new ColumnBuilder(file, name, as));
        }
        for (Set<String> forced : List.of(format.text(), format.number())) {
            for (String name : forced) {
                if (!names.contains(name)) {
                    throw new InputException(
                            file, "there is no column \"" + name + "\"" + keenfold.io.Nearest.hint(name, names));
                }
            }
        }
        return columns;
    }

    private void add(CsvRecord line, List<ColumnBuilder> columns) {
        int fields = line.getFieldCount();
        if (fields != columns.size()) {
            throw new InputException(
                    place(line),
                    String.format(
                            Locale.ROOT,
                            "%d fields: expected %d, as line 1 names; put quotation marks around a field that holds"
                                    + " the separator",
                            fields,
                            columns.size()));
        }
        long number = line.getStartingLineNumber();
        for (int i = 0; i < fields; i++) {
            String text = stripped(line.getField(i));
            if (format.missing().contains(text)) {
                columns.get(i).addMissing();
            } else {
                columns.get(i).add(text, number);
            }
        }
    }

    /** Most fields have nothing around them: look before making a new string. */
    private static String stripped(String text) {
        int n = text.length();
        boolean bare = n == 0 || (text.charAt(0) > ' ' && text.charAt(n - 1) > ' ');
        return bare ? text : text.strip();
    }

    private String place(CsvRecord line) {
        return file + ", line " + line.getStartingLineNumber();
    }
}
