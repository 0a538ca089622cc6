package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SurveyIT {
    @TempDir
    private Path folder;

    private Program.Outcome survey(String... more) throws Exception {
        String[] args = new String[more.length + 2];
        args[0] = "survey";
        args[1] = Program.DEMO.resolve("hives.csv").toString();
        System.arraycopy(more, 0, args, 2, more.length);
        return new Program(folder).run(args);
    }

    @Test
    void columnsClassesAndSuspicionsOnOnePage() throws Exception {
        Program.Outcome outcome = survey("--target", "wintered").expect(0);
        assertThat(outcome.out())
                .contains("hives.csv: 640 rows, 13 columns")
                .containsPattern("mites +7\\.2 % +121 ")
                .containsPattern("inspected +0 +45 +2025-08-18 +2025-09-09 +2025-10-01")
                .containsPattern("race +3\\.8 % +4 +dark 165, mixed 159")
                .contains("Always guessing \"yes\" has an accuracy of 0.759, a balanced accuracy of 0.500");
        assertThat(outcome.said())
                .contains("column \"hive_id\" has another value in every row")
                .contains("column \"apiary\" looks like a group (40 recurring values)")
                .contains("column \"inspected\" says which rows came first");
        assertThat(outcome.out().lines()).allMatch(l -> l.length() <= 100);
        assertThat(survey().expect(0).out()).doesNotContain("Always guessing");
    }

    @Test
    void classesBrokenDownAddUp() throws Exception {
        assertThat(survey("--target", "wintered", "--by", "race").expect(0).out())
                .contains("classes by race")
                .contains("(missing)");
        JsonNode json = survey("--target", "wintered", "--by", "mites", "--json")
                .expect(0)
                .json();
        int lost = 0;
        for (JsonNode part : json.get("by")) {
            lost += part.get("no").asInt();
        }
        assertThat(lost).isEqualTo(154);
        assertThat(json.get("by").size()).isEqualTo(11);
        assertThat(json.get("classes").get(1).get("rows").asInt()).isEqualTo(154);
        assertThat(json.get("suspicions").get(0).get("kind").asText()).isEqualTo("unique");
        assertThat(survey("--target", "wintered", "--by", "race", "--csv")
                        .expect(0)
                        .out())
                .startsWith("race,no,yes\nbuckfast,");
        assertThat(survey("--csv").expect(0).out())
                .startsWith("column,kind,missing,distinct,auc,mean")
                .hasLineCount(14);
    }

    @Test
    void strayWordsAreShownWithTheirLineAndWrongNamesRefused() throws Exception {
        StringBuilder csv = new StringBuilder("x,code,y\n");
        for (int i = 0; i < 30; i++) {
            csv.append(i == 17 ? "many" : i == 20 ? "NA" : i * 7 % 11)
                    .append(i % 3 == 0 ? ",A" : ",")
                    .append(i % 4)
                    .append(",")
                    .append(i * 1.5)
                    .append('\n');
        }
        Files.writeString(folder.resolve("t.csv"), csv.toString());
        Program.Outcome outcome =
                new Program(folder).run("survey", "t.csv", "--target", "y").expect(0);
        assertThat(outcome.said())
                .contains(
                        "t.csv, line 19, column \"x\": \"many\" is a word among 28 numbers, so that the column is read as"
                                + " categories; to have numbers, correct it, or read it as missing (--missing many)")
                .contains("column \"y\" is a number with 30 values, each of which would be a class of its own");
        // What the notice advises leaves the other codes what they were.
        assertThat(new Program(folder)
                        .run("survey", "t.csv", "--missing", "many")
                        .expect(0)
                        .out())
                .containsPattern("numbers\\ncolumn .*\\nx +6[.]7 % +11 ");
        assertThat(survey("--target", "winterd").expect(3).err()).contains("the nearest is \"wintered\"");
        assertThat(survey("--by", "race").expect(2).err()).contains("name them with --target");
        assertThat(new Program(folder).run("survey", "none.csv").expect(3).err())
                .contains("there is no such file");
    }

    @Test
    void columnsAreRankedWideTablesAreFoldedAndThePageShowsEachByClass() throws Exception {
        assertThat(survey("--target", "wintered").expect(0).out())
                .contains("what each column tells of wintered by itself")
                .containsPattern("bee_frames +0[.]7\\d\\d  #+")
                .containsPattern("one in twenty\\s+columns of random numbers reaches 0[.]5")
                .contains("85 rows (13 %) have a missing value, in mites, stores_kg and race");
        StringBuilder csv = new StringBuilder("y");
        IntStream.range(0, 30).forEach(j -> csv.append(",flag").append(j));
        for (int i = 0; i < 60; i++) {
            csv.append('\n').append(i % 2 == 0 ? "<b>" : "no");
            for (int j = 0; j < 30; j++) {
                csv.append(',').append(j == 17 ? i % 2 : (i * (j + 3) / 37) % 2);
            }
        }
        Files.writeString(folder.resolve("wide.csv"), csv.append('\n').toString());
        Program program = new Program(folder);
        String text = program.run("survey", "wide.csv", "--target", "y", "--page", "page.html")
                .expect(0)
                .out();
        assertThat(text)
                .contains("columns with two values, those that tell most of the class first\n")
                .containsPattern("two values.*\\ncolumn .*\\nflag17 +0 ")
                .containsPattern("and 10 more: flag\\d+, .*; --all\\s+shows them too");
        assertThat(program.run("survey", "wide.csv", "--target", "y", "--all")
                        .expect(0)
                        .out())
                .doesNotContain(" more: ");
        String page = Files.readString(folder.resolve("page.html"));
        assertThat(page.split("<figure class=\"card\">", -1)).hasSize(31);
        assertThat(page.indexOf("flag17")).isPositive().isLessThan(page.indexOf("flag0<"));
        assertThat(page).contains("&lt;b&gt;").doesNotContain("<b>");
        Files.writeString(folder.resolve("mine.html"), "<p>mine</p>");
        assertThat(program.run("survey", "wide.csv", "--page", "mine.html")
                        .expect(3)
                        .err())
                .contains("is there already");
    }
}
