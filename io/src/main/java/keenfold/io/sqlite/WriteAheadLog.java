package keenfold.io.sqlite;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;

/**
 * Whether a write-ahead log was damaged.
 *
 * <p>SQLite reads a log up to the first page whose checksum is wrong, and takes that for the end: it cannot tell a log that
 * was cut off by a power failure from one in whose middle a bit turned, and says nothing. Here the pages behind the first
 * wrong one are looked at too: if one of them belongs to the same log, something in the middle is damaged. Source: "Database
 * File Format", section 4, sqlite.org.
 */
public final class WriteAheadLog {
    private static final int HEADER = 32;
    private static final int FRAME_HEADER = 24;
    private static final int MAGIC = 0x377f0682;
    private static final int LEAST_PAGE = 512;
    private static final int MOST_PAGE = 65536;

    private WriteAheadLog() {}

    /** Whether what is in the middle of a database's write-ahead log is damaged, so that later pages of it do not count. */
    public static boolean isCutShort(Path database) throws IOException {
        Path log = database.resolveSibling(database.getFileName() + "-wal");
        if (!Files.isRegularFile(log) || Files.size(log) < HEADER + FRAME_HEADER) {
            return false;
        }
        try (RandomAccessFile file = new RandomAccessFile(log.toFile(), "r")) {
            byte[] header = new byte[HEADER];
            file.readFully(header);
            ByteBuffer head = ByteBuffer.wrap(header);
            int page = head.getInt(8);
            boolean known = (head.getInt(0) & ~1) == MAGIC
                    && page >= LEAST_PAGE
                    && page <= MOST_PAGE
                    && Integer.bitCount(page) == 1;
            if (!known) {
                return true;
            }
            Sum sum = new Sum((head.getInt(0) & 1) == 1 ? ByteOrder.BIG_ENDIAN : ByteOrder.LITTLE_ENDIAN);
            sum.add(header, 0, 24);
            boolean lost = !sum.equals(head.getInt(24), head.getInt(28)) || hasLostFrames(file, head, page, sum);
            // A writer that began the log anew meanwhile left pages of the old one behind those of the new one.
            byte[] again = new byte[HEADER];
            file.seek(0);
            file.readFully(again);
            return lost && Arrays.equals(header, again);
        }
    }

    private static boolean hasLostFrames(RandomAccessFile file, ByteBuffer head, int page, Sum sum) throws IOException {
        byte[] bytes = new byte[FRAME_HEADER + page];
        ByteBuffer frame = ByteBuffer.wrap(bytes);
        boolean broken = false;
        for (long at = HEADER; at + bytes.length <= file.length(); at += bytes.length) {
            file.seek(at);
            file.readFully(bytes);
            boolean own = frame.getInt(8) == head.getInt(16) && frame.getInt(12) == head.getInt(20);
            if (broken && own) {
                return true;
            }
            if (!broken) {
                sum.add(bytes, 0, 8);
                sum.add(bytes, FRAME_HEADER, page);
                broken = !own || !sum.equals(frame.getInt(16), frame.getInt(20));
            }
        }
        return false;
    }

    /** The log's running checksum: two sums of 32-bit words, each fed with the other. */
    private static final class Sum {
        private final ByteOrder order;
        private int first;
        private int second;

        Sum(ByteOrder order) {
            this.order = order;
        }

        void add(byte[] bytes, int from, int count) {
            ByteBuffer words = ByteBuffer.wrap(bytes).order(order);
            for (int i = from; i < from + count; i += 2 * Integer.BYTES) {
                first += words.getInt(i) + second;
                second += words.getInt(i + Integer.BYTES) + first;
            }
        }

        boolean equals(int one, int other) {
            return first == one && second == other;
        }
    }
}
