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
import java.util.stream.Stream;
import keenfold.view.chart.FigureKind;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Figures and the report through the built program: that they are made, and that their numbers are those of --json. */
class ReportIT {
    @TempDir
    private static Path folder;

    private static final String PLAN =
            """
            keenfold: 1
            note: Will they swarm? <b>not bold</b>
            data:
              - {file: %s, target: swarmed, positive: yes}
              - {file: %s, target: kind, leave-out: [sample]}
            splits: {folds: 5, repeats: 3}
            seed: 5
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              logit: {classifier: logistic, strength: {vary: [1, 30]}}
              bush: {classifier: tree, depth: 3}
            evidence: {draws: 300, margin: 0.02}
            """;

    @BeforeAll
    static void runAPlan() throws Exception {
        Files.writeString(
                folder.resolve("plan.yaml"),
                PLAN.formatted(Program.DEMO.resolve("swarm.csv"), Program.DEMO.resolve("forage.csv")));
        run("run", "plan.yaml", "-o", "l.kfl", "--quiet");
        run("report", "l.kfl", "-o", "r", "--columns", "--quiet");
    }

    private static Program.Outcome run(String... args) throws Exception {
        return new Program(folder).run(args).expect(0);
    }

    private static JsonNode json(String... args) throws Exception {
        return run(Stream.concat(Stream.of(args), Stream.of("--json", "--quiet"))
                        .toArray(String[]::new))
                .json();
    }

    /** A table of the report, each line as a map; cells have no commas here. */
    private static List<Map<String, String>> table(String name) throws Exception {
        List<String> lines = Files.readAllLines(folder.resolve("r/tables").resolve(name + ".csv"));
        List<Map<String, String>> rows = new ArrayList<>();
        String[] head = lines.get(0).split(",", -1);
        for (String line : lines.subList(1, lines.size())) {
            String[] cells = line.split(",", -1);
            Map<String, String> row = new HashMap<>();
            for (int i = 0; i < head.length; i++) {
                row.put(head[i], cells[i]);
            }
            rows.add(row);
        }
        return rows;
    }

    private static void same(String text, JsonNode number) {
        if (number.isNull()) {
            assertThat(text).isEmpty();
        } else {
            assertThat(Double.parseDouble(text)).isEqualTo(number.doubleValue());
        }
    }

    private static JsonNode named(JsonNode array, String key, String name) {
        for (JsonNode one : array) {
            if (one.get(key).asText().equals(name)) {
                return one;
            }
        }
        throw new AssertionError(name + " is not in " + array);
    }

    @Test
    void meansAreThoseOfScores() throws Exception {
        JsonNode sets = json("scores", "l.kfl").get("datasets");
        for (String set : List.of("swarm", "forage")) {
            for (String metric : List.of("auc", "accuracy")) {
                for (Map<String, String> row : table(set + "-" + metric + "-means")) {
                    JsonNode candidate =
                            named(named(sets, "name", set).get("candidates"), "name", row.get("candidate"));
                    for (String key : List.of("mean", "sd", "se", "low", "high", "min", "max")) {
                        same(row.get(key), candidate.get("metrics").get(metric).get(key));
                    }
                }
            }
            for (Map<String, String> row : table(set + "-auc-time")) {
                JsonNode candidate = named(named(sets, "name", set).get("candidates"), "name", row.get("candidate"));
                same(row.get("train_seconds"), candidate.get("train_seconds"));
                same(row.get("predict_seconds"), candidate.get("predict_seconds"));
            }
        }
    }

    @Test
    void differencesAndRanksAreThoseOfContrast() throws Exception {
        JsonNode contrasts = json("contrast", "l.kfl").get("contrasts");
        List<Map<String, String>> rows = table("swarm-auc-differences");
        assertThat(rows).hasSize(3);
        for (Map<String, String> row : rows) {
            JsonNode found = Stream.iterate(0, i -> i < contrasts.size(), i -> i + 1)
                    .map(contrasts::get)
                    .filter(c -> c.get("dataset").asText().equals("swarm")
                            && c.get("candidate").asText().equals(row.get("candidate")))
                    .findFirst()
                    .orElseThrow();
            assertThat(row.get("call")).isEqualTo(found.get("call").asText());
            for (String key : List.of("difference", "se", "low", "high", "low_all", "high_all", "p", "p_adjusted")) {
                same(row.get(key), found.get(key));
            }
        }
        JsonNode ranks = json("contrast", "l.kfl", "--across").get("across").get("ranks");
        for (Map<String, String> row : table("across-auc-ranks")) {
            same(row.get("rank"), ranks.get(row.get("candidate")));
        }
    }

