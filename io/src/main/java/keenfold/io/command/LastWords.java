package keenfold.io.command;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * The end of what a program writes to standard error. All of it is read, so that the program never waits, and no more than
 * the end is kept, so that a program that never stops writing fills neither memory nor disk.
 */
final class LastWords {
    private static final int KEPT = 4000;
    private static final int BLOCK = 1 << 13;
    private static final long PATIENCE_MILLIS = 1000;

    private final Thread reader;
    private byte[] end = new byte[0];
    private boolean more;

    private LastWords(InputStream from) {
        reader = new Thread(() -> read(from), "keenfold-stderr");
        reader.setDaemon(true);
    }

    /** Begins to read a stream, until it ends. */
    static LastWords of(InputStream from) {
        LastWords words = new LastWords(from);
        words.reader.start();
        return words;
    }

    private void read(InputStream from) {
        byte[] block = new byte[BLOCK];
        try (from) {
            for (int n = from.read(block); n >= 0; n = from.read(block)) {
                add(block, n);
            }
        } catch (IOException e) {
            // The program is gone, and its stream with it: what was read is what there is.
            add(block, 0);
        }
    }

    private synchronized void add(byte[] block, int count) {
        byte[] both = Arrays.copyOf(end, end.length + count);
        System.arraycopy(block, 0, both, end.length, count);
        more |= both.length > KEPT;
        end = both.length > KEPT ? Arrays.copyOfRange(both, both.length - KEPT, both.length) : both;
    }

    /** What was written, its end if it is long, on lines of its own; perhaps nothing. To be asked for when the program ended. */
    String text() {
        try {
            // Whoever inherited the stream may keep it open; nobody waits for that.
            reader.join(PATIENCE_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        synchronized (this) {
            String text = new String(end, StandardCharsets.UTF_8).strip();
            return text.isEmpty() ? "" : "\nstandard error:" + (more ? " (its end)" : "") + "\n" + text;
        }
    }
}
