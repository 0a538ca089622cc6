package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** Plans that are drafted run as they are, whatever the table, and find what was planted. */
class DraftIT {
    @TempDir
    private static Path folder;

    /** One line of a table. */
    private interface Row {
        String of(int i, RandomSource chance);
    }

    private static Arguments table(String kind, String header, int rows, Row row, boolean signal, String... drafted) {
        return Arguments.of(kind, header, rows, row, signal, List.of(drafted));
    }

    private static String number(double value) {
        return String.format(Locale.ROOT, "%.3f", value);
    }

    static Stream<Arguments> tables() {
        return Stream.of(
                table(
                        "numbers",
                        "x,z,y",
                        150,
                        (i, c) -> {
                            int y = c.below(2);
                            return number(c.normal() + 1.5 * y) + "," + number(c.normal()) + "," + (y == 1 ? "b" : "a");
                        },
                        true,
                        "repeats: 20",
                        "primary: accuracy"),
                table(
                        "categories",
                        "race,site,y",
                        200,
                        (i, c) -> {
                            int y = c.below(2);
                            String race = c.below(10) < 8 == (y == 1) ? "dark" : "buckfast";
                            return race + "," + (c.below(2) == 0 ? "heath" : "wood") + "," + (y == 1 ? "yes" : "no");
                        },
                        true,
                        "primary: accuracy",
                        "if they are copies"),
                table(
                        "imbalanced",
                        "x,y",
                        400,
                        (i, c) -> {
                            int y = c.below(8) == 0 ? 1 : 0;
                            return number(c.normal() + 2 * y) + "," + (y == 1 ? "lost" : "kept");
                        },
                        true,
                        "primary: auc",
                        "positive: lost"),
                table(
                        "three-classes",
                        "x,z,y",
                        180,
                        (i, c) -> {
                            int y = c.below(3);
                            return number(c.normal() + 2 * y) + "," + number(c.normal()) + ",k" + y;
                        },
                        true,
                        "primary: accuracy"),
                table(
                        "uneven-classes",
                        "x,y",
                        240,
                        (i, c) -> {
                            int y = c.below(10) < 8 ? 0 : 1 + c.below(3);
                            return number(c.normal() + 2 * y) + ",k" + y;
                        },
                        true,
                        "primary: balanced-accuracy"),
                table(
                        "groups",
                        "yard,x,y",
                        240,
                        (i, c) -> {
                            int y = c.below(2);
                            return "Y" + i % 24 + "," + number(c.normal() + 1.5 * y) + "," + y;
                        },
                        true,
                        "groups: yard",
                        "scheme: k-fold"),
                table(
                        "few-groups",
                        "yard,x,y",
                        120,
                        (i, c) -> {
                            int y = c.below(2);
                            return "Y" + i % 6 + "," + number(c.normal() + 1.5 * y) + "," + y;
                        },
                        true,
                        "scheme: k-fold"),
                table(
                        "dates",
                        "day,x,y",
                        200,
                        (i, c) -> {
                            int y = c.below(2);
                            return String.format(Locale.ROOT, "2026-%02d-%02d,", 1 + i / 28, 1 + i % 28)
                                    + number(c.normal() + 1.5 * y) + "," + y;
                        },
                        true,
                        "order: day",
                        "scheme: rolling-origin"),
                table(
                        "rare",
                        "x,y",
                        90,
                        (i, c) -> {
                            int y = i < 4 ? 1 : 0;
                            return number(c.normal() + 4 * y) + "," + (y == 1 ? "swarm" : "stay");
                        },
                        false,
                        "folds: 4",
                        "the rarest class has 4 rows"),
                table(
                        "one-rare-of-four",
                        "x,y",
                        120,
                        (i, c) -> {
                            int y = i < 2 ? 3 : i % 3;
                            return number(c.normal() + 2 * y) + ",race " + y;
                        },
                        false,
                        "folds: 10",
                        "a class of 2 rows is not in every fold"),
                table(
                        "copies",
                        "x,y",
                        200,
                        (i, c) -> {
                            RandomSource own = new Seed(i % 180).chance();
                            int y = own.below(2);
                            return number(own.normal() + 1.5 * y) + "," + y;
                        },
                        true,
                        "bind-equal: true"),
                table(
                        "missing-and-ids",
                        "id,x,z,empty,y",
                        160,
                        (i, c) -> {
                            int y = c.below(2);
                            String x = c.below(4) == 0 ? "" : number(c.normal() + 2 * y);
                            return "H" + i + "," + x + "," + number(c.normal()) + ",same," + y;
                        },
                        true,
                        "leave-out: [id, empty]"),
                table(
                        "wide",
                        wideHeader(),
                        80,
                        (i, c) -> {
                            int y = c.below(2);
                            StringBuilder line = new StringBuilder(number(c.normal() + 3 * y));
                            for (int j = 1; j < 60; j++) {
                                line.append(',').append(number(c.normal()));
                            }
                            return line + "," + (y == 1 ? "\"it's: #1\"" : "plain");
                        },
                        true,
                        "repeats: 20"));
    }