    @Test
    void picksAreThoseOfPick() throws Exception {
        JsonNode sets = json("pick", "l.kfl").get("datasets");
        for (String set : List.of("swarm", "forage")) {
            JsonNode pick = named(sets, "name", set);
            for (Map<String, String> row : table(set + "-auc-pick")) {
                assertThat(row.get("pick").equals("true"))
                        .isEqualTo(pick.get("pick").asText().equals(row.get("candidate")));
            }
            for (Map<String, String> row : table(set + "-auc-frequency")) {
                same(row.get("share"), pick.get("frequency").get(row.get("candidate")));
            }
            for (Map<String, String> row : table(set + "-auc-family")) {
                JsonNode member = named(
                        named(pick.get("families"), "family", row.get("family")).get("members"),
                        "candidate",
                        row.get("candidate"));
                same(row.get("mean"), member.get("mean"));
                same(row.get("se"), member.get("se"));
            }
        }
    }

    @Test
    void closerLooksAreThoseOfScores() throws Exception {
        JsonNode thresholds =
                json("scores", "l.kfl", "--thresholds", "--dataset", "swarm").get("rows");
        for (Map<String, String> row : table("swarm-thresholds")) {
            boolean found = false;
            for (JsonNode one : thresholds) {
                if (one.get("candidate").asText().equals(row.get("candidate"))
                        && one.get("kind").asText().equals("grid")
                        && one.get("threshold").doubleValue() == Double.parseDouble(row.get("threshold"))) {
                    found = true;
                    same(row.get("recall"), one.get("recall"));
                    same(row.get("precision"), one.get("precision"));
                    same(row.get("score"), one.get("score"));
                }
            }
            assertThat(found).as(row + " in " + thresholds.get(0)).isTrue();
        }
        JsonNode confusion =
                json("scores", "l.kfl", "--confusion", "--dataset", "forage").get("rows");
        double total = 0;
        for (Map<String, String> row : table("forage-confusion")) {
            for (JsonNode one : confusion) {
                if (one.get("candidate").asText().equals(row.get("candidate"))
                        && one.get("actual").asText().equals(row.get("actual"))
                        && one.get("predicted").asText().equals(row.get("predicted"))) {
                    same(row.get("count"), one.get("count"));
                    same(row.get("of_actual"), one.get("of_actual"));
                    total += Double.parseDouble(row.get("count"));
                }
            }
        }
        assertThat(total).isCloseTo(4 * 320, within(1e-6));
        JsonNode running = json("scores", "l.kfl", "--by", "repeat", "--dataset", "swarm", "--metric", "auc")
                .get("datasets")
                .get(0)
                .get("means");
        for (Map<String, String> row : table("swarm-auc-settling")) {
            JsonNode one = named(running, "candidate", row.get("candidate"))
                    .get("running")
                    .get(Integer.parseInt(row.get("repeats")) - 1);
            same(row.get("running_mean"), one.get("mean"));
            same(row.get("running_se"), one.get("se"));
        }
        JsonNode columns = json("scores", "l.kfl", "--by", "column", "--dataset", "swarm", "--metric", "auc")
                .get("rows");
        for (Map<String, String> row : table("swarm-columns")) {
            for (JsonNode one : columns) {
                if (one.get("candidate").asText().equals(row.get("candidate"))
                        && one.get("column").asText().equals(row.get("column"))) {
                    same(row.get("drop"), one.get("drop"));
                }
            }
        }
    }

    /** The area under the drawn mean curve is the mean score, whatever the grid it is written on rounds off. */
    @Test
    void curvesEncloseTheirScores() throws Exception {
        JsonNode scores = json("scores", "l.kfl", "--dataset", "swarm", "--metric", "auc")
                .get("datasets")
                .get(0);
        Map<String, Double> areas = new HashMap<>();
        Map<String, Double> last = new HashMap<>();
        for (Map<String, String> row : table("swarm-roc")) {
            if (row.get("curve").equals("mean")) {
                String name = row.get("candidate");
                double y = Double.parseDouble(row.get("y"));
                areas.merge(name, (last.getOrDefault(name, y) + y) / 2 / 50, Double::sum);
                last.put(name, y);
            }
        }
        assertThat(areas).hasSize(4);
        areas.forEach((name, area) -> assertThat(area)
                .isCloseTo(
                        named(scores.get("candidates"), "name", name)
                                .get("metrics")
                                .get("auc")
                                .get("mean")
                                .doubleValue(),
                        within(0.02)));
    }

