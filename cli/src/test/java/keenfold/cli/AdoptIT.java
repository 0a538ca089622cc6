package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Tables of several data sets made elsewhere, through the built program. */
class AdoptIT {
    private static final List<String> CANDIDATES = List.of("plain", "leaf", "prune", "both");

    /** Four classifiers on fourteen data sets: the worked example of Demšar (2006), section 3.2.2. */
    private static final double[][] PUBLISHED = {
        {.763, .768, .771, .798},
        {.599, .591, .590, .569},
        {.954, .971, .968, .967},
        {.628, .661, .654, .657},
        {.882, .888, .886, .898},
        {.936, .931, .916, .931},
        {.661, .668, .609, .685},
        {.583, .583, .563, .625},
        {.775, .838, .870, .870},
        {1.000, 1.000, 1.000, 1.000},
        {.940, .962, .965, .962},
        {.619, .666, .614, .669},
        {.972, .981, .975, .975},
        {.957, .978, .946, .970}
    };

    @TempDir
    private Path folder;

    private Program.Outcome run(int code, String command) throws Exception {
        return new Program(folder).run(command.split(" ")).expect(code);
    }

    private void wide(String file, int from, int to) throws Exception {
        Files.writeString(
                folder.resolve(file),
                IntStream.range(from, to)
                        .mapToObj(i -> "apiary-" + (i + 1) + ","
                                + java.util.Arrays.stream(PUBLISHED[i])
                                        .mapToObj(Double::toString)
                                        .collect(Collectors.joining(",")))
                        .collect(Collectors.joining("\n", "dataset," + String.join(",", CANDIDATES) + "\n", "\n")));
    }

    @BeforeEach
    void writeTables() throws Exception {
        wide("all.csv", 0, 14);
        wide("first.csv", 0, 6);
        wide("last.csv", 6, 14);
        StringBuilder lines = new StringBuilder("dataset,candidate,metric,value\n");
        for (int i = 0; i < 14; i++) {
            for (int c = 0; c < 4; c++) {
                lines.append("apiary-%d,%s,auc,%s%n".formatted(i + 1, CANDIDATES.get(c), PUBLISHED[i][c]));
            }
        }
        Files.writeString(folder.resolve("long.csv"), lines);
    }

    @Test
    void thePublishedTableComesOutHoweverItIsAdopted() throws Exception {
        run(0, "adopt all.csv -o all.kfl --metric auc");
        run(0, "adopt long.csv -o long.kfl");
        run(0, "adopt first.csv last.csv -o both.kfl --metric auc");
        run(0, "adopt first.csv -o more.kfl --metric auc");
        Files.copy(folder.resolve("more.kfl"), folder.resolve("begun.kfl"));
        run(0, "adopt last.csv -o more.kfl --metric auc");
        run(0, "adopt last.csv -o rest.kfl --metric auc");
        assertThat(run(0, "merge begun.kfl rest.kfl begun.kfl -o merged.kfl").said())
                .contains("56 of 56 fits")
                .contains("begun.kfl: 24 fits were in a ledger before it too, and the same");
        JsonNode across = run(0, "contrast all.kfl --across --json").json().get("across");
        assertThat(across.get("sets").asInt()).isEqualTo(14);
        double[] ranks = {3.143, 2.000, 2.893, 1.964};
        for (int c = 0; c < 4; c++) {
            assertThat(across.get("ranks").get(CANDIDATES.get(c)).asDouble()).isCloseTo(ranks[c], within(5e-4));
        }
        JsonNode iman = across.get("iman_davenport");
        assertThat(iman.get("statistic").asDouble()).isCloseTo(3.69, within(0.01));
        assertThat(iman.get("statistic_ties").asDouble()).isGreaterThan(3.7);
        for (String other : List.of("long", "both", "more", "merged")) {
            assertThat(run(0, "contrast " + other + ".kfl --across --json")
                            .json()
                            .get("across"))
                    .as(other)
                    .isEqualTo(across);
        }
        Program.Outcome shown = run(0, "contrast all.kfl --across");
        // Every data set is shown, and which statistic each F comes from.
        assertThat(shown.out()).contains("apiary-1 ").contains("apiary-14").contains("both corrected for ties;");
        assertThat(shown.out().lines()).allMatch(l -> l.length() <= 100);
        String read = run(0, "scores all.kfl").said() + run(0, "pick all.kfl").said();
        assertThat(read)
                .doesNotContain("2 rows")
                .doesNotContain("seed")
                .doesNotContain("SE 0")
                .doesNotContain("se 0");
    }

    @Test
    void whatDoesNotFitIsSaid() throws Exception {
        assertThat(run(3, "adopt all.csv -o x.kfl").err()).contains("say with --metric NAME what its numbers are");
        assertThat(run(3, "adopt long.csv -o x.kfl --metric auc").err()).contains("which says what its numbers are");
        assertThat(run(3, "adopt all.csv -o x.kfl --metric auc --positive yes").err())
                .contains("is for predictions");
        run(0, "adopt first.csv -o x.kfl --metric auc");
        assertThat(run(3, "adopt first.csv -o x.kfl --metric auc").err())
                .contains("a candidate called \"plain\" is in x.kfl already, on data set \"apiary-1\"");
        assertThat(run(3, "adopt last.csv -o x.kfl --metric accuracy").err())
                .contains("metric accuracy is not in x.kfl, which has [auc]");
        wide("second.csv", 0, 6);
        Files.writeString(
                folder.resolve("second.csv"),
                Files.readString(folder.resolve("second.csv")).replace("0.763", "0.863"));
        run(0, "adopt second.csv -o y.kfl --metric auc");
        assertThat(run(3, "merge x.kfl y.kfl -o z.kfl").err())
                .contains("y.kfl: candidate \"plain\" of data set \"apiary-1\"");
    }

    /** Predictions of two data sets in files of their own: the same candidates, so two data sets; others, so one. */
    @Test
    void filesWithoutADataSetAreToldApartByTheirCandidates() throws Exception {
        for (String name : List.of("hives", "swarms")) {
            Files.writeString(folder.resolve(name + ".csv"), predictions("woods,near", name.length()));
        }
        Files.writeString(folder.resolve("third.csv"), predictions("bush", 5));
        run(0, "adopt hives.csv swarms.csv -o two.kfl --quiet");
        JsonNode across = run(0, "contrast two.kfl --across --json").json().get("across");
        assertThat(across.get("sets").asInt()).isEqualTo(2);
        run(0, "adopt hives.csv third.csv -o one.kfl --quiet");
        JsonNode scores = run(0, "scores one.kfl --json").json().get("datasets");
        assertThat(scores).hasSize(1);
        assertThat(scores.get(0).get("candidates")).hasSize(3);
    }

    private static String predictions(String candidates, int shift) {
        StringBuilder lines = new StringBuilder("candidate,row,fold,actual,p:no,p:yes\n");
        for (String candidate : candidates.split(",")) {
            for (int i = 0; i < 60; i++) {
                double p = ((i * (shift + candidate.length())) % 11 + (i % 2)) / 12.0;
                lines.append("%s,%d,%d,%s,%s,%s%n"
                        .formatted(candidate, i + 1, i % 5 + 1, i % 2 == 0 ? "no" : "yes", 1 - p, p));
            }
        }
        return lines.toString();
    }
}
