package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import com.fasterxml.jackson.databind.JsonNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Schemes, holdout, folds and given splits, through the built program. */
class SplitsIT {
    private static final int DRAWS = 300;
    private static final int ROWS = 90;

    @TempDir
    private static Path folder;

    @BeforeAll
    static void aTable() throws Exception {
        RandomSource chance = new Seed(12).chance();
        StringBuilder csv = new StringBuilder("day,yard,x,z,lost\n");
        for (int i = 0; i < ROWS; i++) {
            boolean lost = chance.below(3) == 0;
            csv.append(String.format(
                    java.util.Locale.ROOT,
                    "2026-%02d-%02d,Y%d,%.3f,%.3f,%s%n",
                    1 + i / 28,
                    1 + i % 28,
                    i % 18,
                    chance.normal() + (lost ? 1.2 : 0),
                    chance.normal(),
                    lost ? "yes" : "no"));
        }
        Files.writeString(folder.resolve("bees.csv"), csv);
    }

    private static Program program() {
        return new Program(folder);
    }

    private static String plan(String data, String splits) throws Exception {
        String name = "p" + Integer.toHexString((data + splits).hashCode()) + ".yaml";
        Files.writeString(
                folder.resolve(name),
                """
                keenfold: 1
                data: [{file: bees.csv, target: lost, positive: yes%s}]
                %s
                seed: 31
                metrics: [accuracy]
                candidates:
                  guess: {classifier: majority}
                  logit: {classifier: logistic}
                  tree: {classifier: tree, depth: 2}
                evidence: {draws: %d}
                """
                        .formatted(data, splits, DRAWS));
        return name;
    }

    /** Lines of an export as maps from column to value. */
    private static List<Map<String, String>> export(String ledger, String what) throws Exception {
        List<String> lines = program()
                .run("export", ledger, "--what", what)
                .expect(0)
                .out()
                .lines()
                .toList();
        String[] header = lines.get(0).split(",", -1);
        List<Map<String, String>> rows = new ArrayList<>();
        for (String line : lines.subList(1, lines.size())) {
            String[] values = line.split(",", -1);
            Map<String, String> row = new HashMap<>();
            IntStream.range(0, header.length).forEach(i -> row.put(header[i], values[i]));
            rows.add(row);
        }
        return rows;
    }

    /** Per split, by repeat and fold, which rows a candidate got right: row to 1 or 0. */
    private static List<Map<Integer, Double>> right(String ledger, String candidate) throws Exception {
        Map<String, Map<Integer, Double>> bySplit = new TreeMap<>();
        for (Map<String, String> p : export(ledger, "predictions")) {
            if (p.get("candidate").equals(candidate)) {
                String split =
                        String.format("%05d %05d", Integer.parseInt(p.get("repeat")), Integer.parseInt(p.get("fold")));
                bySplit.computeIfAbsent(split, k -> new TreeMap<>())
                        .put(Integer.parseInt(p.get("row")), p.get("predicted").equals(p.get("actual")) ? 1.0 : 0.0);
            }
        }
        return List.copyOf(bySplit.values());
    }

    private static double mean(double[] x) {
        return Arrays.stream(x).sum() / x.length;
    }

    private static double variance(double[] x) {
        double centre = mean(x);
        return Arrays.stream(x).map(v -> (v - centre) * (v - centre)).sum() / (x.length - 1);
    }

    /** V_case of accuracy over the rows tested, from the program's own draws of weights and nothing else. */
    private static double cases(List<Map<Integer, Double>> right) {
        List<Integer> rows = right.stream()
                .flatMap(m -> m.keySet().stream())
                .distinct()
                .sorted()
                .toList();
        int m = rows.size();
        double[] drawn = new double[DRAWS];
        for (int b = 0; b < DRAWS; b++) {
            RandomSource chance = new Seed(31).with("draw").with(b).chance();
            int[] weight = new int[m];
            for (int i = 0; i < m; i++) {
                weight[chance.below(m)]++;
            }
            double sum = 0;
            double total = 0;
            for (Map<Integer, Double> split : right) {
                for (Map.Entry<Integer, Double> e : split.entrySet()) {
                    int w = weight[rows.indexOf(e.getKey())];
                    sum += w * e.getValue();
                    total += w;
                }
            }
            drawn[b] = sum / total;
        }
        return m / (m - 1.0) * variance(drawn);
    }

