package keenfold.io.ledger.table;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.zip.DataFormatException;
import java.util.zip.Deflater;
import java.util.zip.Inflater;
import keenfold.core.data.Checks;

/** Arrays as compact bytes: little-endian, deflated (RFC 1950). */
public final class Blobs {
    private static final int BLOCK = 1 << 13;

    /** Deflate makes at most 1032 bytes of one (RFC 1951: 258 of two bits), beside its head. */
    private static final long MOST_OF_ONE = 1032;

    private Blobs() {}

    /** Returns whole numbers as bytes. */
    public static byte[] ofInts(int[] values) {
        ByteBuffer bytes = ByteBuffer.allocate(values.length * Integer.BYTES).order(ByteOrder.LITTLE_ENDIAN);
        bytes.asIntBuffer().put(values);
        return deflate(bytes.array());
    }

    /** Returns numbers as bytes. */
    public static byte[] ofDoubles(double[] values) {
        return deflate(bytes(values));
    }

    /** Returns so many whole numbers from bytes. */
    public static int[] ints(byte[] blob, int count) {
        byte[] bytes = inflate(blob, (long) count * Integer.BYTES);
        int[] values = new int[count];
        ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN).asIntBuffer().get(values);
        return values;
    }

    /** Returns so many numbers from bytes. */
    public static double[] doubles(byte[] blob, int count) {
        byte[] bytes = inflate(blob, (long) count * Double.BYTES);
        double[] values = new double[count];
        ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN).asDoubleBuffer().get(values);
        return values;
    }

    /** Numbers followed by labels, if there are any: what a checksum of both is made over. */
    public static double[] followed(double[] values, java.util.Optional<int[]> labels) {
        if (labels.isEmpty()) {
            return values;
        }
        double[] both = java.util.Arrays.copyOf(values, values.length + labels.get().length);
        for (int i = 0; i < labels.get().length; i++) {
            both[values.length + i] = labels.get()[i];
        }
        return both;
    }

    private static byte[] bytes(double[] values) {
        ByteBuffer bytes = ByteBuffer.allocate(values.length * Double.BYTES).order(ByteOrder.LITTLE_ENDIAN);
        for (double v : values) {
            bytes.putLong(Double.doubleToLongBits(v));
        }
        return bytes.array();
    }

    private static byte[] deflate(byte[] bytes) {
        Deflater deflater = new Deflater(Deflater.BEST_SPEED);
        try {
            deflater.setInput(bytes);
            deflater.finish();
            ByteArrayOutputStream out = new ByteArrayOutputStream(bytes.length / 2 + 64);
            byte[] block = new byte[BLOCK];
            while (!deflater.finished()) {
                out.write(block, 0, deflater.deflate(block));
            }
            return out.toByteArray();
        } finally {
            deflater.end();
        }
    }

    /** @throws IllegalArgumentException if the blob is damaged or not of the expected length */
    private static byte[] inflate(byte[] blob, long length) {
        Checks.that(
                length >= 0 && length <= Integer.MAX_VALUE - 8 && length <= MOST_OF_ONE * blob.length,
                "damaged bytes: %d cannot hold %d",
                blob.length,
                length);
        Inflater inflater = new Inflater();
        try {
            inflater.setInput(blob);
            byte[] bytes = new byte[(int) length];
            int at = 0;
            while (at < bytes.length) {
                int n = inflater.inflate(bytes, at, bytes.length - at);
                Checks.that(n > 0, "damaged bytes: %d of %d", at, length);
                at += n;
            }
            return bytes;
        } catch (DataFormatException e) {
            throw Checks.wrong("damaged bytes: " + e.getMessage(), e);
        } finally {
            inflater.end();
        }
    }
}
