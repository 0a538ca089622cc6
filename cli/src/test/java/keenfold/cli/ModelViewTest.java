package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.run.pipeline.ColumnOrigin;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.core.split.KFold;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import keenfold.view.model.ModelPart;
import keenfold.view.model.ModelView;
import keenfold.view.model.TreeRule;
import keenfold.view.text.Ink;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is shown of a model predicts what the model predicts, from the columns as they are in the data. */
class ModelViewTest {
    @TempDir
    private static Path folder;

    private static final int ROWS = 120;

    @BeforeAll
    static void write() throws IOException {
        Random chance = new Random(8);
        StringBuilder csv = new StringBuilder("mites,stores,race,day,wintered\n");
        for (int i = 0; i < ROWS; i++) {
            double mites = chance.nextInt(40) / 4.0;
            double stores = 10 + chance.nextInt(40) / 4.0;
            String race = List.of("buckfast", "carnica", "dark").get(chance.nextInt(3));
            boolean lost = mites - stores / 3 + (race.equals("dark") ? 1 : 0) + chance.nextGaussian() > 0.5;
            csv.append(String.format(
                    Locale.ROOT,
                    "%s,%s,%s,2025-09-%02d,%s\n",
                    mites,
                    stores,
                    race,
                    1 + chance.nextInt(28),
                    lost ? "no" : "yes"));
        }
        Files.writeString(folder.resolve("hives.csv"), csv);
    }

    /** A candidate that is trained on all rows. */
    private static final class Trained {
        private final DataSet data;
        private final FittedPipeline predictor;
        private final Set<String> dates;

        Trained(String candidate) {
            var plan = PlanReader.parse(
                    "plan.yaml",
                    "keenfold: 1\ndata: [{file: hives.csv, target: wintered, positive: no}]\nseed: 4\ncandidates:\n  c: "
                            + candidate + "\n");
            var loaded = DataReader.read(plan.data().get(0), List.of(folder));
            data = loaded.data();
            dates = loaded.dates();
            predictor = FittedPipeline.train(plan.candidates().get(0), data, new KFold(3, 1, true).divide(data, 1), 4);
        }

        List<ModelPart> parts() {
            return ModelView.parts(predictor, data.features(), data.classes().labels(), dates);
        }

        ModelPart part(String title) {
            return parts().stream()
                    .filter(p -> p.title().contains(title))
                    .findFirst()
                    .orElseThrow(() -> new AssertionError(title + " is not among " + parts()));
        }

        double number(String column, int row) {
            return ((Numbers) data.features().column(column).orElseThrow()).get(row);
        }

        String level(String column, int row) {
            Categories of = (Categories) data.features().column(column).orElseThrow();
            return of.levels().get(of.code(row));
        }

        /** The log-odds of the positive class, "no". */
        double logOdds(int row) {
            double[] p = predictor.probabilities(data.features());
            return Math.log(p[2 * row] / p[2 * row + 1]);
        }

        /** The value of something made of columns, from its name. */
        double head(String head, int row) {
            if (head.contains(" = ")) {
                String[] both = head.split(" = ", -1);
                return level(both[0], row).equals(both[1]) ? 1 : 0;
            }
            if (head.startsWith("log(")) {
                double x = number(head.substring(4, head.length() - 1), row);
                return Math.signum(x) * Math.log1p(Math.abs(x));
            }
            return number(head, row);
        }
    }

    private static double number(Object cell) {
        return cell instanceof ModelPart.Share share ? share.value() : ((Number) cell).doubleValue();
    }

    /** The intercept and the columns times their coefficients are the log-odds, whatever was scaled and encoded. */
    private static void sumsToTheLogOdds(Trained trained, String title) {
        ModelPart part = trained.part(title);
        assertThat(part.title()).endsWith("(log-odds of no)");
        for (int i = 0; i < ROWS; i++) {
            double sum = 0;
            for (List<Object> row : part.rows()) {
                String head = row.get(0).toString();
                double per = number(row.get(1));
                sum += head.equals("(intercept)") ? per : per * trained.head(head, i);
                if (!head.equals("(intercept)")) {
                    assertThat(number(row.get(2))).isCloseTo(Math.exp(per), within(1e-12));
                }
            }
            assertThat(sum).as("row %d", i).isCloseTo(trained.logOdds(i), within(1e-8));
        }
    }

