package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Operating points and hardest rows, held against plain recomputation from exported predictions. */
class OperatingPointsIT {
    private static final double BOUND = 0.8;

    @TempDir
    private static Path folder;

    @BeforeAll
    static void runAPlan() throws Exception {
        Files.copy(Program.DEMO.resolve("swarm.csv"), folder.resolve("swarm.csv"));
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed, positive: yes}]
                splits: {folds: 4, repeats: 3}
                seed: 11
                metrics: [auc, accuracy]
                candidates:
                  logit: {classifier: logistic}
                  near: {classifier: nearest, neighbours: 7}
                  bound: {classifier: logistic, threshold: {for: recall, where: specificity>=0.8}}
                evidence: {draws: 200}
                """);
        program().run("run", "plan.yaml", "-o", "l.kfl").expect(0);
    }

    private static Program program() {
        return new Program(folder);
    }

    /** One prediction of an export. */
    private record Prediction(int row, int repeat, int fold, boolean actual, boolean predicted, double p) {}

    private static List<Prediction> predictions(String candidate) throws Exception {
        return program()
                .run("export", "l.kfl", "--what", "predictions")
                .expect(0)
                .out()
                .lines()
                .skip(1)
                .map(l -> l.split(",", -1))
                .filter(f -> f[4].equals(candidate))
                .map(f -> new Prediction(
                        Integer.parseInt(f[1]),
                        Integer.parseInt(f[2]),
                        Integer.parseInt(f[3]),
                        f[5].equals("yes"),
                        f[6].equals("yes"),
                        Double.parseDouble(f[8])))
                .toList();
    }

    private static double rate(List<Prediction> rows, boolean of, double threshold) {
        double all = rows.stream().filter(r -> r.actual() == of).count();
        return rows.stream()
                        .filter(r -> r.actual() == of && (r.p() >= threshold) == of)
                        .count()
                / all;
    }

    /** The threshold midway between two probabilities with the most recall where the bound is kept, nearest to 1/2. */
    private static double best(List<Prediction> rows) {
        double[] p =
                rows.stream().mapToDouble(Prediction::p).distinct().sorted().toArray();
        double best = 0.5;
        double most = -1;
        for (int i = -1; i < p.length; i++) {
            double below = i < 0 ? 0 : p[i];
            double above = i + 1 < p.length ? p[i + 1] : 1;
            double t = below < 0.5 && above > 0.5 ? 0.5 : (below + above) / 2;
            double recall = rate(rows, true, t);
            boolean nearer = Math.abs(t - 0.5) < Math.abs(best - 0.5);
            if (rate(rows, false, t) >= BOUND - 1e-9 && (recall > most + 1e-9 || (recall > most - 1e-9 && nearer))) {
                most = recall;
                best = t;
            }
        }
        return best;
    }

    @Test
    void thresholdsAreFoundOnTheOtherFoldsAndScoredOnTheirOwn() throws Exception {
        JsonNode rows = program()
                .run("scores", "l.kfl", "--thresholds", "--where", "specificity>=0.8", "--json")
                .expect(0)
                .json()
                .get("rows");
        Map<String, Double> means = new HashMap<>();
        Map<String, Double> thresholds = new HashMap<>();
        for (JsonNode row : rows) {
            String key = row.get("candidate").asText() + " " + row.get("metric").asText();
            means.put(key, row.get("mean").asDouble());
            thresholds.put(key, row.get("threshold_low").asDouble());
            if (row.get("metric").asText().equals("recall")) {
                assertThat(row.get("low").asDouble()).isLessThan(row.get("mean").asDouble());
                assertThat(row.get("se").asDouble()).isPositive();
            }
        }
        for (String candidate : List.of("logit", "near")) {
            List<Prediction> all = predictions(candidate);
            double recall = 0;
            double specificity = 0;
            double least = 1;
            for (int r = 1; r <= 3; r++) {
                int repeat = r;
                List<Prediction> moved = new ArrayList<>();
                for (int f = 1; f <= 4; f++) {
                    int fold = f;
                    double t = best(all.stream()
                            .filter(p -> p.repeat() == repeat && p.fold() != fold)
                            .toList());
                    least = Math.min(least, t);
                    all.stream()
                            .filter(p -> p.repeat() == repeat && p.fold() == fold)
                            .map(p -> new Prediction(p.row(), repeat, fold, p.actual(), p.p() >= t, p.p() >= t ? 1 : 0))
                            .forEach(moved::add);
                }
                recall += rate(moved, true, 0.5) / 3;
                specificity += rate(moved, false, 0.5) / 3;
            }
            assertThat(means.get(candidate + " recall")).isCloseTo(recall, within(1e-9));
            assertThat(means.get(candidate + " specificity")).isCloseTo(specificity, within(1e-9));
            assertThat(thresholds.get(candidate + " recall")).isCloseTo(least, within(1e-9));
        }
        assertThat(program()
                        .run("scores", "l.kfl", "--thresholds", "--where", "specificity>=0.8")
                        .expect(0)
                        .out())
                .contains("is predicted at and above the threshold with the best recall where specificity>=0.8")
                .containsPattern("near +0[.]\\d+");
    }

    @Test
    void aBoundInAPlanIsKeptInsideEachTrainingSide() throws Exception {
        List<Prediction> plain = predictions("logit");
        List<Prediction> bound = predictions("bound");
        assertThat(bound)
                .extracting(Prediction::p)
                .isEqualTo(plain.stream().map(Prediction::p).toList());
        // Labels are those of one threshold in each fold, and most negatives are called so.
        for (int r = 1; r <= 3; r++) {
            for (int f = 1; f <= 4; f++) {
                int repeat = r;
                int fold = f;
                List<Prediction> own = bound.stream()
                        .filter(p -> p.repeat() == repeat && p.fold() == fold)
                        .toList();
                double highestNo = own.stream()
                        .filter(p -> !p.predicted())
                        .mapToDouble(Prediction::p)
                        .max()
                        .orElse(0);
                double lowestYes = own.stream()
                        .filter(Prediction::predicted)
                        .mapToDouble(Prediction::p)
                        .min()
                        .orElse(1);
                assertThat(highestNo).isLessThan(lowestYes);
            }
        }
        double kept = bound.stream().filter(p -> !p.actual() && !p.predicted()).count()
                / (double) bound.stream().filter(p -> !p.actual()).count();
        assertThat(kept).isBetween(0.65, 0.95);
        assertThat(program().run("scores", "l.kfl").expect(0).out())
                .contains("threshold recall where specificity>=0.8");
        Files.writeString(
                folder.resolve("wrong.yaml"),
                Files.readString(folder.resolve("plan.yaml")).replace("specificity>=0.8", "auc>=0.8"));
        assertThat(program().run("run", "wrong.yaml", "-o", "w.kfl").expect(3).said())
                .contains("threshold: where = auc does not depend on a threshold");
        assertThat(program()
                        .run("scores", "l.kfl", "--thresholds", "--where", "specificity over 0.8")
                        .expect(2)
                        .said())
                .contains("expected a metric, >= or <=, and a number, such as specificity>=0.9");
    }

    @Test
    void theHardestRowsAreThoseThatAreWrongMostOftenWithTheirValues() throws Exception {
        String csv = program()
                .run("scores", "l.kfl", "--rows", "3", "--neighbours", "2", "--csv", "--candidate", "logit")
                .expect(0)
                .out();
        List<String> file = Files.readAllLines(folder.resolve("swarm.csv"));
        String[] head = csv.lines().findFirst().orElseThrow().split(",", -1);
        assertThat(head).startsWith("dataset", "row", "class", "wrong", "candidates_wrong", "taken_for", "probability");
        assertThat(csv.lines().count()).isEqualTo(4);
        Map<Integer, Double> wrong = new HashMap<>();
        predictions("logit").forEach(p -> wrong.merge(p.row(), p.predicted() == p.actual() ? 0 : 1 / 3.0, Double::sum));
        double most =
                wrong.values().stream().mapToDouble(Double::doubleValue).max().orElse(0);
        String[] first = csv.lines().skip(1).findFirst().orElseThrow().split(",", -1);
        assertThat(Double.parseDouble(first[3])).isCloseTo(most, within(1e-9));
        assertThat(wrong.get(Integer.parseInt(first[1]))).isCloseTo(most, within(1e-9));
        // The values are those of the row of the file.
        List<String> columns = List.of(file.get(0).split(",", -1));
        String[] row = file.get(Integer.parseInt(first[1])).split(",", -1);
        int checked = 0;
        for (int j = 8; j < head.length; j++) {
            if (columns.contains(head[j])) {
                assertThat(first[j]).isEqualTo(row[columns.indexOf(head[j])]);
                checked++;
            }
        }
        assertThat(checked).isGreaterThan(2);
        Files.writeString(folder.resolve("other.csv"), "");
        Files.move(folder.resolve("swarm.csv"), folder.resolve("gone.csv"));
        try {
            program().run("scores", "l.kfl", "--rows").expect(3);
        } finally {
            Files.move(folder.resolve("gone.csv"), folder.resolve("swarm.csv"));
        }
    }

    /** Labels that were adopted have neither probabilities nor columns; which rows are wrong they say as well. */
    @Test
    void theHardestRowsOfAdoptedLabelsAreTheSame() throws Exception {
        String predictions = program()
                .run("export", "l.kfl", "--what", "predictions")
                .expect(0)
                .out();
        Files.writeString(folder.resolve("labels.csv"), predictions.replaceAll("(?m)(,[^,]*){2}$", ""));
        program()
                .run("adopt", "labels.csv", "--positive", "yes", "-o", "adopted.kfl")
                .expect(0);
        Map<String, String> run = new HashMap<>();
        for (String row : program()
                .run("scores", "l.kfl", "--rows", "50", "--csv")
                .expect(0)
                .out()
                .split("\n")) {
            String[] cells = row.split(",", -1);
            run.put(cells[1], String.join(",", List.of(cells).subList(2, 6)));
        }
        List<String> adopted = program()
                .run("scores", "adopted.kfl", "--rows", "20", "--csv")
                .expect(0)
                .out()
                .lines()
                .skip(1)
                .toList();
        assertThat(adopted).hasSize(20);
        for (String row : adopted) {
            String[] cells = row.split(",", -1);
            assertThat(String.join(",", List.of(cells).subList(2, 6))).isEqualTo(run.get(cells[1]));
            assertThat(cells[6]).as("probability").isEmpty();
        }
        assertThat(program()
                        .run("scores", "adopted.kfl", "--rows", "--neighbours", "2")
                        .expect(3)
                        .said())
                .contains("adopted predictions come without the columns");
        assertThat(program()
                        .run("scores", "adopted.kfl", "--thresholds")
                        .expect(3)
                        .said())
                .contains("thresholds need probabilities, and only labels were adopted here");
        assertThat(program()
                        .run("scores", "adopted.kfl", "--by", "class")
                        .expect(0)
                        .out())
                .contains("recall")
                .doesNotContain("auc");
    }
}
