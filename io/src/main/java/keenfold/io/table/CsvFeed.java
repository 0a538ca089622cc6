package keenfold.io.table;

import de.siegmar.fastcsv.reader.AbstractBaseCsvCallbackHandler;
import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import java.io.IOException;
import java.io.Reader;
import java.nio.charset.CharacterCodingException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import keenfold.io.InputException;
import keenfold.io.Reason;

/** Delimited text: RFC 4180, with a comma, semicolon or tab between fields, found from the first line if not said. */
final class CsvFeed implements TableFeed {
    private static final char[] SEPARATORS = {',', ';', '\t', '|'};

    private final TextSource source;
    private final Optional<Character> separator;

    CsvFeed(TextSource source, Optional<Character> separator) {
        this.source = source;
        this.separator = separator;
    }

    @Override
    public void feed(TableSink intake) {
        char between = separator.orElseGet(this::findSeparator);
        Rows rows = new Rows(source.shown(), intake);
        try (Reader text = source.open();
                LineWatch watch = new LineWatch(text);
                CsvReader<Rows> records = CsvReader.builder()
                        .fieldSeparator(between)
                        .skipEmptyLines(true)
                        .allowExtraFields(true)
                        .allowMissingFields(true)
                        .build(rows, watch)) {
            for (Rows row : records) {
                row.checkCount();
            }
            if (watch.openQuote() && rows.overLines) {
                throw new InputException(
                        source.shown() + ", line " + rows.line,
                        "a quotation mark is opened in this line and never closed; close it, or double it if it is part"
                                + " of the text");
            }
            watch.otherEnd()
                    .ifPresent(line -> intake.notice(source.shown() + ", line " + line
                            + ": ends otherwise than the lines before it (mixed LF, CR or CRLF); each is taken as the end of a"
                            + " line"));
        } catch (CharacterCodingException e) {
            throw source.undecodable(e);
        } catch (IOException e) {
            throw new InputException(source.shown(), "cannot be read: " + Reason.ofReading(e), e);
        } catch (CsvParseException e) {
            throw broken(e, rows.line);
        } catch (java.io.UncheckedIOException e) {
            if (e.getCause() instanceof CharacterCodingException cause) {
                throw source.undecodable(cause);
            }
            throw new InputException(source.shown(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** Takes fields as the parser finds them, straight from its buffer: most of them never become a text. */
    private static final class Rows extends AbstractBaseCsvCallbackHandler<Rows> {
        private final String shown;
        private final TableSink intake;
        private final List<String> header = new ArrayList<>();
        private boolean empty;
        private long line;
        private boolean overLines;

        Rows(String shown, TableSink intake) {
            this.shown = shown;
            this.intake = intake;
        }

        @Override
        protected void handleBegin(long startingLineNumber) {
            line = startingLineNumber;
            overLines = false;
            empty = false;
        }

        @Override
        protected void handleField(int index, char[] text, int offset, int length, boolean quoted) {
            if (quoted) {
                for (int i = offset; i < offset + length; i++) {
                    overLines |= text[i] == '\n' || text[i] == '\r';
                }
            }
            if (intake.columns() == 0) {
                header.add(new String(text, offset, length));
            } else if (index < intake.columns()) {
                intake.value(index, text, offset, length, line);
            }
        }

        @Override
        protected void handleEmpty() {
            empty = true;
        }

        @Override
        protected Rows buildRecord() {
            return this;
        }

        /** After each record: the first one names the columns, all others must have as many fields. */
        void checkCount() {
            if (empty) {
                return;
            }
            if (intake.columns() == 0) {
                intake.header(header, "line " + line);
            } else if (getFieldCount() != intake.columns()) {
                throw new InputException(
                        shown + ", line " + line,
                        String.format(
                                Locale.ROOT,
                                "%d fields: expected %d, as the first line names; put quotation marks around a field that"
                                        + " holds the separator, and close those that are open",
                                getFieldCount(),
                                intake.columns()));
            }
        }
    }

    private InputException broken(CsvParseException e, long last) {
        if (e.getCause() instanceof CharacterCodingException cause) {
            return source.undecodable(cause);
        }
        // A complaint about a value, which the parser wrapped because it called for it.
        Optional<InputException> own = Stream.iterate(e.getCause(), Objects::nonNull, Throwable::getCause)
                .filter(InputException.class::isInstance)
                .map(InputException.class::cast)
                .findFirst();
        if (own.isPresent()) {
            return own.get();
        }
        String cause = String.valueOf(
                e.getCause() == null ? e.getMessage() : e.getCause().getMessage());
        if (cause.contains("after closing quote")) {
            return new InputException(
                    source.shown() + ", in or after line " + last,
                    "text stands behind a closing quotation mark; within a field in quotation marks each mark is doubled,"
                            + " as in \"a \"\"good\"\" year\"",
                    e);
        }
        return new InputException(
                source.shown() + ", in or after line " + last,
                "a field cannot be read (" + cause + "); perhaps a quotation mark was opened and never closed",
                e);
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
            throw source.undecodable(e);
        } catch (IOException e) {
            throw new InputException(source.shown(), "cannot be read: " + Reason.ofReading(e), e);
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

    /** Counts quotation marks and looks at how lines end, while the text passes by. */
    private static final class LineWatch extends Reader {
        private final Reader text;
        private boolean open;
        private long line = 1;
        private char before;
        private int firstEnd;
        private long otherEnd;

        LineWatch(Reader text) {
            this.text = text;
        }

        boolean openQuote() {
            return open;
        }

        Optional<Long> otherEnd() {
            return otherEnd == 0 ? Optional.empty() : Optional.of(otherEnd);
        }

        @Override
        public int read(char[] to, int from, int length) throws IOException {
            int n = text.read(to, from, length);
            for (int i = from; i < from + n; i++) {
                char c = to[i];
                // Nearly all characters are none of these three, and all of these three are below '#'.
                if (c < '#') {
                    if (c == '"') {
                        open = !open;
                    } else if (c == '\n') {
                        ended(before == '\r' ? 2 : 1);
                    } else if (before == '\r') {
                        ended(3);
                    }
                } else if (before == '\r') {
                    ended(3);
                }
                before = c;
            }
            return n;
        }

        private void ended(int how) {
            // What stands between quotation marks is text, and ends no row.
            if (!open && firstEnd == 0) {
                firstEnd = how;
            } else if (!open && how != firstEnd && otherEnd == 0) {
                otherEnd = line;
            }
            line++;
        }

        @Override
        public void close() throws IOException {
            text.close();
        }
    }
}
