package keenfold.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The quick study: few data sets, so that only what is far off can be seen. */
class ValidityStudyTest {
    @TempDir
    private Path folder;

    private static double first(String row, int cell) {
        return Double.parseDouble(row.split("\\|", -1)[cell].strip().split(" ", -1)[0]);
    }

    private static String row(List<String> lines, String start) {
        return lines.stream().filter(l -> l.startsWith(start)).findFirst().orElseThrow();
    }

    @Test
    void theQuickStudyHoldsItsLevelsAndResumes() throws Exception {
        Path file = folder.resolve("quick.txt");
        ValidityStudy.main(new String[] {file.toString(), "--quick"});
        List<String> all = Files.readAllLines(file);
        assertThat(all).hasSize(4 * 50);
        // As if it had been interrupted: what is missing is done again, and comes out the same.
        Files.write(file, all.subList(0, 185));
        ValidityStudy.main(new String[] {file.toString(), "--quick"});
        assertThat(Files.readAllLines(file)).containsExactlyElementsOf(all);
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        new StudyTables(all, new PrintStream(bytes, true, StandardCharsets.UTF_8)).print();
        List<String> lines = bytes.toString(StandardCharsets.UTF_8).lines().toList();
        for (String kind : List.of("linear", "near1")) {
            String accuracy = row(lines, "| " + kind + " | 80 | 2 | 10 | rows | accuracy |");
            assertThat(first(accuracy, 7)).as("pivot, %s", accuracy).isLessThanOrEqualTo(16);
            assertThat(first(accuracy, 10)).as("the naive test, %s", accuracy).isGreaterThanOrEqualTo(30);
            assertThat(first(accuracy, 11))
                    .as("variance over the true one, %s", accuracy)
                    .isBetween(0.5, 2.0);
            assertThat(first(accuracy, 12)).as("coverage, %s", accuracy).isGreaterThanOrEqualTo(80);
        }
        String family = row(lines, "| six equal | linear | 80 | 2 | 10 | accuracy |");
        assertThat(first(family, 7)).as("max-T, %s", family).isLessThanOrEqualTo(18);
        assertThat(first(family, 9)).as("not adjusted, %s", family).isGreaterThanOrEqualTo(14);
        assertThat(first(family, 11)).as("the best of equals flatters").isGreaterThan(first(family, 10) + 0.03);
        int sets = lines.indexOf(row(lines, "### Several candidates: how often the set"));
        String best = row(lines.subList(sets, lines.size()), "| six equal | linear | 80 | 2 | 10 | accuracy |");
        assertThat(first(best, 7)).as("the set holds the best, %s", best).isGreaterThanOrEqualTo(80);
        assertThat(first(best, 8))
                .as("its size is no larger than all pairs leave, %s", best)
                .isLessThanOrEqualTo(first(best, 10));
    }
}
