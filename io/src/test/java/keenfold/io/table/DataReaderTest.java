package keenfold.io.table;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.io.table.parse.TableFormat;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DataReaderTest {
    @TempDir
    private Path folder;

    private static DataSpec spec(
            String target, Optional<String> positive, Optional<String> groups, List<String> leaveOut) {
        return new DataSpec(
                "bees.csv",
                "bees",
                target,
                positive,
                groups,
                Optional.empty(),
                Optional.empty(),
                leaveOut,
                TableFormat.PLAIN);
    }

    private LoadedData read(String csv, DataSpec spec) throws IOException {
        Files.writeString(folder.resolve("bees.csv"), csv);
        return DataReader.read(spec, List.of(folder));
    }

    private static final DataSpec PLAIN = spec("lost", Optional.empty(), Optional.empty(), List.of());

    @Test
    void targetGroupsAndFeaturesAreToldApart() throws IOException {
        LoadedData loaded = read(
                "site,mites,lost\nA,1,0\nB,2,\nB,3,1\nC,4,0\n",
                spec("lost", Optional.empty(), Optional.of("site"), List.of()));
        DataSet data = loaded.data();
        assertThat(data.rows()).isEqualTo(3);
        assertThat(data.sourceRows()).containsExactly(1, 3, 4);
        assertThat(data.classes().labels()).containsExactly("0", "1");
        assertThat(data.classes().positiveLabel()).isEqualTo("1");
        assertThat(data.features().names()).containsExactly("mites");
        assertThat(data.groups().orElseThrow().levels()).containsExactly("A", "B", "C");
        assertThat(loaded.notices())
                .anyMatch(n -> n.sentence().contains("1 of 4 rows have no \"lost\""))
                .anyMatch(n -> n.sentence().contains("positive class is \"1\", the rarer one (1 of 3 rows)"));
    }

    @Test
    void oddColumnsAndCopiesAreNoticed() throws IOException {
        String rows = IntStream.range(0, 60)
                .mapToObj(i -> "id" + i + ",g" + i / 3 + ",2024-05-0" + (1 + i % 9) + "," + i % 7 + ","
                        + (i % 2 == 0 ? "a" : "b"))
                .collect(Collectors.joining("\n"));
        LoadedData loaded = read("id,site,day,x,lost\n" + rows + "\n", PLAIN);
        assertThat(loaded.data().features().names()).containsExactly("site", "day", "x");
        assertThat(loaded.notices())
                .anyMatch(n -> n.sentence().contains("\"id\" has another value in every row; it is left out"))
                .anyMatch(n -> n.sentence().contains("\"site\" looks like a group (20 values)"))
                .anyMatch(n -> n.sentence().contains("\"day\" holds dates"));
        TableFormat texts = new TableFormat(
                Optional.empty(), Set.copyOf(TableFormat.MISSING), Set.of("id"), Set.of(), '.', Optional.empty());
        DataSpec said = new DataSpec(
                "bees.csv",
                "bees",
                "lost",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                texts);
        DataSet kept = read("id,site,day,x,lost\n" + rows + "\n", said).data();
        assertThat(kept.features().column("id").orElseThrow())
                .isInstanceOfSatisfying(
                        Categories.class, c -> assertThat(c.texts()).isTrue());
        LoadedData copies = read("x,y,lost\n1,u,a\n1,u,a\n1,u,b\n1,u,a\n", PLAIN);
        assertThat(copies.notices()).anyMatch(n -> n.sentence().contains("2 of 4 rows repeat an earlier row"));
    }

    /** All columns are text but those of number, and the one that says which rows came first. */
    @Test
    void rangesAndAllAreResolvedByTheColumns() throws IOException {
        String table = "day,V1,V2,V3,V4,lost\n2026-03-01,1,2,3,4,a\n2026-03-02,5,6,7,8,b\n2026-03-03,1,2,7,8,b\n";
        TableFormat format = new TableFormat(
                Optional.empty(),
                Set.copyOf(TableFormat.MISSING),
                Set.of("all"),
                Set.of("V1..V2"),
                '.',
                Optional.empty());
        DataSpec spec = new DataSpec(
                "bees.csv",
                "d",
                "lost",
                Optional.empty(),
                Optional.empty(),
                Optional.of("day"),
                Optional.empty(),
                List.of("V3..V3", "V2"),
                format);
        DataSet data = read(table, spec).data();
        assertThat(data.features().names()).containsExactly("V1", "V4");
        assertThat(data.features().columns().get(0)).isInstanceOf(Numbers.class);
        assertThat(data.features().columns().get(1)).isInstanceOf(Categories.class);
        assertThatThrownBy(() -> read(table, spec.withFormat(format.withText(Set.of("V4..V1")))))
                .hasMessageContaining("\"V4..V1\": the second column stands before the first");
    }

    @Test
    void whatCannotBeUsedIsNamedWithTheMend() {
        assertThatThrownBy(() -> read("x,lost\n1,a\n2,a\n", PLAIN))
                .hasMessageContaining("column \"lost\": every row is of class \"a\"");
        assertThatThrownBy(() -> read("x,lots\n1,a\n2,b\n", PLAIN))
                .hasMessageContaining("there is no column \"lost\"; the nearest is \"lots\"");
        assertThatThrownBy(() -> read("x,lost\n1,\n2,\n", PLAIN))
                .hasMessageContaining("no row has a value in the target");
        assertThatThrownBy(() -> read("lost\na\nb\n", PLAIN)).hasMessageContaining("no column is left");
        assertThatThrownBy(() ->
                        read("x,lost\n1,yes\n2,no\n", spec("lost", Optional.of("ye"), Optional.empty(), List.of())))
                .hasMessageContaining("no row is of class \"ye\"; the nearest is \"yes\"");
        assertThatThrownBy(() ->
                        read("g,x,lost\nA,1,a\n,2,b\n", spec("lost", Optional.empty(), Optional.of("g"), List.of())))
                .hasMessageContaining("data row 2, column \"g\": a row without a group");
        String weights = IntStream.range(0, 50).mapToObj(i -> i + "," + i * 1.5).collect(Collectors.joining("\n"));
        assertThatThrownBy(() -> read("x,lost\n" + weights + "\n", PLAIN))
                .hasMessageContaining("50 different values in 50 rows");
    }

    @Test
    void theFingerprintIsThatOfTheValuesNotOfTheFile() throws IOException {
        String plain = read("x,c,lost\n1.0,u,a\n2,v,b\n3,u,b\n", PLAIN).fingerprint();
        assertThat(read("\"x\";c;lost\r\n1;u;a\r\n2e0;v;b\r\n3;u;b\r\n", PLAIN).fingerprint())
                .isEqualTo(plain);
        assertThat(read("x,c,lost\n1.0,u,a\n2,v,b\n3,u,a\n", PLAIN).fingerprint())
                .isNotEqualTo(plain);
        assertThat(read("x,c,lost\n1.0,u,a\n2,v,b\n4,u,b\n", PLAIN).fingerprint())
                .isNotEqualTo(plain);
        assertThat(read(
                                "x,c,more,lost\n1.0,u,9,a\n2,v,8,b\n3,u,7,b\n",
                                spec("lost", Optional.empty(), Optional.empty(), List.of("more")))
                        .fingerprint())
                .isEqualTo(plain);
    }
}
