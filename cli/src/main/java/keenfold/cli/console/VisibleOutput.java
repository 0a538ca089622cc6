package keenfold.cli.console;

import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import keenfold.view.text.Ink;
import keenfold.view.text.Wrap;

/**
 * A stream of UTF-8 text for people to read. Whatever a terminal would obey instead of showing it, or that has no shape,
 * becomes a question mark, wherever it came from: names, labels and notes may have been written by somebody else.
 *
 * <p>Line feeds and tabs pass, and so does the program's own emphasis where it is wanted.
 */
final class VisibleOutput extends FilterOutputStream {
    private static final int ESCAPE = 0x1B;
    private static final int LONGEST_EMPHASIS = 4;

    private final boolean emphasis;
    private final byte[] held = new byte[LONGEST_EMPHASIS];
    private int count;
    private int expected;

    /** @param emphasis whether the emphasis of {@link Ink} passes */
    VisibleOutput(OutputStream to, boolean emphasis) {
        super(to);
        this.emphasis = emphasis;
    }

    private static boolean passes(int value) {
        return value == '\n' || value == '\t';
    }

    @Override
    public void write(byte[] bytes, int from, int length) throws IOException {
        int plain = from;
        for (int i = from; i < from + length; i++) {
            byte b = bytes[i];
            boolean plainly = count == 0 && b < 0x7F && (b >= ' ' || passes(b));
            if (!plainly) {
                out.write(bytes, plain, i - plain);
                write(b & 0xFF);
                plain = i + 1;
            }
        }
        out.write(bytes, plain, from + length - plain);
    }

    @Override
    public void write(int b) throws IOException {
        int value = b & 0xFF;
        if (count > 0 && !continues(value)) {
            mask();
        }
        if (count == 0) {
            begin(value);
        } else {
            held[count++] = (byte) value;
        }
        if (count > 0 && count == expected) {
            finish();
        }
    }

    private boolean continues(int value) {
        return held[0] == ESCAPE ? value < 0x80 && value != ESCAPE : (value & 0xC0) == 0x80;
    }

    private void begin(int value) throws IOException {
        if (value < 0x80 && value != ESCAPE) {
            out.write(passes(value) || !Wrap.hidden(value) ? value : '?');
            return;
        }
        expected = value == ESCAPE ? LONGEST_EMPHASIS : value >= 0xF0 ? 4 : value >= 0xE0 ? 3 : value >= 0xC0 ? 2 : 1;
        held[0] = (byte) value;
        count = 1;
    }

    /** A whole sequence is there: of one code point, or of what may be emphasis. */
    private void finish() throws IOException {
        boolean shown = held[0] == ESCAPE ? emphasis && Ink.isEmphasis(held) : !Wrap.hidden(codePoint());
        if (shown) {
            out.write(held, 0, count);
            count = 0;
        } else {
            mask();
        }
    }

    private int codePoint() {
        int first = held[0] & 0xFF;
        int value = count == 2 ? first & 0x1F : count == 3 ? first & 0x0F : first & 0x07;
        for (int i = 1; i < count; i++) {
            value = (value << 6) | (held[i] & 0x3F);
        }
        return count == 1 ? 0 : value;
    }

    /** What is held is not shown; of a sequence that an escape began, the rest is plain text. */
    private void mask() throws IOException {
        out.write('?');
        int rest = held[0] == ESCAPE ? count : 1;
        count = 0;
        for (int i = 1; i < rest; i++) {
            out.write(Wrap.hidden(held[i] & 0xFF) && !passes(held[i]) ? '?' : held[i]);
        }
    }

    @Override
    public void flush() throws IOException {
        if (count > 0 && held[0] == ESCAPE) {
            mask();
        }
        super.flush();
    }
}