    private static double se(JsonNode scores, String candidate) {
        for (JsonNode c : scores.get("datasets").get(0).get("candidates")) {
            if (c.get("name").asText().equals(candidate)) {
                return c.get("metrics").get("accuracy").get("se").asDouble();
            }
        }
        throw new AssertionError(candidate);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "inflated|''|splits: {scheme: leave-one-out}",
                "inflated|''|splits: {folds: 5, repeats: 1}",
                "resampled|''|splits: {scheme: monte-carlo, share: 0.3, repeats: 12}",
                "resampled|''|splits: {scheme: out-of-bag, repeats: 12}",
                "resampled|', order: day'|splits: {scheme: rolling-origin, first: 0.4, step: 0.1}",
                "cases|''|splits: {scheme: given, file: one.csv}"
            })
    void standardErrorsAreRecomputedFromExports(String form, String data, String splits) throws Exception {
        Files.writeString(
                folder.resolve("one.csv"),
                "row,repeat,fold\n"
                        + IntStream.rangeClosed(50, 85)
                                .mapToObj(i -> i + ",1,1\n")
                                .collect(Collectors.joining()));
        String plan = plan(data, splits);
        String ledger = plan.replace(".yaml", ".kfl");
        program().run("run", plan, "-o", ledger).expect(0);
        JsonNode scores = program().run("scores", ledger, "--json").expect(0).json();
        assertThat(scores.get("datasets").get(0).get("variance").asText()).isEqualTo(form);
        for (String candidate : List.of("logit", "tree")) {
            List<Map<Integer, Double>> right = right(ledger, candidate);
            double rho = 0;
            List<Map<String, String>> folds = export(ledger, "folds");
            for (int s = 0; s < right.size(); s++) {
                int test = right.get(s).size();
                int train = ROWS - test;
                if (folds.get(0).containsKey("part")) {
                    Set<Integer> tested = right.get(s).keySet();
                    int split = s;
                    train = (int) folds.stream()
                            .filter(f -> f.get("part").equals("train"))
                            .filter(f -> Integer.parseInt(f.get(
                                            form.equals("resampled") && splits.contains("rolling") ? "fold" : "repeat"))
                                    == split + 1)
                            .peek(f -> assertThat(tested).doesNotContain(Integer.parseInt(f.get("row"))))
                            .count();
                }
                rho += (double) test / train / right.size();
            }
            double[] splitScores = right.stream()
                    .mapToDouble(m -> m.values().stream()
                            .mapToDouble(Double::doubleValue)
                            .average()
                            .orElseThrow())
                    .toArray();
            double expected =
                    switch (form) {
                        case "inflated" -> cases(right) * (1 + right.size() * rho);
                        case "resampled" -> (1.0 / right.size() + rho) * variance(splitScores);
                        default -> cases(right);
                    };
            assertThat(se(scores, candidate)).isCloseTo(Math.sqrt(expected), within(1e-9));
        }
    }

    @Test
    void heldBackRowsAreNowhereAndChangeNothing() throws Exception {
        String plan = plan(", groups: yard", "holdout: {share: 0.3}\nsplits: {folds: 3, repeats: 2}");
        program().run("run", plan, "-o", "held.kfl").expect(0);
        Set<Integer> seen = new java.util.HashSet<>();
        for (Map<String, String> fold : export("held.kfl", "folds")) {
            seen.add(Integer.parseInt(fold.get("row")));
        }
        assertThat(seen).hasSizeBetween(55, 70);
        List<String> lines = Files.readAllLines(folder.resolve("bees.csv"));
        Set<String> yardsSeen =
                seen.stream().map(r -> lines.get(r).split(",", -1)[1]).collect(Collectors.toSet());
        StringBuilder other = new StringBuilder(lines.get(0) + "\n");
        for (int row = 1; row <= ROWS; row++) {
            String[] v = lines.get(row).split(",", -1);
            boolean held = !seen.contains(row);
            assertThat(held).isEqualTo(!yardsSeen.contains(v[1]));
            other.append(held ? v[0] + "," + v[1] + ",999,-999," + v[4] : lines.get(row))
                    .append('\n');
        }
        Files.writeString(folder.resolve("other.csv"), other);
        Files.writeString(
                folder.resolve("other.yaml"),
                Files.readString(folder.resolve(plan)).replace("file: bees.csv", "name: bees, file: other.csv"));
        program().run("run", "other.yaml", "-o", "other.kfl").expect(0);
        assertThat(export("other.kfl", "predictions")).isEqualTo(export("held.kfl", "predictions"));
        assertThat(program()
                        .run("run", "other.yaml", "-o", "held.kfl")
                        .expect(3)
                        .said())
                .contains("data set \"bees\" has changed since the ledger was made", "such as -o held-2.kfl");
        assertThat(program().run("folds", plan).expect(0).out())
                .contains((ROWS - seen.size()) + " more rows are held back and stand in no split");
    }

    @Test
    void aSecondFileIsTestedOrHeldBack() throws Exception {
        List<String> lines = Files.readAllLines(folder.resolve("bees.csv"));
        Files.write(folder.resolve("early.csv"), lines.subList(0, 61));
        List<String> late = new ArrayList<>(List.of(lines.get(0)));
        late.addAll(lines.subList(61, 91));
        Files.write(folder.resolve("late.csv"), late);
        Files.writeString(
                folder.resolve("apart.yaml"),
                Files.readString(folder.resolve(plan("", "splits: {scheme: apart, test: late.csv}")))
                        .replace("bees.csv", "early.csv"));
        program().run("run", "apart.yaml", "-o", "apart.kfl").expect(0);
        List<Map<String, String>> predictions = export("apart.kfl", "predictions");
        assertThat(predictions.stream().map(p -> p.get("row")).distinct())
                .containsExactlyElementsOf(IntStream.rangeClosed(61, 90)
                        .mapToObj(Integer::toString)
                        .toList());
        assertThat(program().run("scores", "apart.kfl").expect(0).said()).contains("hold for these fitted models only");
        Files.writeString(
                folder.resolve("aside.yaml"),
                Files.readString(folder.resolve(plan("", "holdout: {file: late.csv}\nsplits: {folds: 3, repeats: 1}")))
                        .replace("bees.csv", "early.csv"));
        assertThat(program()
                        .run("run", "aside.yaml", "-o", "aside.kfl")
                        .expect(0)
                        .said())
                .contains("30 of 90 rows are held back for the end");
        Files.writeString(folder.resolve("late.csv"), "day,yard,x,lost\n2026-05-01,Y1,1,no\n");
        assertThat(program().run("run", "aside.yaml", "-o", "b.kfl").expect(3).said())
                .contains("late.csv: there is no column \"z\", which early.csv has");
    }

    @Test
    void foldsAreShownCheckedExportedAndReadBack() throws Exception {
        String plan = plan(", groups: yard, order: day", "splits: {folds: 4, repeats: 2}");
        Program.Outcome shown = program().run("folds", plan).expect(0);
        assertThat(shown.out())
                .contains("bees: 90 rows")
                .contains("2 x 4 folds, stratified; 18 groups (yard) kept whole; seed 31")
                .contains("folds of repeat 1 of 2")
                .contains("2026-01-01 to")
                .contains("which rows are tested (90 rows from left to right, by yard)")
                .contains("passed  every row is tested exactly once in each repeat")
                .contains("passed  no group (yard) has rows on both sides");
        assertThat(shown.out().lines()).allMatch(l -> l.length() <= 100);
        JsonNode json = program().run("folds", plan, "--json").expect(0).json();
        assertThat(json.get("datasets").get(0).get("splits")).hasSize(8);
        program().run("folds", plan, "-o", "made.csv").expect(0);
        String given = plan(", groups: yard, order: day", "splits: {scheme: given, file: made.csv}");
        assertThat(program().run("folds", given, "--csv").expect(0).out())
                .isEqualTo(Files.readString(folder.resolve("made.csv")));
        Program.Outcome rows =
                program().run("folds", plan, "--repeat", "2", "--fold", "3").expect(0);
        assertThat(rows.out())
                .contains("rows tested in repeat 2, fold 3")
                .containsPattern("row +class +yard +day +x +z")
                .containsPattern("(yes|no) +Y[0-9]+ +2026-0[1-4]-[0-9]{2} ");
        assertThat(program()
                        .run("folds", plan, "--repeat", "2", "--fold", "3", "--csv")
                        .expect(0)
                        .out())
                .startsWith("row,class,yard,day,x,z\n");
        assertThat(program().run("folds", plan, "--fold", "9").expect(2).err()).contains("has folds 1 to 4");
        // Splits that tear a group apart are refused, whoever made them: row 1 goes to another fold.
        List<String> made = new ArrayList<>(Files.readAllLines(folder.resolve("made.csv")));
        String[] first = made.get(1).split(",", -1);
        made.set(1, String.join(",", first[0], first[1], first[2], "" + (Integer.parseInt(first[3]) % 4 + 1)));
        Files.write(folder.resolve("made.csv"), made);
        assertThat(program().run("run", given, "-o", "torn.kfl").expect(3).said())
                .contains("stands on both sides in repeat 1");
    }

    @Test
    void splitsOfALedgerMayNotChangeUnderIt() throws Exception {
        String given = plan("", "splits: {scheme: given, file: mine.csv}");
        Files.writeString(folder.resolve("mine.csv"), halves(0));
        program().run("run", given, "-o", "mine.kfl").expect(0);
        Files.writeString(folder.resolve("mine.csv"), halves(1));
        assertThat(program().run("run", given, "-o", "mine.kfl").expect(3).said())
                .contains("the splits of data set \"bees\" are not those that the ledger was made with");
    }

    private static String halves(int shift) {
        return "row,repeat,fold\n"
                + IntStream.rangeClosed(1, ROWS)
                        .mapToObj(i -> i + ",1," + (1 + (i / (2 + shift)) % 2) + "\n")
                        .collect(Collectors.joining());
    }

    @Test
    void compareTrainsOnWhatCameBeforeWhenItIsTold() throws Exception {
        Program.Outcome outcome = program()
                .run(
                        "compare",
                        "bees.csv",
                        "--target",
                        "lost",
                        "--order",
                        "day",
                        "--leave-out",
                        "yard",
                        "--metric",
                        "accuracy",
                        "-o",
                        "t.kfl")
                .expect(0);
        assertThat(outcome.out()).contains("splits in time (rolling-origin)").contains("none");
        // Along time: each split's score, and what it is less than the best candidate's in the same split.
        String csv = program()
                .run("draw", "t.kfl", "--figure", "order", "--csv")
                .expect(0)
                .out();
        Map<String, Map<String, Double>> bySplit = new HashMap<>();
        for (String line : csv.lines().skip(1).toList()) {
            String[] f = line.split(",", -1);
            bySplit.computeIfAbsent(f[3], k -> new HashMap<>()).put(f[1], Double.parseDouble(f[6]));
        }
        assertThat(bySplit.keySet()).containsExactlyInAnyOrder("1", "2", "3", "4", "5");
        String best = csv
                .lines()
                .skip(1)
                .map(l -> l.split(",", -1))
                .collect(Collectors.groupingBy(
                        f -> f[1], Collectors.averagingDouble(f -> Math.abs(Double.parseDouble(f[7])))))
                .entrySet()
                .stream()
                .min(Map.Entry.comparingByValue())
                .orElseThrow()
                .getKey();
        int trained = 0;
        for (String line : csv.lines().skip(1).toList()) {
            String[] f = line.split(",", -1);
            Map<String, Double> split = bySplit.get(f[3]);
            assertThat(Double.parseDouble(f[7])).isCloseTo(split.get(f[1]) - split.get(best), within(1e-12));
            if (f[1].equals(best)) {
                assertThat(Integer.parseInt(f[4])).isGreaterThan(trained);
                trained = Integer.parseInt(f[4]);
            }
        }
        assertThat(program()
                        .run("compare", "bees.csv", "--target", "lost", "--order", "yard")
                        .expect(3)
                        .said())
                .contains("order must be numbers or ISO dates");
        assertThat(program()
                        .run("compare", "bees.csv", "--target", "lost", "--order", "day", "--folds", "5")
                        .expect(2)
                        .said())
                .contains("--folds and --repeats divide rows whatever their order");
        Program.Outcome running = program()
                .run("scores", "t.kfl", "--by", "repeat", "--draws", "200")
                .expect(0);
        assertThat(running.out()).contains("mean over the first splits").contains("splits");
        JsonNode json = program()
                .run("scores", "t.kfl", "--by", "repeat", "--draws", "200", "--json")
                .expect(0)
                .json();
        assertThat(json.get("datasets").get(0).get("means").get(0).get("running"))
                .hasSize(5);
        assertThat(program().run("scores", "t.kfl", "--by", "weekday").expect(2).err())
                .contains("--by weekday: expected one of repeat, fold, class, dataset, column");
    }

    @Test
    void rankMetricsAreRefusedWhereRowsAreTestedAlone() throws Exception {
        String plan = plan("", "splits: {scheme: leave-one-out}");
        Files.writeString(
                folder.resolve("rank.yaml"),
                Files.readString(folder.resolve(plan)).replace("[accuracy]", "[auc]"));
        assertThat(program().run("run", "rank.yaml", "-o", "rank.kfl").expect(3).said())
                .contains("metric auc compares rows of one fold")
                .contains("or log-loss or brier");
    }
}
