package keenfold.io.ledger.adopted;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.NamedCsvRecord;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.io.FileLook;
import keenfold.io.InputException;
import keenfold.io.InputFile;
import keenfold.io.Reason;

/** The lines of a table made elsewhere, each with its number; everything is text. */
public final class AdoptedTable {
    /** Columns of a table with a column a candidate that are none. */
    private static final String NOT_UTF_8 = "not valid UTF-8; save the table as UTF-8";

    private static final Set<String> WIDE = Set.of("dataset", "repeat", "fold", "metric");

    private final Path file;
    private final List<String> header;
    private final List<NamedCsvRecord> lines;

    private AdoptedTable(Path file, List<String> header, List<NamedCsvRecord> lines) {
        this.file = file;
        this.header = header;
        this.lines = lines;
    }

    /**
     * Reads a table.
     *
     * @throws InputException if it is none
     */
    public static AdoptedTable read(Path file) {
        InputFile.require(file, file.toString(), "a CSV table");
        try (CsvReader<NamedCsvRecord> reader =
                CsvReader.builder().skipEmptyLines(true).ofNamedCsvRecord(Files.newBufferedReader(file))) {
            List<NamedCsvRecord> lines = new ArrayList<>();
            reader.forEach(lines::add);
            if (lines.isEmpty()) {
                throw new InputException(file.toString(), "holds no line below its header");
            }
            return new AdoptedTable(file, lines.get(0).getHeader(), lines);
        } catch (NoSuchFileException e) {
            throw new InputException(file.toString(), "there is no such file", e);
        } catch (CharacterCodingException e) {
            throw unreadable(file, NOT_UTF_8, e);
        } catch (CsvParseException e) {
            throw unreadable(file, "not a CSV table: " + reason(e), e);
        } catch (UncheckedIOException e) {
            if (e.getCause() instanceof CharacterCodingException) {
                throw unreadable(file, NOT_UTF_8, e);
            }
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** The complaint about a file that cannot be read as a table, or is another kind of file. */
    private static InputException unreadable(Path file, String asTable, Exception e) {
        FileLook look = FileLook.of(file);
        boolean table = look == FileLook.TABLE || look == FileLook.UNCLEAR;
        return new InputException(file.toString(), table ? asTable : "is no table" + look.words(), e);
    }

    /** What the parser says of a record, and why. */
    private static String reason(CsvParseException e) {
        String where = String.valueOf(e.getMessage()).replaceFirst("^Exception when reading", "it cannot read the");
        return e.getCause() == null ? where : where + " (" + e.getCause().getMessage() + ")";
    }

    List<String> header() {
        return header;
    }

    /** Returns whether it has a column. */
    public boolean has(String column) {
        return header.contains(column);
    }

    /** Whether the numbers are scores: a line a score, or a line a data set and a column a candidate. */
    public boolean ofScores() {
        return (has("metric") && has("value")) || wide();
    }

    /** Whether there is a column a candidate, and so none that names one. */
    boolean wide() {
        return has("dataset") && !has("candidate") && !has("row") && !has("actual");
    }

    /** The columns that are candidates in a table that has one for each. */
    List<String> wideCandidates() {
        return header.stream().filter(h -> !WIDE.contains(h)).toList();
    }

    /** Whether a candidate is in two of the tables. */
    public static boolean shareCandidates(List<AdoptedTable> tables) {
        Set<String> seen = new HashSet<>();
        for (AdoptedTable table : tables) {
            Set<String> own = new HashSet<>();
            for (int line = 0; line < table.size(); line++) {
                own.add(table.text(line, "candidate"));
            }
            if (own.stream().anyMatch(seen::contains)) {
                return true;
            }
            seen.addAll(own);
        }
        return false;
    }

    void require(String... columns) {
        for (String column : columns) {
            if (!has(column)) {
                throw new InputException(
                        file.toString(),
                        "column \"" + column + "\" is missing; there are " + String.join(", ", header)
                                + "; predictions have row, candidate, actual, and predicted or p:CLASS for each class,"
                                + " scores have candidate, metric, value, or dataset and a column for each candidate");
            }
        }
    }

    int size() {
        return lines.size();
    }

    /** The text in a column of a line, empty where the column is missing. */
    String text(int line, String column) {
        return has(column) ? lines.get(line).findField(column).orElse("") : "";
    }

    /** A whole number from 1; 1 where the column is missing or empty. */
    int whole(int line, String column) {
        String text = text(line, column);
        if (text.isEmpty()) {
            return 1;
        }
        if (!text.matches("[0-9]{1,9}") || Integer.parseInt(text) < 1) {
            throw wrong(line, column, "\"" + text + "\" is no whole number from 1");
        }
        return Integer.parseInt(text);
    }

    /** A number; nothing where the field is empty. */
    Optional<Double> number(int line, String column) {
        String text = text(line, column);
        if (text.isEmpty()) {
            return Optional.empty();
        }
        try {
            double value = Double.parseDouble(text);
            if (Double.isFinite(value)) {
                return Optional.of(value);
            }
        } catch (NumberFormatException e) {
            throw wrong(line, column, "\"" + text + "\" is not a number");
        }
        throw wrong(line, column, "\"" + text + "\" is not a finite number");
    }

    InputException wrong(int line, String column, String cause) {
        return new InputException(
                file + ", line " + lines.get(line).getStartingLineNumber() + ", column \"" + column + "\"", cause);
    }

    /** The number of a line in the file. */
    long place(int line) {
        return lines.get(line).getStartingLineNumber();
    }

    /** Returns the file that it was read from. */
    public Path file() {
        return file;
    }
}