    @Test
    void everyFigureLiesBesideThePageInBothForms() throws Exception {
        for (FigureKind kind : FigureKind.ofLedger()) {
            if (kind == FigureKind.ORDER) {
                // The folds of this ledger do not follow each other in time.
                continue;
            }
            try (Stream<Path> files = Files.list(folder.resolve("r/figures"))) {
                List<String> names = files.map(f -> f.getFileName().toString())
                        .filter(f -> f.contains(kind.label() + "."))
                        .toList();
                assertThat(names)
                        .as(kind.label())
                        .anyMatch(f -> f.endsWith(".svg"))
                        .anyMatch(f -> f.endsWith(".png"));
            }
        }
        String page = Files.readString(folder.resolve("r/report.html"));
        assertThat(page)
                .contains("Will they swarm? &lt;b&gt;not bold&lt;/b&gt;")
                .doesNotContain("<b>not bold")
                .containsPattern("To quote: .*Of 4 candidates compared on the same splits")
                .contains("warnings".substring(1))
                .doesNotContain("src=\"http")
                .doesNotContain("href=\"http");
    }

    @Test
    void drawMakesOneFigure() throws Exception {
        assertThat(run("draw", "l.kfl", "--figure", "means", "-o", "m.svg", "--title", "Ours", "--width", "500")
                        .said())
                .contains("drew means into m.svg")
                .contains("swarm, the first of 2 data sets");
        assertThat(Files.readString(folder.resolve("m.svg")))
                .contains("viewBox=\"0 0 500 ")
                .contains(">Ours<");
        run("draw", "l.kfl", "--figure", "roc", "--candidate", "bush", "-o", "m.png", "--scale", "1", "--quiet");
        assertThat(Files.readAllBytes(folder.resolve("m.png"))).startsWith(0x89, 'P', 'N', 'G');
        String terminal =
                run("draw", "l.kfl", "--figure", "pick", "--ascii", "--quiet").out();
        assertThat(terminal).contains("swarm: the pick by auc is").containsPattern("\\.limit of one-se");
        assertThat(terminal.lines()).allMatch(l -> l.length() <= 100);
        assertThat(run("draw", "l.kfl", "--figure", "means", "--csv", "--quiet").out())
                .startsWith("dataset,candidate,metric,mean,sd,se,low,high,min,max\n");
    }

    @Test
    void whatCannotBeDrawnIsSaid() throws Exception {
        Program program = new Program(folder);
        assertThat(program.run("draw", "l.kfl", "--figure", "meens").expect(2).said())
                .contains("--figure \"meens\" is not known; the nearest is \"means\"");
        assertThat(program.run("draw", "l.kfl", "--figure", "means", "-o", "m.gif")
                        .expect(2)
                        .said())
                .contains("expected a name that ends in .svg, .pdf or .png");
        assertThat(program.run("draw", "l.kfl", "--figure", "thresholds", "--dataset", "forage")
                        .expect(3)
                        .said())
                .contains("figure thresholds cannot be drawn: a threshold needs two classes");
        assertThat(program.run("draw", "l.kfl", "--figure", "roc", "--candidate", "buhs")
                        .expect(3)
                        .said())
                .contains("no candidate is called \"buhs\"; the nearest is \"bush\"");
        Files.writeString(folder.resolve("taken"), "");
        assertThat(program.run("report", "l.kfl", "-o", "taken").expect(3).said())
                .contains("cannot be made");
        assertThat(program.run("report", "l.kfl", "-o", "x", "--json").expect(2).said())
                .contains("--json");
    }

    /** Scores alone give what scores can: no curve, no matrix, and the page says what is left out. */
    @Test
    void adoptedScoresGiveAReportToo() throws Exception {
        run("export", "l.kfl", "--what", "scores", "-o", "s.csv", "--quiet");
        run("adopt", "s.csv", "-o", "s.kfl", "--quiet");
        run("report", "s.kfl", "-o", "s", "--page-only", "--quiet");
        assertThat(Files.readString(folder.resolve("s/report.html")))
                .contains("mean auc")
                .doesNotContain("ROC curves")
                .contains("Left out");
        assertThat(folder.resolve("s/figures")).doesNotExist();
    }
}