    @Test
    void coefficientsAreOnTheScaleOfTheData() {
        sumsToTheLogOdds(new Trained("{classifier: logistic, strength: 2}"), "coefficients");
        sumsToTheLogOdds(
                new Trained(
                        "{classifier: logistic, prepare: [{log: {columns: [mites]}}, one-hot, {rescale: {high: 5}}]}"),
                "coefficients");
        sumsToTheLogOdds(
                new Trained("{classifier: discriminant, prepare: [{leave-out: [race]}, standardise]}"), "border");
    }

    @Test
    void coefficientsOfZeroAreCountedAndNotListed() {
        ModelPart part = new Trained("{classifier: logistic, penalty: lasso, strength: 20}").part("coefficients");
        int zero = Integer.parseInt(part.lines().get(1).split(" ", -1)[0]);
        // Three numbers and three levels, and the intercept.
        assertThat(part.rows()).hasSize(7 - zero);
        assertThat(zero).isPositive();
    }

    /** Rows that follow the conditions as they are written come to the leaf that the model has them in. */
    @Test
    void rulesLeadToTheLeavesOfTheModel() {
        for (String prepare : List.of("", ", prepare: [one-hot, standardise]", ", prepare: [{ordinal: count}]")) {
            Trained trained = new Trained("{classifier: tree, depth: 5, leaf-rows: 3, pruning: 0" + prepare + "}");
            List<TreeRule> rules = TreeRule.of(trained.predictor, trained.data.features(), trained.dates);
            double[] p = trained.predictor.probabilities(trained.data.features());
            Map<Integer, Integer> arrived = new HashMap<>();
            for (int i = 0; i < ROWS; i++) {
                TreeRule leaf = leaf(rules, trained, i);
                arrived.merge(leaf.leaf(), 1, Integer::sum);
                assertThat(leaf.shares()).as("row %d", i).containsExactly(p[2 * i], p[2 * i + 1]);
            }
            for (TreeRule rule : rules) {
                if (rule.leaf() > 0) {
                    assertThat(rule.weight()).isEqualTo(arrived.get(rule.leaf()).doubleValue());
                }
            }
            assertThat(arrived.keySet()).hasSizeGreaterThan(5);
        }
    }

    private static TreeRule leaf(List<TreeRule> rules, Trained trained, int row) {
        int at = 0;
        while (rules.get(at).leaf() == 0) {
            int next = at + 1;
            while (rules.get(next).depth() != rules.get(at).depth() + 1
                    || !holds(rules.get(next).condition(), trained, row)) {
                next++;
            }
            at = next;
        }
        return rules.get(at);
    }

    private static boolean holds(String condition, Trained trained, int row) {
        String[] words = condition.split(" ", -1);
        String column = words[0];
        if (words[1].equals("is")) {
            boolean not = words[2].equals("not");
            List<String> of =
                    List.of(condition.substring(column.length() + (not ? 8 : 4)).split(" or ", -1));
            return of.contains(trained.level(column, row)) != not;
        }
        double at = trained.dates.contains(column)
                ? java.time.LocalDate.parse(words[2]).toEpochDay()
                : Double.parseDouble(words[2]);
        return words[1].equals("<=") == trained.number(column, row) <= at;
    }

    @Test
    void tablesOfNaiveBayesAreMeansAndSharesOfTheRows() {
        Trained trained = new Trained("{classifier: naive-bayes, prepare: [standardise]}");
        int[] target = trained.data.targets();
        ModelPart numbers = trained.part("normal densities");
        List<Object> mites = numbers.rows().stream()
                .filter(r -> r.get(0).equals("mites"))
                .findFirst()
                .orElseThrow();
        for (int c = 0; c < 2; c++) {
            List<Double> own = new ArrayList<>();
            for (int i = 0; i < ROWS; i++) {
                if (target[i] == c) {
                    own.add(trained.number("mites", i));
                }
            }
            double mean = own.stream().mapToDouble(x -> x).average().orElseThrow();
            double variance = own.stream()
                    .mapToDouble(x -> (x - mean) * (x - mean))
                    .average()
                    .orElseThrow();
            assertThat(number(mites.get(1 + 2 * c))).isCloseTo(mean, within(1e-9));
            assertThat(number(mites.get(2 + 2 * c))).isCloseTo(Math.sqrt(variance), within(1e-6));
        }
        ModelPart levels = trained.part("categories");
        int dark = 0;
        int lost = 0;
        for (int i = 0; i < ROWS; i++) {
            lost += target[i] == 0 ? 1 : 0;
            dark += target[i] == 0 && trained.level("race", i).equals("dark") ? 1 : 0;
        }
        List<Object> row = levels.rows().stream()
                .filter(r -> r.get(1).equals("dark"))
                .findFirst()
                .orElseThrow();
        assertThat(number(row.get(2))).isCloseTo((dark + 1.0) / (lost + 3), within(1e-12));
    }

