package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What a newcomer mistypes or mistakes, ten times and more for each command: the answer says what was meant, where, and what
 * would be right. The slips, their exit codes and answers are in slips.tsv.
 */
class SlipsTest {
    private static final int LEAST = 10;

    @TempDir
    private static Path folder;

    /** @param said what stands on standard error, without the name of the folder */
    private record Answer(int code, String said) {}

    private static Answer answer(String... words) {
        List<String> placed = Stream.of(words)
                .map(w -> w.matches("[\\w-]+\\.\\w+(/\\w+)?|nodir/.*|here|there")
                        ? folder.resolve(w).toString()
                        : w)
                .toList();
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        int code = Main.execute(
                new PrintStream(OutputStream.nullOutputStream(), false, StandardCharsets.UTF_8),
                new PrintStream(said, false, StandardCharsets.UTF_8),
                placed.toArray(String[]::new));
        return new Answer(code, said.toString(StandardCharsets.UTF_8).replace(folder + "/", ""));
    }

    private static void makeFiles() throws IOException {
        for (String table : List.of("hives.csv", "forage.csv", "swarm.csv")) {
            Files.copy(Program.DEMO.resolve(table), folder.resolve(table));
        }
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                splits: {folds: 3, repeats: 2}
                seed: 2
                metrics: [auc, accuracy]
                candidates:
                  guess: {classifier: majority}
                  bayes: {classifier: naive-bayes}
                  tree: {classifier: tree}
                """);
        assertThat(answer("run", "plan.yaml", "-o", "ledger.kfl").code()).isZero();
        assertThat(answer("train", "ledger.kfl", "--candidate", "bayes", "-o", "pick.kfm")
                        .code())
                .isZero();
        assertThat(answer("export", "ledger.kfl", "--what", "predictions", "-o", "predictions.csv")
                        .code())
                .isZero();
    }

    private static List<String> lines() throws IOException {
        try (InputStream in = SlipsTest.class.getResourceAsStream("slips.tsv")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8).lines().toList();
        }
    }

    @Test
    void everySlipIsAnswered() throws IOException {
        makeFiles();
        List<String> wrong = new ArrayList<>();
        Map<String, Integer> counted = new TreeMap<>();
        for (String line : lines()) {
            String[] fields = line.split("\t", -1);
            Answer answer = answer(fields[1].split(" "));
            counted.merge(fields[1].split(" ")[0], 1, Integer::sum);
            String last = answer.said().lines().reduce("", (a, b) -> b);
            String told = last.replaceFirst("^keenfold: ", "").replaceFirst("; see keenfold [a-z]+ --help$", "");
            if (answer.code() != Integer.parseInt(fields[0]) || !told.equals(fields[2])) {
                wrong.add(answer.code() + "\t" + fields[1] + "\t" + told);
            }
        }
        assertThat(String.join("\n", wrong)).isEmpty();
        assertThat(counted.keySet()).containsExactlyInAnyOrderElementsOf(Keenfold.names());
        assertThat(counted.values()).allMatch(n -> n >= LEAST);
        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files.map(f -> f.getFileName().toString()).collect(Collectors.toSet()))
                    .as("nothing is left behind")
                    .containsExactlyInAnyOrder(
                            "hives.csv",
                            "forage.csv",
                            "swarm.csv",
                            "plan.yaml",
                            "ledger.kfl",
                            "pick.kfm",
                            "predictions.csv");
        }
    }
}
