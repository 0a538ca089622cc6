package keenfold.io.ledger.table;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.zip.CRC32C;
import org.jspecify.annotations.Nullable;

/**
 * CRC-32C (RFC 3720) of what a ledger says, value by value, each led by what kind it is, so that no value can pass into the
 * next one unseen.
 */
public final class Checksum {
    /** The columns of a fit that its checksum covers, before its scores and predictions. */
    public static final List<String> FIT = List.of(
            "purpose",
            "resample",
            "dataset",
            "candidate",
            "repeat",
            "fold",
            "status",
            "message",
            "train_seconds",
            "train_cpu_seconds",
            "predict_seconds",
            "predict_cpu_seconds",
            "size",
            "chosen",
            "shared",
            "threshold",
            "columns");

    private static final int ROOM = 1 << 10;

    private final CRC32C crc = new CRC32C();
    /** What was added last: one pass over many values takes a fraction of one over each of them. */
    private final ByteBuffer added = ByteBuffer.allocate(ROOM).order(ByteOrder.LITTLE_ENDIAN);

    /**
     * Returns the checksum of a fit.
     *
     * @param columns the values of {@link #FIT}, in that order: numbers, texts or nothing
     * @param scores in their order; none if it failed
     * @param predictions probabilities, then labels where they are kept
     */
    public static long ofFit(@Nullable Object[] columns, List<StoredScore> scores, double[] predictions) {
        Checksum sum = new Checksum();
        for (Object value : columns) {
            sum.add(value);
        }
        for (StoredScore score : scores) {
            sum.add(score.side()).add(score.metric()).add(score.value());
        }
        return sum.numbers(predictions).value();
    }

    /** Returns the values of {@link #FIT} in a row. */
    public static @Nullable Object[] columns(ResultSet row) throws SQLException {
        return columns(row, places(row));
    }

    /** Returns in which columns of rows the values of {@link #FIT} are: looking them up by name takes long. */
    static int[] places(ResultSet rows) throws SQLException {
        int[] places = new int[FIT.size()];
        for (int i = 0; i < places.length; i++) {
            places[i] = rows.findColumn(FIT.get(i));
        }
        return places;
    }

    /** Returns the values of {@link #FIT} in a row, whose columns they are in being known. */
    static @Nullable Object[] columns(ResultSet row, int[] places) throws SQLException {
        @Nullable Object[] values = new @Nullable Object[places.length];
        for (int i = 0; i < values.length; i++) {
            values[i] = row.getObject(places[i]);
        }
        return values;
    }

    /** Adds a value as the database holds it: a truth as 0 or 1, an undefined number as nothing. */
    public Checksum add(@Nullable Object value) {
        if (value == null || (value instanceof Double d && d.isNaN())) {
            tag('n', 0);
        } else if (value instanceof Double d) {
            tag('d', Double.doubleToLongBits(d));
        } else if (value instanceof Boolean b) {
            tag('i', b ? 1 : 0);
        } else if (value instanceof Number whole) {
            tag('i', whole.longValue());
        } else if (value instanceof byte[] bytes) {
            tag('b', bytes.length);
            add(bytes);
        } else {
            byte[] bytes = value.toString().getBytes(StandardCharsets.UTF_8);
            tag('t', bytes.length);
            add(bytes);
        }
        return this;
    }

    private Checksum numbers(double[] values) {
        tag('v', values.length);
        for (double v : values) {
            room(Double.BYTES).putLong(Double.doubleToLongBits(v));
        }
        return this;
    }

    private void tag(char kind, long number) {
        room(1 + Long.BYTES).put((byte) kind).putLong(number);
    }

    private void add(byte[] bytes) {
        if (bytes.length > ROOM) {
            pass();
            crc.update(bytes);
        } else {
            room(bytes.length).put(bytes);
        }
    }

    private ByteBuffer room(int more) {
        if (added.remaining() < more) {
            pass();
        }
        return added;
    }

    private void pass() {
        crc.update(added.array(), 0, added.position());
        added.clear();
    }

    /** Returns the checksum of what was added. */
    public long value() {
        pass();
        return crc.getValue();
    }
}