    @Test
    void importancesAreSharesByColumnOfTheData() {
        for (String c : List.of("{classifier: forest, trees: 9}", "{classifier: boosting, rounds: 9}")) {
            ModelPart part = new Trained(c).part("columns");
            assertThat(part.rows())
                    .extracting(r -> r.get(0))
                    .containsExactlyInAnyOrder("mites", "stores", "race", "day");
            assertThat(part.rows().stream().mapToDouble(r -> number(r.get(1))).sum())
                    .isCloseTo(1, within(1e-12));
            assertThat(part.rows().get(0).get(0)).isIn("mites", "stores");
        }
    }

    /** What a prepared column has been made of leads back to where it came from. */
    @Test
    void meaningsLeadBack() {
        Trained trained = new Trained(
                "{classifier: logistic, prepare: [{power: {columns: [mites, stores]}}, {bins: {bins: 4, as: numbers,"
                        + " columns: [day]}}, one-hot, standardise, interactions]}");
        List<ColumnOrigin> all = ColumnOrigin.of(trained.predictor, trained.data.features());
        assertThat(all).extracting(ColumnOrigin::head).startsWith("power(mites)", "power(stores)", "race = buckfast");
        assertThat(all.get(6).kind()).isEqualTo(ColumnOrigin.Kind.OTHER);
        assertThat(all.get(6).head()).isEqualTo("scaled(power(mites)) * scaled(power(stores))");
        var prepared = trained.data.features();
        for (var step : trained.predictor.steps()) {
            prepared = step.apply(prepared);
        }
        Numbers stores = (Numbers) prepared.columns().get(1);
        for (int i = 0; i < ROWS; i++) {
            assertThat(all.get(1).raw(stores.get(i))).isCloseTo(trained.number("stores", i), within(1e-9));
        }
        ColumnOrigin day = all.get(5);
        assertThat(day.head()).isEqualTo("bin of day");
        Numbers bins = (Numbers) prepared.columns().get(5);
        for (int i = 0; i < ROWS; i++) {
            // The upper edge of a row's bin is not below the row; the one of the bin before is.
            assertThat(day.raw(bins.get(i))).isGreaterThan(trained.number("day", i) - 1e-6);
            assertThat(day.raw(bins.get(i) - day.slope())).isLessThan(trained.number("day", i) - 0.5);
        }
    }

    @Test
    void everyClassifierAndWrapperIsShown() {
        for (String[] one : new String[][] {
            {"{classifier: majority}", "class shares of the training rows"},
            {"{classifier: nearest, neighbours: 4}", "nearest neighbours"},
            {"{classifier: nearest, neighbours: 4, distance: mixed}", "nearest neighbours"},
            {"{classifier: svm}", "support vector machine"},
            {"{classifier: svm, kernel: linear}", "margin (towards"},
            {"{classifier: network, units: 3}", "network"},
            {"{classifier: naive-bayes, density: kernel}", "numbers: kernel densities"},
            {"{classifier: discriminant, pooled: 0}", "normal densities"},
            {"{classifier: tree, depth: 2, calibrate: platt}", "calibration"},
            {"{classifier: tree, depth: 2, calibrate: isotonic}", "calibration"},
            {"{classifier: logistic, threshold: f1}", "threshold"},
        }) {
            ModelPart part = new Trained(one[0]).part(one[1]);
            assertThat(part.render(Ink.of(false)).lines())
                    .as(one[0])
                    .hasSizeGreaterThan(1)
                    .allSatisfy(line -> assertThat(line.length()).isLessThanOrEqualTo(100));
        }
    }
}
