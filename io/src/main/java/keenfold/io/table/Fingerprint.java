package keenfold.io.table;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;

/** SHA-256 over the parsed values that a comparison uses: the same for files that differ in form alone. */
public final class Fingerprint {
    private static final int BLOCK = 1 << 13;

    private final MessageDigest digest;
    private final ByteBuffer buffer = ByteBuffer.allocate(BLOCK);

    private Fingerprint() {
        try {
            this.digest = MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }

    /** Returns the fingerprint of a data set: equal data have equal ones. */
    public static String of(DataSet data) {
        Fingerprint print = new Fingerprint();
        print.whole(data.rows());
        for (Column column : data.features().columns()) {
            print.text(column.name());
            column.match(print::numbers, print::categories);
        }
        data.classes().labels().forEach(print::text);
        for (int row = 0; row < data.rows(); row++) {
            print.whole(data.target(row));
            print.whole(data.sourceRow(row));
        }
        data.groups().ifPresent(print::categories);
        data.order().ifPresent(print::numbers);
        return print.finish();
    }

    /**
     * Returns the fingerprint of rows that are held back: by where they stand in their file and by their classes, so that it
     * stays the same whatever columns are used.
     */
    public static String ofHeldBack(DataSet rows) {
        Fingerprint print = new Fingerprint();
        print.whole(rows.rows());
        for (int row = 0; row < rows.rows(); row++) {
            print.whole(rows.sourceRow(row));
            print.text(rows.classes().labels().get(rows.target(row)));
        }
        return print.finish();
    }

    private Column numbers(Numbers column) {
        whole(1);
        for (int i = 0; i < column.rows(); i++) {
            room(Double.BYTES);
            // + 0.0: a zero has one sign here, and a missing value one form.
            buffer.putDouble(Double.isNaN(column.get(i)) ? Double.NaN : column.get(i) + 0.0);
        }
        return column;
    }

    private Column categories(Categories column) {
        whole(2);
        column.levels().forEach(this::text);
        for (int i = 0; i < column.rows(); i++) {
            whole(column.code(i));
        }
        return column;
    }

    private void text(String text) {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        whole(bytes.length);
        flush();
        digest.update(bytes);
    }

    private void whole(int value) {
        room(Integer.BYTES);
        buffer.putInt(value);
    }

    private void room(int bytes) {
        if (buffer.remaining() < bytes) {
            flush();
        }
    }

    private void flush() {
        digest.update(buffer.array(), 0, buffer.position());
        buffer.clear();
    }

    private String finish() {
        flush();
        return HexFormat.of().formatHex(digest.digest());
    }
}
