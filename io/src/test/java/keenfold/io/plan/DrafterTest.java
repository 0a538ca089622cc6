package keenfold.io.plan;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.io.table.DataSpec;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DrafterTest {
    @TempDir
    private Path folder;

    /** A plan that read its table otherwise than the draft did would compare on other numbers. */
    @Test
    void aPlanReadsTheTableAsTheDraftDid() throws IOException {
        StringBuilder rows = new StringBuilder("x;age;race;apiary;colonies;scribble;y\n");
        for (int i = 0; i < 40; i++) {
            rows.append(i % 9 == 2 ? "-999" : i * 7 % 31 + ",5")
                    .append(i % 8 == 5 ? ";gone;" : ";" + i % 5 + ";")
                    .append(i % 3)
                    .append(";é")
                    .append(i % 6)
                    .append(";1;note;")
                    .append(i % 2 == 0 ? "a\n" : "b\n");
        }
        Path file = folder.resolve("t.csv");
        Files.writeString(file, rows.toString(), StandardCharsets.ISO_8859_1);
        DataSpec asked = new DataSpec(
                "t.csv",
                "t",
                "y",
                Optional.of("a"),
                Optional.of("apiary"),
                Optional.empty(),
                Optional.of("colonies"),
                List.of("scribble"),
                new TableFormat(
                        Optional.of(';'),
                        Set.of("", "NA", "NaN", "?", "-999", "gone"),
                        Set.of("race"),
                        Set.of("age"),
                        ',',
                        Optional.of(StandardCharsets.ISO_8859_1)));
        ReadTable read = TableReader.readAsItIs(TableLocation.of(file), asked.format());
        String draft = Drafter.draft(read, asked, 3, Drafter.Scored.ALL, "");
        assertThat(PlanReader.parse("the draft", draft).data()).containsExactly(asked);
        assertThat(draft).contains("missing: [");
    }
}