    private static String wideHeader() {
        StringBuilder header = new StringBuilder();
        for (int j = 0; j < 60; j++) {
            header.append('w').append(j).append(',');
        }
        return header + "y";
    }

    @ParameterizedTest(name = "{0}")
    @MethodSource("tables")
    void theDraftedPlanRunsAsItIs(String kind, String header, int rows, Row row, boolean signal, List<String> drafted)
            throws Exception {
        RandomSource chance = new Seed(kind.length()).with(kind).chance();
        StringBuilder csv = new StringBuilder(header + "\n");
        for (int i = 0; i < rows; i++) {
            csv.append(row.of(i, chance)).append('\n');
        }
        Files.writeString(folder.resolve(kind + ".csv"), csv);
        Program program = new Program(folder);
        program.run("draft", kind + ".csv", "--target", "y", "-o", kind + ".yaml")
                .expect(0);
        String plan = Files.readString(folder.resolve(kind + ".yaml"));
        drafted.forEach(d -> assertThat(plan).contains(d));
        // As it is, but for the repeats, which only add more of the same.
        Files.writeString(folder.resolve(kind + ".yaml"), plan.replaceFirst("repeats: \\d+", "repeats: 2"));
        program.run("folds", kind + ".yaml").expect(0);
        program.run("run", kind + ".yaml", "-o", kind + ".kfl").expect(0);
        JsonNode pick = program.run("pick", kind + ".kfl", "--json", "--draws", "300")
                .expect(0)
                .json()
                .get("datasets")
                .get(0);
        if (signal) {
            assertThat(pick.get("best").asText()).isNotEqualTo("majority");
            JsonNode contrast = program.run("contrast", kind + ".kfl", "--json", "--draws", "300")
                    .expect(0)
                    .json();
            boolean found = false;
            for (JsonNode c : contrast.get("contrasts")) {
                if (c.get("candidate").asText().equals("majority")) {
                    found = c.get("difference").asDouble() < 0;
                }
            }
            assertThat(found).isTrue();
        }
    }

    @Test
    void whatTheUserSaysStandsAndAFileIsNeverOverwritten() throws Exception {
        Program program = new Program(folder);
        Files.writeString(
                folder.resolve("t.csv"), "day;yard;x;y\n" + "1;A;1,5;no\n2;B;2,5;yes\n3;C;0,5;no\n".repeat(20));
        program.run(
                        "draft",
                        "t.csv",
                        "--target",
                        "y",
                        "--positive",
                        "no",
                        "--groups",
                        "yard",
                        "--order",
                        "day",
                        "--leave-out",
                        "day",
                        "--decimal",
                        ",",
                        "--seed",
                        "5",
                        "-o",
                        "t.yaml")
                .expect(0);
        assertThat(Files.readString(folder.resolve("t.yaml")))
                .contains("positive: no ")
                .contains("groups: yard ")
                .contains("scheme: leave-group-out")
                .contains("decimal: \",\"")
                .contains("seed: 5 ");
        assertThat(program.run("draft", "t.csv", "--target", "y", "--decimal", ",", "-o", "t.yaml")
                        .expect(3)
                        .said())
                .contains("t.yaml: is there already");
        assertThat(program.run("draft", "t.csv", "--target", "z", "--decimal", ",")
                        .expect(3)
                        .said())
                .contains("there is no column \"z\"");
        assertThat(program.run("draft", "t.csv", "--target", "y").expect(3).said())
                .contains("t.csv, line 2, column \"x\"");
    }
}
