package keenfold.io.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import keenfold.core.infer.contrast.Adjust;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.Rule;
import keenfold.core.pick.SimplerBy;
import keenfold.core.prepare.Settings;
import keenfold.core.run.Halving;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.FitIdentity;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.split.KFold;
import keenfold.io.InputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PlanTest {
    /** Every key there is, as a user would write it. */
    private static final String WHOLE =
            """
            keenfold: 1
            note: "which colonies need help? \\u00e4"
            data:
              - file: data/hives.csv.gz
                target: wintered
                positive: no
                groups: apiary
                order: inspected
                weights: colonies
                decimal: ","
                encoding: windows-1252
                leave-out: [hive_id]
                text: [code]
                number: mites
                missing: ["", "-9"]
                separator: tab
              - {file: b.csv, name: second one, target: y}
            holdout: {share: 0.25, rows: last}
            splits: {scheme: k-fold, folds: 5, repeats: 3, stratified: false, bind-equal: true}
            seed: -7
            metrics: [auc, "f1:class=no", recall:shares, cost]
            primary: f1:class=no
            costs: {no: {yes: 5}, yes: {yes: -0.5}, else: 1}
            presets: 2
            candidates:
              guess: {classifier: majority, rank: 1, seeded-as: shrug}
              near: {classifier: nearest, neighbours: {vary: [3, 5]}}
              bush: {classifier: tree, depth: {vary: [2, 4]}, impurity: entropy, pruning: {vary: {from: 0.01, to: 1, points: 3, scale: log}}}
              logit: {classifier: logistic, penalty: ridge, strength: 1.0}
              oak: {classifier: tree, leaf-rows: {vary: [5, 20]}, depth: {vary: [2, 4, 6]}, sample: 3, time-limit: 1.5m, pruning: {choose: [0, 0.01]}, impurity: {choose: [gini, entropy]}, tuning: {folds: 4, repeats: 2, by: one-se, metric: log-loss}}
              trim: {classifier: logistic, strength: {vary: [1, 10]}, prepare: [{leave-out: [id, "a, b"]}, {fill: mean}, one-hot, {fill: {mark: yes, with: constant}}, {strongest: {vary: [2, 4]}}, {components: {keep: {choose: [2, 0.5]}}}]}
              as-is: {classifier: tree, prepare: []}
              fair: {classifier: tree, balance: {by: resampling}, calibrate: {by: {choose: [platt, isotonic]}, folds: 3}, threshold: f1, depth: {vary: [1, 2]}}
              council: {classifier: vote, members: [logit, near/5], weights: [2, 1], by: {choose: [label, probability]}}
              tower: {classifier: stack, members: [council, as-is], with: tree, folds: 3}
            evidence: {draws: 2000, level: 0.9, margin: 0.02, against: near/5, method: cases-bca, adjust: none, halves: {splits: 60, repeats: 3}}
            pick: {rule: {m-se: 0.5}, simpler-by: columns, failed: allow}
            effort: {near: 0.5, bush: 12}
            """;

    @Test
    void everyKeyIsReadAndWrittenBackEqual() {
        Plan plan = PlanReader.parse("p.yaml", WHOLE);
        assertThat(plan.note()).contains("which colonies need help? ä");
        assertThat(plan.data().get(0).name()).isEqualTo("hives");
        assertThat(plan.data().get(0).positive()).contains("no");
        assertThat(plan.data().get(0).format().separator()).contains('\t');
        assertThat(plan.data().get(0).format().missing()).containsExactlyInAnyOrder("", "-9");
        assertThat(plan.data().get(1).name()).isEqualTo("second one");
        assertThat(plan.division().scheme()).contains(new KFold(5, 3, false));
        assertThat(plan.seed()).contains(-7L);
        assertThat(plan.primary()).isEqualTo(MetricName.parse("f1:class=no"));
        assertThat(plan.candidates().stream().map(Candidate::name))
                .containsExactly(
                        "guess",
                        "near/3",
                        "near/5",
                        "bush/2/0.01",
                        "bush/2/0.1",
                        "bush/2/1",
                        "bush/4/0.01",
                        "bush/4/0.1",
                        "bush/4/1",
                        "logit",
                        "oak/5/4",
                        "oak/20/2",
                        "oak/20/6",
                        "trim/2/1",
                        "trim/2/10",
                        "trim/4/1",
                        "trim/4/10",
                        "as-is",
                        "fair/1",
                        "fair/2",
                        "council",
                        "tower");
        assertThat(plan.candidates().get(20).recipe().members())
                .containsExactly(plan.candidates().get(9), plan.candidates().get(2));
        assertThat(plan.candidates().get(18).wrapperTexts())
                .containsExactly("balance resampling", "calibrate (chosen)", "threshold f1");
        assertThat(plan.candidates().get(15).stepTexts())
                .containsExactly(
                        "leave-out id,a\\, b",
                        "fill mean",
                        "one-hot",
                        "fill constant mark=yes",
                        "strongest 4",
                        "components (chosen)");
        assertThat(plan.candidates().get(17).stepTexts()).isEmpty();
        Tuning tuning = plan.candidates().get(10).tuning().orElseThrow();
        assertThat(tuning)
                .isEqualTo(new Tuning(tuning.choices(), 4, 2, Tuning.By.ONE_SE, MetricName.parse("log-loss")));
        assertThat(tuning.grid(Settings.none()).stream().map(g -> g.values().toString()))
                .containsExactly(
                        "{pruning=0, impurity=gini}",
                        "{pruning=0, impurity=entropy}",
                        "{pruning=0.01, impurity=gini}",
                        "{pruning=0.01, impurity=entropy}");
        assertThat(plan.evidence().against()).contains("near/5");
        assertThat(plan.evidence().method()).isEqualTo(Method.CASES_BCA);
        assertThat(plan.evidence().adjustment()).isEqualTo(Adjust.NONE);
        assertThat(plan.evidence().halving()).isEqualTo(new Halving(60, 3));
        assertThat(plan.choosing()).isEqualTo(new Choosing(new Rule(Rule.Kind.M_SE, 0.5), SimplerBy.COLUMNS, true));
        assertThat(plan.candidates().get(0).rank()).hasValue(1);
        assertThat(plan.candidates().get(0).seedName()).isEqualTo("shrug");
        assertThat(plan.candidates().get(1).seedName()).isEqualTo("near");
        assertThat(plan.costs().byActual().get("yes")).containsEntry("yes", -0.5);
        assertThat(plan.candidates().get(10).timeLimit()).hasValue(90);
        String written = PlanWriter.write(plan);
        assertThat(PlanWriter.write(PlanReader.parse("written", written))).isEqualTo(written);
        for (List<PlanKeys.Key> keys : List.of(
                PlanKeys.PLAN,
                PlanKeys.DATA,
                PlanKeys.CANDIDATE,
                PlanKeys.TUNING,
                PlanKeys.VARY,
                PlanKeys.RANGE,
                PlanKeys.EVIDENCE,
                PlanKeys.PICK)) {
            assertThat(keys).allMatch(k -> WHOLE.contains(k.name() + ":"));
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{scheme: k-fold, folds: 3, repeats: 2, stratified: false}",
                "{scheme: leave-one-out, bind-equal: true}",
                "{scheme: leave-group-out}",
                "{scheme: monte-carlo, share: 0.3, repeats: 7, stratified: true}",
                "{scheme: rolling-origin, first: 0.4, step: 0.2, gap: 0.05, window: all}",
                "{scheme: rolling-origin, first: 0.4, step: 0.2, gap: 0, window: 0.3}",
                "{scheme: out-of-bag, repeats: 9, stratified: false}",
                "{scheme: given, column: part}",
                "{scheme: given, file: folds.csv}",
                "{scheme: apart, test: later.csv}"
            })
    void everySchemeIsReadAndWrittenBackEqual(String splits) {
        Plan plan = PlanReader.parse("p.yaml", plan("splits: " + splits));
        assertThat(PlanWriter.write(plan)).contains("splits: " + splits + "\n");
        assertThat(PlanReader.parse("w", PlanWriter.write(plan)).division()).isEqualTo(plan.division());
    }

    @ParameterizedTest
    @ValueSource(strings = {"{share: 0.2}", "{share: 0.3, rows: last}", "{file: winter.csv}"})
    void everyHoldoutIsReadAndWrittenBackEqual(String holdout) {
        Plan plan = PlanReader.parse("p.yaml", plan("holdout: " + holdout));
        assertThat(PlanWriter.write(plan)).contains("holdout: " + holdout + "\n");
    }

    @Test
    void aRowTestedAloneIsScoredByWhatCanServe() {
        assertThat(PlanReader.parse("p", plan("splits: {scheme: leave-one-out}"))
                        .metrics())
                .isEqualTo(Plan.METRICS_OF_ROWS);
    }

    @Test
    void jsonIsYaml() {
        Plan plan = PlanReader.parse(
                "p.json",
                "{\"keenfold\": 1, \"data\": [{\"file\": \"a.csv\", \"target\": \"y\"}],"
                        + " \"candidates\": {\"g\": {\"classifier\": \"majority\"}}}");
        assertThat(plan.metrics()).isEqualTo(Plan.METRICS);
        assertThat(plan.division()).isEqualTo(Division.DEFAULT);
    }

    private static String plan(String tail) {
        String head = "keenfold: 1\ndata: [{file: a.csv, target: y}]\n";
        return head + (tail.contains("candidates:") ? "" : "candidates: {g: {classifier: majority}}\n") + tail + "\n";
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "evidence: {method: t}|key \"evidence.method\": method \"t\" is not known",
                "evidence: {method: cases, adjust: max-t}|max-t needs the draws of method pivot",
                "evidence: {halves: -1}|splits = -1: expected a whole number of at least 0",
                "pick: {rule: {m-se: -1}}|rule m-se: -1.0: expected a number of standard errors from 0",
                "pick: {rule: two-se}|rule \"two-se\" is not known",
                "pick: {rule: {se: 1}}|unknown key \"se\"",
                "pick: {simpler-by: beauty}|simpler-by \"beauty\" is not known",
                "pick: {failed: maybe}|failed: maybe: expected allow or refuse",
                "costs: {a: {b: much}}|key \"costs.a.b\"",
                "candidates: {g: {classifier: majority, rank: 0}}|rank = 0: expected a whole number of at least 1",
                "splits: {repeats: 999999999}|repeats = 999999999: at most 10000 are possible",
                "splits: {scheme: monte-carlo, repeats: 10001}|repeats = 10001: at most 10000 are possible",
                "evidence: {draws: 1000001}|draws = 1000001: at most 1000000 are possible",
                "evidence: {halves: 999999}|halves = 999999: at most 10000 are possible",
                "candidates: {a: {classifier: tree, pruning: {vary: {from: 0, to: 1, points: 999999999}}}}|points = 999999999: at most 1000 are possible",
                "candidates: {a: {classifier: tree, pruning: {vary: {from: 0, to: 1, points: 900}}, leaf-rows: {vary: {from: 1, to: 900, points: 900}}}}|combinations of varied settings = 810000: at most 10000",
                "candidates: {a: {classifier: tree, pruning: {choose: {from: 0, to: 1, points: 900}}, leaf-rows: {choose: {from: 1, to: 900, points: 900}}}}|combinations of chosen settings = 810000: at most 10000",
                "candidates: {a: {classifier: forest, trees: 999999999}}|trees = 999999999: expected a whole number from 1 to 1000000",
                "candidates: {a: {classifier: tree, threshold: {for: cost}}}|threshold: for = cost: the plan says nothing of costs",
                "candidates: {a: {classifier: tree, depth: {choose: [1, 2]}, tuning: {metric: cost}}}|metric: cost: the plan says nothing of costs",
                "splts: {folds: 5}|p.yaml, line 4, column 8, key \"splts\": unknown key \"splts\"; the nearest is \"splits\"",
                "splits: {fold: 5}|key \"splits.fold\": unknown key \"fold\"; the nearest is \"folds\"",
                "splits: {folds: five}|key \"splits.folds\": \"five\": expected a whole number",
                "splits: {folds: 1}|folds = 1: expected a whole number of at least 2",
                "splits: {scheme: bootstrap}|scheme \"bootstrap\" is not known",
                "splits: {scheme: leave-one-out, folds: 5}|\"folds\" says nothing to scheme leave-one-out",
                "splits: {scheme: given}|given splits stand in a column: or in a file:",
                "splits: {scheme: apart}|the key \"test\" is missing",
                "splits: {scheme: monte-carlo, share: 20}|share = 20: expected a share between 0 and 1",
                "splits: {scheme: rolling-origin, first: 0.8, step: 0.5}|step = 0.5: only 0.200 of the rows come after",
                "splits: {scheme: rolling-origin, gap: 0.6}|gap = 0.6: expected a share from 0 to below first (0.5)",
                "holdout: {rows: first}|rows: first: expected last",
                "holdout: {share: 0.2, file: a.csv}|a holdout is a file: or a part of the rows, not both",
                "splits: [5]|key \"splits\": expected keys with values, found a list",
                "metrics: [auc, acuracy]|key \"metrics[2]\": metric \"acuracy\" is not known",
                "metrics: [auc, auc]|metric \"auc\" is there already",
                "primary: f2|metric \"f2\" is not known",
                "evidence: {level: 95}|level = 95: expected a share between 0 and 1, such as 0.95",
                "evidence: {against: h}|no candidate is called \"h\"",
                "pick: {rule: one_se}|rule \"one_se\" is not known; the nearest is \"one-se\"",
                "seed: soon|seed \"soon\": expected a whole number",
                "candidates: {a: {classifier: tree, tuning: {folds: 3}}}|tuning has nothing to choose",
                "candidates: {a: {classifier: tree, depth: {choose: [2], vary: [3]}}}|expected one of vary and choose",
                "candidates: {a: {classifier: tree, depth: {choose: [0]}}}|depth = 0: expected a whole number from 1 to 1000000",
                "candidates: {a: {classifier: tree, depth: {choose: [2, 3]}, tuning: {by: luck}}}|by: luck: expected best-mean or one-se",
                "candidates: {a: {classifier: tree, time-limit: 90}}|90: expected a number of seconds, minutes or hours",
                "candidates: {a: {classifier: tree, time-limit: 0s}}|0s: expected a time above 0",
                "candidates: {a: {classifier: command}}|command: run is missing",
                "candidates: {a: {classifier: tree, depth: {vary: [2, 3]}, sample: 4}}|sample = 4: the grid of varied settings has 2",
                "candidates: {a/b: {classifier: majority}}|a name holds no slash",
                "candidates: {a: {classifier: majority}, a: {classifier: tree}}|this key stands here twice",
                "candidates: {a: {classifier: tre}}|classifier \"tre\" is not known; the nearest is \"tree\"",
                "candidates: {a: {classifier: tree, dept: 3}}|unknown key \"dept\"; the nearest is \"depth\"",
                "candidates: {a: {classifier: tree, depth: 0}}|depth = 0: expected a whole number from 1 to 1000000",
                "candidates: {a: {depth: 3}}|the key \"classifier\" is missing",
                "candidates: {a: {classifier: tree, depth: {vary: [2, 2]}}}|a value stands here twice",
                "candidates: {a: {classifier: tree, prepare: [standardize]}}|key \"candidates.a.prepare[1]\": step \"standardize\" is not known; the nearest is \"standardise\"",
                "candidates: {a: {classifier: tree, prepare: [{fill: median, one-hot: 3}]}}|expected one step, such as {fill: mean}",
                "candidates: {a: {classifier: tree, prepare: [{fill: {wiht: mean}}]}}|unknown key \"wiht\"; the nearest is \"with\"",
                "candidates: {a: {classifier: tree, prepare: [{strongest: 0}]}}|number = 0: expected a whole number from 1 to 1000000",
                "candidates: {a: {classifier: tree, prepare: [{components: 2.5}]}}|keep = 2.5: expected a whole number from 1, or a share below 1",
                "candidates: {a: {classifier: tree, prepare: [leave-out]}}|leave-out needs the names of columns",
                "candidates: {a: {classifier: tree, prepare: [{rescale: {low: 3}}]}}|rescale: low = 3.0 is not below high = 1.0",
                "candidates: {a: {classifier: tree, prepare: [{keep-only: {vary: [a, b]}}]}}|a list of names cannot be varied",
                "candidates: {a: {classifier: tree, prepare: fill}}|expected a list, such as [a, b], found \"fill\"",
                "candidates: {a: {classifier: tree, calibrate: {by: luck}}}|by = luck: expected platt or isotonic",
                "candidates: {a: {classifier: tree, threshold: auc}}|expected a metric of labels",
                "candidates: {a: {classifier: logistic, mix: 0.3}}|mix says nothing to penalty ridge",
                "candidates: {a: {classifier: tree}, v: {classifier: vote, members: [a, b]}, b: {classifier: majority}}|no candidate and no family called \"b\" stands above it",
                "candidates: {a: {classifier: tree}, v: {classifier: vote, members: [a]}}|vote needs two or more members",
                "candidates: {a: {classifier: tree, members: [b]}}|unknown key \"members\"",
                "candidates: {}|no candidate: name at least one",
                "note: [|not valid YAML",
            })
    void complaintsNameThePlaceAndTheMend(String tail, String message) {
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", plan(tail)))
                .isInstanceOf(InputException.class)
                .hasMessageContaining(message);
    }

    /** A slip of one key must not fill the screen, nor take a minute. */
    @Test
    void whatIsNoPlanIsSaidInOneLine(@org.junit.jupiter.api.io.TempDir Path folder) throws IOException {
        Path table = Files.writeString(folder.resolve("t.csv"), "a,b\n" + "1,2\n".repeat(5000));
        assertThatThrownBy(() -> PlanReader.read(table))
                .hasMessage(table + ": is no plan: a plan is YAML that begins with \"keenfold: 1\"; a table is given to"
                        + " compare, survey or draft");
        Path large = Files.writeString(folder.resolve("l.csv"), "a,b\n" + "1,2\n".repeat(1_100_000));
        assertThatThrownBy(() -> PlanReader.read(large)).hasMessageContaining("a plan has at most 4194304");
        assertThatThrownBy(() -> PlanReader.read(folder)).hasMessageContaining("is a folder: expected a plan");
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", plan("note: " + "x".repeat(10_001))))
                .hasMessageContaining("has 10001 characters; a value of a plan has at most 10000");
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", plan("primary: " + "x".repeat(5000))))
                .satisfies(e -> assertThat(e.getMessage()).hasSizeLessThan(600));
    }

    /** A name that an earlier version let pass is read where it stands already. */
    @Test
    void aNameThatIsStoredIsRead(@org.junit.jupiter.api.io.TempDir Path folder) throws IOException {
        String text = plan("").replace("target: y", "target: y, name: \"colonies, 2026\"");
        assertThat(PlanReader.kept("l.kfl (plan)", text).data().get(0).name()).isEqualTo("colonies, 2026");
        Path file = Files.writeString(folder.resolve("p.yaml"), text);
        assertThatThrownBy(() -> PlanReader.read(file)).hasMessageContaining("a name holds no slash, comma");
    }

    /** Presets became better since; what a ledger was filled by keeps those of its time. */
    @Test
    void aKeptPlanHasThePresetsOfItsTime() {
        String text = plan("").replaceFirst(
                        "(?s)candidates:.*",
                        "candidates: {a: {classifier: tree, pruning: 0.1}, b: {classifier: forest}}\n");
        Plan kept = PlanReader.kept("l.kfl (plan)", text);
        assertThat(kept.candidates().get(0).settings().values())
                .isEqualTo(Map.of("depth", "8", "leaf-rows", "5", "pruning", "0.1", "smoothing", "0"));
        assertThat(kept.candidates().get(1).settings().values()).isEmpty();
        assertThat(PlanReader.parse("p", "presets: 1\n" + text)).isEqualTo(kept);
        assertThat(PlanWriter.write(kept)).doesNotContain("presets");
        assertThat(PlanReader.kept("p", PlanWriter.write(kept))).isEqualTo(kept);
        Plan today = PlanReader.parse("p", text);
        assertThat(today.candidates().get(0).settings().values()).isEqualTo(Map.of("pruning", "0.1"));
        assertThat(PlanWriter.write(today)).contains("\npresets: 2\n");
        assertThat(PlanReader.kept("l.kfl (plan)", PlanWriter.write(today))).isEqualTo(today);
        assertThatThrownBy(() -> PlanReader.parse("p", "presets: 3\n" + text))
                .hasMessageContaining("presets = 3: this program knows those of the generations 1 to 2");
    }

    @Test
    void aFamilyStandsForItsMembersInAnEnsemble() {
        String some = "candidates: {g: {classifier: majority}, near: {classifier: nearest, neighbours: {vary: [3, 5]}},"
                + " all: {classifier: vote, members: [%s]}}";
        Plan plan = PlanReader.parse("p.yaml", plan(some.formatted("near, g")));
        assertThat(plan.candidates().get(3).recipe().members())
                .extracting(Candidate::name)
                .containsExactly("near/3", "near/5", "g");
        assertThat(PlanWriter.write(plan)).contains("members: [near/3, near/5, g]");
        assertThat(PlanReader.parse("w", PlanWriter.write(plan))).isEqualTo(plan);
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", plan(some.formatted("nears, g"))))
                .hasMessageContaining("no candidate and no family called \"nears\"")
                .hasMessageContaining("the nearest is \"near\"");
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", plan(some.formatted("near, near/5"))))
                .hasMessageContaining("\"near/5\" is a member already");
        // Plans that ledgers keep may name a candidate twice.
        assertThat(PlanReader.kept("l.kfl (plan)", plan(some.formatted("g, g")))
                        .candidates()
                        .get(3)
                        .recipe()
                        .members())
                .hasSize(2);
    }

    @Test
    void whatIsMissingIsNamed() {
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", "")).hasMessageContaining("the plan is empty");
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", "data: []"))
                .hasMessageContaining("\"keenfold\" is missing");
        assertThatThrownBy(() -> PlanReader.parse("p.yaml", "keenfold: 2")).hasMessageContaining("plans of version 1");
        assertThatThrownBy(() -> PlanReader.read(Path.of("none.yaml"))).hasMessageContaining("there is no such file");
    }

    @Test
    void candidatesFromTheCommandLine() {
        assertThat(TryReader.read("near=nearest neighbours=3,9").stream().map(Candidate::name))
                .containsExactly("near/3", "near/9");
        assertThat(TryReader.read("tree depth=4 pruning=0.1").get(0).settings().values())
                .containsEntry("depth", "4")
                .containsEntry("pruning", "0.1");
        assertThatThrownBy(() -> TryReader.read("nearst")).hasMessageContaining("the nearest is \"nearest\"");
        assertThatThrownBy(() -> TryReader.read("tree dept=4")).hasMessageContaining("the nearest is \"depth\"");
        assertThatThrownBy(() -> TryReader.read("tree depth=x")).hasMessageContaining("expected a whole number");
    }

    @Test
    void thePlansDocumentationIsMadeFromTheReadersKeys() throws IOException {
        Path docs = Path.of("../docs/plan.md");
        if ("1".equals(System.getenv("KEENFOLD_WRITE_DOCS"))) {
            Files.writeString(docs, PlanKeys.markdown());
        }
        assertThat(Files.readString(docs)).isEqualTo(PlanKeys.markdown());
    }

    @Test
    void theDemoPlanIsReadable() {
        assertThat(PlanReader.read(Path.of("../demo/demo.yaml")).data()).hasSize(3);
    }

    /** YAML takes a plain no for a truth: here it is a label, and numbers stay as they were written. */
    @Test
    void weightsOfClassesAndASampleOfChoicesAreReadAndWritten() {
        String head = "keenfold: 1\ndata: [{file: a.csv, target: t}]\ncandidates:\n  tilt: {classifier: tree, ";
        Plan plan = PlanReader.parse(
                "p.yaml",
                head + "balance: {of: {no: 5, \"a, b\": 0.50}}, depth: {choose: [1, 2, 3]}, tuning: {sample: 2}}\n");
        assertThat(plan.candidates()
                        .get(0)
                        .recipe()
                        .namedWeights(plan.candidates().get(0).settings()))
                .containsExactly(entry("no", "5"), entry("a, b", "0.50"));
        assertThat(plan.candidates().get(0).tuning().orElseThrow().sample()).contains(2);
        String written = PlanWriter.write(plan);
        assertThat(PlanReader.parse("written", written)).isEqualTo(plan);
        Map.of(
                        "balance: {of: {no: 0}}",
                        "of = {no: 0}: expected a map of labels to numbers from 0.000001 to 1000000",
                        "balance: {of: {}}",
                        "expected a map of labels",
                        "balance: {by: resampling, of: {no: 2}}",
                        "of goes with by: weights",
                        "balance: {of: 5}",
                        "expected keys with values",
                        "depth: {choose: [1, 2]}, tuning: {sample: 3}",
                        "there are 2 combinations")
                .forEach((wrong, message) -> assertThatThrownBy(() -> PlanReader.parse("p.yaml", head + wrong + "}\n"))
                        .hasMessageContaining(message));
    }

    /** Lists are named by themselves or by the plan, written back equal, and a member has the fits of its list alone. */
    @Test
    void listsOfStepsAreVariedAndChosen() {
        String head =
                "keenfold: 1\ndata: [{file: a.csv, target: t}]\ncandidates:\n  a: {classifier: nearest, prepare: ";
        Plan plan = PlanReader.parse(
                "p.yaml",
                head
                        + """
                        {vary: [[fill, {components: 2}], [], [{keep-only: [u, v/w]}, {fill: {mark: yes}}]]}, neighbours: {vary: [3, 5]}}
                          b: {classifier: nearest, prepare: {choose: {plain: [fill], short: [fill, {components: {keep: 2}}]}}}
                        """);
        assertThat(plan.candidates().stream().map(Candidate::name))
                .containsExactly(
                        "a/fill+components=2/3",
                        "a/fill+components=2/5",
                        "a/no-steps/3",
                        "a/no-steps/5",
                        "a/keep-only=u.v.w+fill:mark=yes/3",
                        "a/keep-only=u.v.w+fill:mark=yes/5",
                        "b");
        assertThat(plan.candidates().get(4).stepTexts()).containsExactly("keep-only u,v/w", "fill mark=yes");
        assertThat(plan.candidates().get(2).stepTexts()).isEmpty();
        assertThat(plan.candidates().get(6).stepTexts()).containsExactly("plain or short (chosen)");
        assertThat(plan.candidates().get(6).tuning().orElseThrow().choices())
                .containsExactly(entry("prepare", List.of("plain", "short")));
        String written = PlanWriter.write(plan);
        assertThat(PlanReader.parse("written", written)).isEqualTo(plan);
        assertThat(PlanWriter.write(PlanReader.parse("written", written))).isEqualTo(written);
        Plan alone = PlanReader.parse(
                "p.yaml", head + "[{keep-only: [u, v/w]}, {fill: {mark: yes}}], neighbours: {vary: [3, 5]}}\n");
        assertThat(FitIdentity.of(plan.candidates().get(4)))
                .isEqualTo(FitIdentity.of(alone.candidates().get(0)))
                .isNotEqualTo(FitIdentity.of(plan.candidates().get(0)));
        Map.of(
                        "{vary: [[fill, {components: {vary: [2, 3]}}]]}",
                        "has one value",
                        "{vary: [[fill], [fill]]}",
                        "the list \"fill\" stands here twice",
                        "{vary: {a/b: [fill]}}",
                        "a name holds no slash",
                        "{vary: [fill]}",
                        "expected a list, such as [a, b]",
                        "{vary: []}",
                        "no list of steps",
                        "{vary: [[fill]], choose: [[log]]}",
                        "expected one of vary and choose")
                .forEach((wrong, message) -> assertThatThrownBy(() -> PlanReader.parse("p.yaml", head + wrong + "}\n"))
                        .hasMessageContaining(message));
    }
}
