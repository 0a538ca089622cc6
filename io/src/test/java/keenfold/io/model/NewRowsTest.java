package keenfold.io.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import keenfold.core.data.Categories;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.core.split.KFold;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.TableFormat;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class NewRowsTest {
    @TempDir
    private static Path folder;

    private static ModelFile model;

    @BeforeAll
    static void train() throws Exception {
        StringBuilder csv = new StringBuilder("kg,seen,hue,kind\n");
        for (int i = 0; i < 40; i++) {
            csv.append(i % 7).append(",2026-04-").append(10 + i % 20).append(',');
            csv.append(List.of("amber", "pale").get(i % 2))
                    .append(',')
                    .append(i % 3 == 0 ? "lime" : "rape")
                    .append('\n');
        }
        Files.writeString(folder.resolve("t.csv"), csv);
        model = trained("{classifier: naive-bayes}");
    }

    private static ModelFile trained(String candidate) throws Exception {
        var plan = PlanReader.parse(
                "p", "keenfold: 1\ndata: [{file: t.csv, target: kind}]\ncandidates: {c: " + candidate + "}\n");
        LoadedData loaded = DataReader.read(plan.data().get(0), List.of(folder));
        DataSet data = loaded.data();
        return new ModelFile(
                Schema.of(data.features(), loaded.dates(), TableFormat.PLAIN),
                "kind",
                data.classes().labels(),
                FittedPipeline.train(plan.candidates().get(0), data, new KFold(3, 1, true).divide(data, 1), 1),
                new Origin("c", "", "t", 40, "f", "plan", 1, "test", List.of()));
    }

    private static NewRows rows(String name, String text) throws Exception {
        Files.write(folder.resolve(name), text.getBytes(StandardCharsets.UTF_8));
        return NewRows.of(model, TableLocation.of(folder.resolve(name)), TableFormat.PLAIN);
    }

    @Test
    void datesAreKnownForDates() {
        assertThat(model.columns().columns().stream().map(Schema.OfColumn::kind))
                .containsExactly(Schema.Kind.NUMBER, Schema.Kind.DATE, Schema.Kind.CATEGORY);
        assertThat(Schema.restored(model.columns().state())).isEqualTo(model.columns());
    }

    /** Values as the model wants them: numbers, days, codes of levels; one more for what it does not know. */
    @Test
    void rowsComeAsTheModelWantsThem() throws Exception {
        NewRows rows = rows(
                "n.csv", "hue,more,kind,seen,kg\npale,1,lime,1970-01-03,-2.5\nblue,2,,NA,\n,3,oak,2026-05-01,1e2\n");
        assertThat(rows.rows()).isEqualTo(3);
        assertThat(rows.reordered()).isTrue();
        assertThat(rows.additional()).containsExactly("more");
        assertThat(rows.unseen()).hasSize(1);
        assertThat(rows.unseen().get("hue")).containsOnlyKeys("blue").containsEntry("blue", 1);
        assertThat(rows.hasTarget()).isTrue();
        assertThat(rows.unlabelled()).isEqualTo(2);
        List<String> seen = new ArrayList<>();
        rows.each((features, actual, values) -> {
            Numbers kg = (Numbers) features.columns().get(0);
            Numbers days = (Numbers) features.columns().get(1);
            Categories hue = (Categories) features.columns().get(2);
            assertThat(features.names()).containsExactly("kg", "seen", "hue");
            assertThat(hue.levels()).containsExactly("amber", "pale", Categories.UNSEEN);
            for (int i = 0; i < actual.length; i++) {
                seen.add(kg.get(i) + " " + days.get(i) + " " + hue.code(i) + " " + actual[i]);
            }
            assertThat(values.get(1)).containsExactly("blue", "2", null, null, null);
        });
        assertThat(seen).containsExactly("-2.5 2.0 1 0", "NaN NaN 2 -1", "100.0 20574.0 -1 -1");
    }

    /** A column whose words are read keeps the texts that the model does not know, each a level behind those that it does. */
    @Test
    void unseenTextsAreKeptWhereTheirWordsAreRead() throws Exception {
        ModelFile plain = model;
        try {
            model = trained(
                    "{classifier: logistic, prepare: [{leave-out: [kg, seen]}, {words: {columns: hue, rows: 1}}]}");
            NewRows rows = rows("w.csv", "hue,seen,kg\nPale amber,,1\npale,,1\n,,1\namber amber,,1\nPale amber,,1\n");
            assertThat(rows.unseen()).isEmpty();
            List<String> seen = new ArrayList<>();
            rows.each((features, actual, values) -> {
                Categories hue = (Categories) features.columns().get(2);
                for (int i = 0; i < actual.length; i++) {
                    seen.add(
                            hue.code(i) < 0
                                    ? "-"
                                    : hue.code(i) + Categories.text(hue.levels().get(hue.code(i))));
                }
                assertThat(model.predictor().probabilities(features))
                        .hasSize(5 * 2)
                        .doesNotContain(Double.NaN);
            });
            assertThat(seen).containsExactly("2Pale amber", "1pale", "-", "3amber amber", "2Pale amber");
        } finally {
            model = plain;
        }
    }

    /** More rows than are handed over at once: all of them, in order. */
    @Test
    void allRowsComeInOrder() throws Exception {
        StringBuilder text = new StringBuilder("kg,seen,hue\n");
        for (int i = 0; i < 10_000; i++) {
            text.append(i).append(",2026-01-01,amber\n");
        }
        NewRows rows = rows("many.csv", text.toString());
        assertThat(rows.hasTarget()).isFalse();
        int[] next = {0};
        List<Integer> sizes = new ArrayList<>();
        rows.each((features, actual, values) -> {
            sizes.add(actual.length);
            assertThat(Arrays.stream(actual).distinct()).containsExactly(-1);
            for (int i = 0; i < actual.length; i++) {
                assertThat(((Numbers) features.columns().get(0)).get(i)).isEqualTo(next[0]++);
            }
        });
        assertThat(next[0]).isEqualTo(10_000);
        assertThat(sizes).containsExactly(4096, 4096, 1808);
    }

    /** JSON Lines, whose objects need not name their keys in the same order, or at all. */
    @Test
    void jsonLinesToo() throws Exception {
        NewRows rows = rows(
                "n.jsonl",
                "{\"kg\": 1, \"seen\": \"2026-01-01\", \"hue\": \"amber\"}\n{\"hue\": \"pale\", \"kg\": 2, \"seen\": null}\n");
        List<Double> kg = new ArrayList<>();
        rows.each((features, actual, values) -> {
            for (double v : ((Numbers) features.columns().get(0)).toArray()) {
                kg.add(v);
            }
        });
        assertThat(kg).containsExactly(1.0, 2.0);
    }

    @Test
    void whatIsWrongIsNamedWithItsPlace() {
        assertThatThrownBy(() -> rows("a.csv", "kg,seen\n1,2026-01-01\n"))
                .hasMessageContaining("the column \"hue\" is missing, which the model was trained on");
        assertThatThrownBy(() -> rows("b.csv", "kg,seen,hue\n1,2026-01-01,amber\nx1,2026-01-01,pale\n"))
                .hasMessageContaining("b.csv, line 3, column \"kg\": \"x1\" is no number");
        assertThatThrownBy(() -> rows("c.csv", "kg,seen,hue\n1,1.2.2026,amber\n"))
                .hasMessageContaining("line 2, column \"seen\": \"1.2.2026\" is no ISO date");
        assertThatThrownBy(() -> rows("d.csv", "kg,seen,hue\n1e999,2026-01-01,amber\n"))
                .hasMessageContaining("\"1e999\" is no number");
        assertThatThrownBy(() -> rows("e.csv", "kg,seen,hue\n1,2026-01-01\n"))
                .hasMessageContaining("2 fields: expected 3");
        assertThatThrownBy(() -> rows("f.csv", "")).hasMessageContaining("empty");
        assertThatThrownBy(() -> rows("g.csv", "kg,kg,hue\n1,2,amber\n"))
                .hasMessageContaining("two columns are called");
    }

    /** What fails while rows are taken comes out as it is, not as a complaint about the file. */
    @Test
    void aFailureOfTheTakerIsItsOwn() throws Exception {
        NewRows rows = rows("h.csv", "kg,seen,hue\n" + "1,2026-01-01,amber\n".repeat(5000));
        assertThatThrownBy(() -> rows.each((Table features, int[] actual, List<String[]> values) -> {
                    throw new IllegalStateException("full");
                }))
                .isInstanceOf(IllegalStateException.class)
                .hasMessage("full");
        assertThat(Set.of("kg", "seen", "hue")).containsAll(rows.names());
    }
}
