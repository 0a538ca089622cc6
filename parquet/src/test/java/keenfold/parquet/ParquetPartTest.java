package keenfold.parquet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import keenfold.core.data.Categories;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.example.data.Group;
import org.apache.parquet.example.data.simple.SimpleGroupFactory;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.hadoop.example.ExampleParquetWriter;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.MessageTypeParser;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ParquetPartTest {
    @TempDir
    private Path folder;

    private Path write(String schema, List<Consumer<Group>> rows) throws IOException {
        MessageType type = MessageTypeParser.parseMessageType(schema);
        Path file = folder.resolve("t.parquet");
        SimpleGroupFactory groups = new SimpleGroupFactory(type);
        try (ParquetWriter<Group> writer = ExampleParquetWriter.builder(new LocalOutputFile(file))
                .withConf(new PlainParquetConfiguration())
                .withType(type)
                .build()) {
            for (Consumer<Group> row : rows) {
                Group group = groups.newGroup();
                row.accept(group);
                writer.write(group);
            }
        }
        return file;
    }

    private static ReadTable read(Path file) {
        return TableReader.read(TableLocation.of(file), TableFormat.PLAIN);
    }

    @Test
    void everyFlatTypeIsReadAsItsValue() throws IOException {
        Path file = write(
                """
                message t { optional double x; optional float f; optional int32 i; optional int64 l; optional boolean b;
                  optional binary s (STRING); optional int32 day (DATE); optional int64 at (TIMESTAMP(MILLIS,true));
                  optional int32 price (DECIMAL(9,2)); optional int32 u (INTEGER(32,false)); optional int64 v (INTEGER(64,false)); }
                """,
                List.of(
                        g -> g.append("x", 0.1)
                                .append("f", 0.5f)
                                .append("i", -3)
                                .append("l", 1L << 40)
                                .append("b", true)
                                .append("s", "größe")
                                .append("day", 20_000)
                                .append("at", 1_500L)
                                .append("price", 1234)
                                .append("u", -1)
                                .append("v", -1L),
                        g -> {}));
        Table table = read(file).table();
        assertThat(table.names()).containsExactly("x", "f", "i", "l", "b", "s", "day", "at", "price", "u", "v");
        assertThat(number(table, "x")).isEqualTo(0.1);
        assertThat(number(table, "f")).isEqualTo(0.5);
        assertThat(number(table, "i")).isEqualTo(-3);
        assertThat(number(table, "l")).isEqualTo(1099511627776.0);
        assertThat(number(table, "day")).isEqualTo(20_000);
        assertThat(number(table, "at")).isEqualTo(1.5);
        assertThat(number(table, "price")).isEqualTo(12.34);
        assertThat(number(table, "u")).isEqualTo(4294967295.0);
        assertThat(number(table, "v")).isEqualTo(0x1p64);
        assertThat(text(table, "b")).isEqualTo("true");
        assertThat(text(table, "s")).isEqualTo("größe");
        assertThat(table.columns()).allMatch(c -> c.missing(1));
    }

    private static double number(Table table, String name) {
        return ((Numbers) table.column(name).orElseThrow()).get(0);
    }

    private static String text(Table table, String name) {
        Categories column = (Categories) table.column(name).orElseThrow();
        return column.levels().get(column.code(0));
    }

    @Test
    void whatIsNoTableOrDamagedIsRefusedWithItsPlace() throws IOException {
        Path nested = write("message t { repeated int32 many; }", List.of(g -> g.append("many", 1)));
        assertThatThrownBy(() -> read(nested))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("column \"many\": holds nested values");
        Files.delete(nested);
        Path bytes = write("message t { required binary raw; }", List.of(g -> g.append("raw", "abc")));
        assertThatThrownBy(() -> read(bytes)).hasMessageContaining("row 1, column \"raw\": holds bytes");
        byte[] damaged = Files.readAllBytes(bytes);
        Files.write(bytes, java.util.Arrays.copyOf(damaged, damaged.length - 6));
        assertThatThrownBy(() -> read(bytes))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("not a sound Parquet file");
    }
}
