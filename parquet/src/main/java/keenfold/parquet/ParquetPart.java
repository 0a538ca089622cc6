package keenfold.parquet;

import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Decimals;
import keenfold.io.InputException;
import keenfold.io.table.TablePart;
import keenfold.io.table.TableSink;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.convert.GroupRecordConverter;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.ColumnIOFactory;
import org.apache.parquet.io.LocalInputFile;
import org.apache.parquet.io.MessageColumnIO;
import org.apache.parquet.io.RecordReader;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.Type;

/**
 * Parquet files of flat columns: numbers, texts, truth values, decimals, dates and times. Dates come as ISO dates, times as
 * seconds since 1970-01-01T00:00Z.
 */
public final class ParquetPart implements TablePart {
    @Override
    public String format() {
        return "parquet";
    }

    @Override
    public void feed(Path file, TableSink intake) throws IOException {
        ParquetReadOptions options =
                ParquetReadOptions.builder(new PlainParquetConfiguration()).build();
        try (ParquetFileReader reader = ParquetFileReader.open(new LocalInputFile(file), options)) {
            MessageType schema = reader.getFooter().getFileMetaData().getSchema();
            List<String> names = new ArrayList<>();
            for (Type column : schema.getFields()) {
                if (!column.isPrimitive() || column.isRepetition(Type.Repetition.REPEATED)) {
                    throw new InputException(
                            file + ", column \"" + column.getName() + "\"",
                            "holds nested values; expected one number or text a row, so write them as columns of their own");
                }
                names.add(column.getName());
            }
            intake.header(names, "");
            MessageColumnIO columns = new ColumnIOFactory().getColumnIO(schema);
            long row = 0;
            for (PageReadStore pages = reader.readNextRowGroup(); pages != null; pages = reader.readNextRowGroup()) {
                RecordReader<Group> rows = columns.getRecordReader(pages, new GroupRecordConverter(schema));
                for (long i = 0; i < pages.getRowCount(); i++) {
                    take(rows.read(), schema, ++row, file, intake);
                }
            }
        } catch (RuntimeException e) {
            if (e instanceof InputException) {
                throw e;
            }
            throw new IOException("not a sound Parquet file (" + e.getMessage() + ")", e);
        }
    }

    private static void take(Group values, MessageType schema, long row, Path file, TableSink intake) {
        for (int c = 0; c < schema.getFieldCount(); c++) {
            if (values.getFieldRepetitionCount(c) == 0) {
                intake.missing(c);
            } else {
                intake.value(c, text(values, c, schema.getType(c).asPrimitiveType(), row, file), row);
            }
        }
    }

    private static String text(Group values, int c, PrimitiveType type, long row, Path file) {
        LogicalTypeAnnotation logical = type.getLogicalTypeAnnotation();
        boolean decimal = logical instanceof LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
        return switch (type.getPrimitiveTypeName()) {
            case BOOLEAN -> Boolean.toString(values.getBoolean(c, 0));
            case FLOAT -> number(values.getFloat(c, 0));
            case DOUBLE -> number(values.getDouble(c, 0));
            case INT32 ->
                decimal
                        ? scaled(BigInteger.valueOf(values.getInteger(c, 0)), logical)
                        : logical instanceof LogicalTypeAnnotation.DateLogicalTypeAnnotation
                                ? LocalDate.ofEpochDay(values.getInteger(c, 0)).toString()
                                : unsigned(logical)
                                        ? Integer.toUnsignedString(values.getInteger(c, 0))
                                        : Integer.toString(values.getInteger(c, 0));
            case INT64 ->
                decimal
                        ? scaled(BigInteger.valueOf(values.getLong(c, 0)), logical)
                        : whole(values.getLong(c, 0), logical);
            case BINARY, FIXED_LEN_BYTE_ARRAY -> {
                byte[] bytes = values.getBinary(c, 0).getBytes();
                if (decimal) {
                    yield scaled(new BigInteger(bytes), logical);
                }
                boolean words = logical instanceof LogicalTypeAnnotation.StringLogicalTypeAnnotation
                        || logical instanceof LogicalTypeAnnotation.EnumLogicalTypeAnnotation
                        || logical instanceof LogicalTypeAnnotation.JsonLogicalTypeAnnotation;
                if (!words) {
                    throw unreadable(type, row, file, "bytes that are not marked as text");
                }
                yield new String(bytes, StandardCharsets.UTF_8);
            }
            case INT96 -> throw unreadable(type, row, file, "times of the old form INT96; write them as TIMESTAMP");
        };
    }

    private static String number(double value) {
        return Double.isNaN(value) || Double.isInfinite(value) ? Double.toString(value) : Decimals.exact(value);
    }

    private static String scaled(BigInteger unscaled, LogicalTypeAnnotation logical) {
        int scale = ((LogicalTypeAnnotation.DecimalLogicalTypeAnnotation) logical).getScale();
        return new BigDecimal(unscaled, scale).toPlainString();
    }

    private static boolean unsigned(LogicalTypeAnnotation logical) {
        return logical instanceof LogicalTypeAnnotation.IntLogicalTypeAnnotation whole && !whole.isSigned();
    }

    private static String whole(long value, LogicalTypeAnnotation logical) {
        if (logical instanceof LogicalTypeAnnotation.TimestampLogicalTypeAnnotation time) {
            Instant instant =
                    switch (time.getUnit()) {
                        case MILLIS -> Instant.ofEpochMilli(value);
                        case MICROS ->
                            Instant.ofEpochSecond(
                                    Math.floorDiv(value, 1_000_000L), Math.floorMod(value, 1_000_000L) * 1_000);
                        case NANOS ->
                            Instant.ofEpochSecond(
                                    Math.floorDiv(value, 1_000_000_000L), Math.floorMod(value, 1_000_000_000L));
                    };
            BigDecimal seconds =
                    BigDecimal.valueOf(instant.getEpochSecond()).add(BigDecimal.valueOf(instant.getNano(), 9));
            return seconds.stripTrailingZeros().toPlainString();
        }
        return unsigned(logical) ? Long.toUnsignedString(value) : Long.toString(value);
    }

    private static InputException unreadable(PrimitiveType type, long row, Path file, String what) {
        return new InputException(
                file + ", row " + row + ", column \"" + type.getName() + "\"",
                "holds " + what + "; expected numbers, texts, truth values, dates or times");
    }
}
