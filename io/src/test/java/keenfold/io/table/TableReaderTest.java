package keenfold.io.table;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.zip.GZIPOutputStream;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.io.InputException;
import keenfold.io.table.parse.NumberParser;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.TableFormat;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class TableReaderTest {
    @TempDir
    private Path folder;

    private Path file(byte[] content) throws IOException {
        return Files.write(folder.resolve("t.csv"), content);
    }

    private static List<ReadColumn> reading(Path file, TableFormat format) {
        return TableReader.read(TableLocation.of(file), format).columns();
    }

    private List<ReadColumn> read(String content) throws IOException {
        return reading(file(content.getBytes(StandardCharsets.UTF_8)), TableFormat.PLAIN);
    }

    private static double[] numbers(ReadColumn column) {
        return column.column().match(Numbers::toArray, c -> new double[0]);
    }

    private static String text(ReadColumn column, int row) {
        return column.column()
                .match(n -> "?", c -> c.missing(row) ? "-" : c.levels().get(c.code(row)));
    }

    @ParameterizedTest
    @ValueSource(strings = {",", ";", "\t"})
    void separatorsKindsQuotesAndMissingValues(String s) throws IOException {
        String csv = String.join(s, "x", "\"a name\"", "when", "c")
                + "\r\n"
                + String.join(s, "1.5", "\"say \"\"hi\"\"\"", "2024-01-02", " u ")
                + "\r\n"
                + String.join(s, "NA", "\"two" + s + "\nlines\"", "", "?")
                + "\r\n"
                + String.join(s, "-2e3", "", "1970-01-02", "NaN")
                + "\r\n";
        List<ReadColumn> t = read(csv);
        assertThat(t)
                .extracting(ReadColumn::kind)
                .containsExactly(
                        ReadColumn.Kind.NUMBER,
                        ReadColumn.Kind.CATEGORY,
                        ReadColumn.Kind.DATE,
                        ReadColumn.Kind.CATEGORY);
        assertThat(numbers(t.get(0))).containsExactly(1.5, Double.NaN, -2000);
        assertThat(text(t.get(1), 0)).isEqualTo("say \"hi\"");
        assertThat(text(t.get(1), 1)).isEqualTo("two" + s + "\nlines");
        assertThat(numbers(t.get(2))).containsExactly(19724, Double.NaN, 1);
        assertThat(text(t.get(3), 0)).isEqualTo("u");
        assertThat(text(t.get(3), 1)).isEqualTo("-");
        assertThat(t.get(1).column().name()).isEqualTo("a name");
    }

    @Test
    void gzipAndByteOrderMarkMakeNoDifference() throws IOException {
        String csv = "\uFEFFgrün,y\nä,1\n";
        ByteArrayOutputStream packed = new ByteArrayOutputStream();
        try (GZIPOutputStream gzip = new GZIPOutputStream(packed)) {
            gzip.write(csv.getBytes(StandardCharsets.UTF_8));
        }
        List<ReadColumn> t = reading(file(packed.toByteArray()), TableFormat.PLAIN);
        assertThat(t.get(0).column().name()).isEqualTo("grün");
        assertThat(text(t.get(0), 0)).isEqualTo("ä");
    }

    @Test
    void aColumnThatTurnsFromNumbersToWordsIsReadAsText() throws IOException {
        List<ReadColumn> t = read("code,x\n1,1\n2,2\nB7,3\nC,4\n2,5\n");
        assertThat(text(t.get(0), 0)).isEqualTo("1");
        assertThat(text(t.get(0), 4)).isEqualTo("2");
        int levels = t.get(0).column().match(n -> 0, c -> c.levels().size());
        assertThat(levels).isEqualTo(4);
        assertThat(numbers(t.get(1))).containsExactly(1, 2, 3, 4, 5);
    }

    /** Wherever the one word stands, among numbers it is taken for a slip and named with its line. */
    @ParameterizedTest
    @CsvSource({"0,2", "5,7", "19,21"})
    void oneWordAmongNumbersIsNamed(int at, int line) throws IOException {
        StringBuilder csv = new StringBuilder("x,y\n");
        for (int i = 0; i < 20; i++) {
            csv.append(i == at ? "\"12,4\"" : i).append(",k\n");
        }
        assertThatThrownBy(() -> read(csv.toString()))
                .isInstanceOf(InputException.class)
                .hasMessageContaining("t.csv, line " + line + ", column \"x\": \"12,4\" is not a number, as 19 others")
                .hasMessageContaining("write 12.4")
                .hasMessageContaining("--text x");
        Path file = folder.resolve("t.csv");
        List<ReadColumn> asText = reading(file, TableFormat.PLAIN.withText(Set.of("x")));
        assertThat(text(asText.get(0), at)).isEqualTo("12,4");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "''|the file is empty",
                "a,b\\n1,2\\n3\\n|line 3: 1 fields: expected 2",
                "a,b\\n1,2,3\\n|line 2: 3 fields: expected 2",
                "a,a\\n1,2\\n|line 1: two columns are called \"a\"",
                "a,\\n1,2\\n|column 2 has no name",
                "a,b\\n1,1e999\\n|line 2, column \"b\": \"1e999\" is too large",
            })
    void brokenFilesAreNamedByLineAndColumn(String csv, String message) {
        assertThatThrownBy(() -> read(csv.replace("\\n", "\n")))
                .isInstanceOf(InputException.class)
                .hasMessageContaining(message);
    }

    @Test
    void wrongEncodingsAreNamed() throws IOException {
        Path latin = file("a,b\n1,2\nx,\u00fc\n".getBytes(StandardCharsets.ISO_8859_1));
        assertThatThrownBy(() -> reading(latin, TableFormat.PLAIN))
                .hasMessageContaining("t.csv, line 3: not valid UTF-8");
        Path wide = file("\uFEFFa,b\n1,2\n".getBytes(StandardCharsets.UTF_16BE));
        assertThatThrownBy(() -> reading(wide, TableFormat.PLAIN)).hasMessageContaining("UTF-16");
        assertThatThrownBy(() -> reading(folder.resolve("u.csv"), TableFormat.PLAIN))
                .hasMessageContaining("there is no such file; the nearest is \"t.csv\"");
        assertThatThrownBy(() -> reading(folder, TableFormat.PLAIN)).hasMessageContaining("is a folder");
    }

    @Test
    void numbersAreTheNearestDoubles() {
        RandomSource chance = new Seed(1).chance();
        for (int i = 0; i < 50_000; i++) {
            double value = (chance.uniform() - 0.5) * StrictMath.pow(10, chance.below(60) - 30);
            String text =
                    switch (chance.below(3)) {
                        case 0 -> Double.toString(value);
                        case 1 -> String.format(Locale.ROOT, "%.3e", value);
                        default -> String.format(Locale.ROOT, "%.7f", value);
                    };
            assertThat(NumberParser.parse(text)).isEqualTo(Double.parseDouble(text));
        }
        for (String text : List.of("0", "-0", "+7", ".5", "5.", "1E5", "123456789012345678901234567890", "4.9e-324")) {
            assertThat(NumberParser.parse(text)).as(text).isEqualTo(Double.parseDouble(text));
        }
        for (String text :
                List.of("1d", "0x1p3", "Infinity", "1_000", "1e", "e5", "--1", "1.2.3", ".", "", "1e+", "1,5", "1f")) {
            assertThat(NumberParser.parse(text)).as(text).isNaN();
        }
    }

    @Test
    void lineEndsWithinQuotationMarksEndNoRow() throws IOException {
        Path file = file("a,b\r\n1,\"two\nlines\"\r\n2,x\r\n".getBytes(StandardCharsets.UTF_8));
        List<String> notices =
                TableReader.read(TableLocation.of(file), TableFormat.PLAIN).notices();
        assertThat(notices)
                .hasSize(1)
                .allMatch(n -> n.contains("line 2, column \"b\": a value goes over several lines"));
    }
}
