package keenfold.io.export;

import java.io.IOException;
import java.io.Writer;
import java.util.regex.Pattern;

/**
 * Passes CSV on in a form that a spreadsheet opens without starting a formula: a cell that begins with {@code =}, {@code +},
 * {@code -}, {@code @}, a tab or a carriage return, and is not a number, gets an apostrophe before it. So the text is no
 * longer exact, which is why this is done on request only.
 *
 * <p>Source: OWASP, "CSV Injection".
 */
public final class SpreadsheetWriter extends Writer {
    private static final Pattern NUMBER = Pattern.compile("[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]+)?");
    private static final String BEGIN = "=+-@\t\r";

    private final Writer out;
    private final StringBuilder cell = new StringBuilder();
    private boolean quoted;

    /** @param out takes the CSV; fields are parted by commas, lines ended by line feeds */
    public SpreadsheetWriter(Writer out) {
        this.out = out;
    }

    @Override
    public void write(char[] text, int from, int count) throws IOException {
        for (int i = from; i < from + count; i++) {
            char c = text[i];
            quoted ^= c == '"';
            if (!quoted && (c == ',' || c == '\n')) {
                endCell();
                out.write(c);
            } else {
                cell.append(c);
            }
        }
    }

    private void endCell() throws IOException {
        int start = !cell.isEmpty() && cell.charAt(0) == '"' ? 1 : 0;
        boolean begins = cell.length() > start && BEGIN.indexOf(cell.charAt(start)) >= 0;
        if (begins && !NUMBER.matcher(cell).matches()) {
            cell.insert(start, '\'');
        }
        out.append(cell);
        cell.setLength(0);
    }

    /** Passes on what is complete: of a cell that is not, nobody knows yet whether it is a number. */
    @Override
    public void flush() throws IOException {
        out.flush();
    }

    @Override
    public void close() throws IOException {
        endCell();
        out.close();
    }
}
