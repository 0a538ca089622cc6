package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.Splits;
import keenfold.io.export.CsvExport;
import keenfold.io.ledger.table.Event;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanWriter;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Ledgers of different plans, joined. */
class MergerTest {
    @TempDir
    private Path folder;

    private Ledgers ledgers;

    /** What a colleague ran: other candidates and members, another data set too, more repeats, another metric. */
    private static final String COLLEAGUE =
            """
            keenfold: 1
            data: [{file: b.csv, target: kind}, {file: a.csv, target: kind}]
            splits: {folds: 2, repeats: 3}
            seed: 3
            metrics: [log-loss, accuracy]
            candidates:
              bayes: {classifier: naive-bayes}
              near: {classifier: nearest, neighbours: {vary: [3, 5]}}
              guess: {classifier: majority}
            """;

    @BeforeEach
    void makeFolder() throws IOException {
        ledgers = new Ledgers(folder);
    }

    private MergeReport merge(String target, String... names) {
        return Merger.merge(java.util.Arrays.stream(names).map(ledgers::file).toList(), ledgers.file(target));
    }

    /** Two colleagues, each with a half: joined, and what neither did run, it is what one of them would have had alone. */
    @Test
    void ledgersOfDifferentPlansBecomeOneOfBoth() throws IOException {
        ledgers.run("mine.kfl", Ledgers.PLAN);
        ledgers.run("theirs.kfl", COLLEAGUE);
        MergeReport report = merge("both.kfl", "mine.kfl", "theirs.kfl");
        // Mine lacks the further data set and the third repeat; near/5 and guess were the same on two repeats.
        assertThat(report.missing()).containsEntry("near/1", 8L).containsEntry("woods", 8L);
        assertThat(report.missing()).doesNotContainKeys("bayes", "guess", "near/3", "near/5");
        assertThat(report.parts().get(1).twice()).isEqualTo(2 * 4);
        Plan plan = LedgerReader.plan(ledgers.file("both.kfl"));
        assertThat(plan.candidates())
                .extracting(Candidate::name)
                .containsExactly("guess", "near/1", "near/5", "near/3", "woods", "bayes");
        String yaml = PlanWriter.write(plan);
        assertThat(yaml).contains("repeats: 3", "metrics: [accuracy, auc, log-loss]", "vary: [1, 5, 3]");
        ledgers.run("both.kfl", yaml);
        ledgers.run("fresh.kfl", yaml);
        assertThat(ledgers.told("both.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
        // In the other order the plan says the same in another one; fits are the same.
        merge("turned.kfl", "theirs.kfl", "mine.kfl");
        assertThat(LedgerReader.read(ledgers.file("turned.kfl")).results().fits())
                .hasSize((int) report.fits());
    }

    /** Each plan knows lists of steps that the other does not: the joined one has all, and each member its own. */
    @Test
    void variedListsOfStepsAreJoined() throws IOException {
        String mine = Ledgers.PLAN.replace(
                "near: {classifier: nearest, ",
                "near: {classifier: nearest, prepare: {vary: [[standardise], [{components: 1}]]}, ");
        ledgers.run("mine.kfl", mine);
        ledgers.run("theirs.kfl", mine.replace("[[standardise], ", "[[{components: 2}], [], "));
        merge("both.kfl", "mine.kfl", "theirs.kfl");
        String yaml = PlanWriter.write(LedgerReader.plan(ledgers.file("both.kfl")));
        assertThat(yaml)
                .contains("{vary: {standardise: [standardise], \"components=1\": [{components: {keep: 1}}],"
                        + " \"components=2\": [{components: {keep: 2}}], no-steps: []}}");
        ledgers.run("fresh.kfl", yaml);
        assertThat(ledgers.told("both.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
    }

    /** One random split, and several: joined, they are what the longer plan says, not one split any more. */
    @Test
    void theFormOfSplitsFollowsTheLongerLedger() throws IOException {
        String one = Ledgers.PLAN.replace("{folds: 2, repeats: 2}", "{scheme: monte-carlo, share: 0.3, repeats: 1}");
        ledgers.run("one.kfl", one);
        ledgers.run("three.kfl", one.replace("repeats: 1", "repeats: 3"));
        merge("both.kfl", "one.kfl", "three.kfl");
        assertThat(ledgers.told("both.kfl")).isEqualTo(ledgers.told("three.kfl"));
        assertThat(LedgerReader.read(ledgers.file("both.kfl"))
                        .results()
                        .tasks()
                        .get(0)
                        .splits()
                        .form())
                .isEqualTo(Splits.Form.RANDOM);
    }

    @Test
    void whatCollidesIsNamed() throws IOException {
        ledgers.run("mine.kfl", Ledgers.PLAN);
        ledgers.run("theirs.kfl", Ledgers.PLAN.replace("trees: 5", "trees: 9"));
        assertThatThrownBy(() -> merge("both.kfl", "mine.kfl", "theirs.kfl"))
                .hasMessageContaining("candidate woods is not what the ledgers before it call so")
                .hasMessageContaining("keenfold rename " + ledgers.file("theirs.kfl") + " woods NEW-NAME");
        assertThat(ledgers.file("both.kfl")).doesNotExist();
        new LedgerEdit(ledgers.file("theirs.kfl"), Instant.EPOCH).rename("woods", "thicket");
        merge("both.kfl", "mine.kfl", "theirs.kfl");
        assertThat(LedgerReader.plan(ledgers.file("both.kfl")).candidates())
                .extracting(Candidate::name)
                .containsExactly("guess", "near/1", "near/5", "woods", "thicket");
        // Also where one of them knows the other's from a plan of before.
        ledgers.run("later.kfl", Ledgers.PLAN);
        ledgers.run("later.kfl", Ledgers.PLAN.replace("trees: 5", "trees: 9"));
        assertThatThrownBy(() -> merge("x.kfl", "later.kfl", "mine.kfl"))
                .hasMessageContaining("candidate woods is not what the ledgers before it call so");
        ledgers.run("seeded.kfl", Ledgers.PLAN.replace("seed: 3", "seed: 4"));
        assertThatThrownBy(() -> merge("x.kfl", "mine.kfl", "seeded.kfl"))
                .hasMessageContaining("derive from seed 4, those of the ledgers before it from seed 3");
        ledgers.run("folded.kfl", Ledgers.PLAN.replace("folds: 2", "folds: 4"));
        assertThatThrownBy(() -> merge("x.kfl", "mine.kfl", "folded.kfl"))
                .hasMessageContaining("has other splits of data set \"a\" than the ledgers before it");
        Files.writeString(
                ledgers.file("a.csv"), Files.readString(ledgers.file("a.csv")).replace(",u,", ",w,"));
        ledgers.run("altered.kfl", Ledgers.PLAN);
        assertThatThrownBy(() -> merge("x.kfl", "mine.kfl", "altered.kfl"))
                .hasMessageContaining("data set \"a\" has other values of columns");
    }

    /** Predictions made elsewhere stand beside fits of a run, in whichever order the ledgers are named. */
    @Test
    void adoptedPredictionsJoinFitsOfARun() throws IOException {
        ledgers.run("run.kfl", Ledgers.PLAN);
        StringWriter predictions = new StringWriter();
        CsvExport.predictions(LedgerReader.read(ledgers.file("run.kfl")).results(), predictions);
        Path csv = ledgers.file("elsewhere.csv");
        Files.writeString(
                csv,
                predictions
                        .toString()
                        .lines()
                        .filter(l -> l.startsWith("dataset") || l.contains(",woods,"))
                        .map(l -> l.replace(",woods,", ",oracle,") + "\n")
                        .reduce("", String::concat));
        Adoption.adopt(List.of(csv), ledgers.file("adopted.kfl"), Optional.of("yes"), List.of());
        // Adopted in the folds of a plan that is run only afterwards.
        Files.copy(ledgers.file("adopted.kfl"), ledgers.file("first.kfl"));
        for (int again = 0; again < 2; again++) {
            LedgerChange change =
                    ledgers.run("first.kfl", Ledgers.PLAN.replace("target: kind", "target: kind, positive: yes"));
            assertThat(change.isNone()).isEqualTo(again == 1);
        }
        assertThat(LedgerReader.read(ledgers.file("first.kfl")).results().fits())
                .hasSize(5 * 4);
        for (List<String> order : List.of(List.of("run.kfl", "adopted.kfl"), List.of("adopted.kfl", "run.kfl"))) {
            merge("joined.kfl", order.get(0), order.get(1));
            LedgerContent joined = LedgerReader.read(ledgers.file("joined.kfl"));
            assertThat(joined.plan().candidates())
                    .extracting(Candidate::name)
                    .containsExactlyInAnyOrder("guess", "near/1", "near/5", "woods", "oracle");
            assertThat(joined.results().fits()).hasSize(5 * 4);
            assertThat(joined.plan().seed()).contains(3L);
            // The plan of the run goes on with it, and leaves the adopted one where it is.
            String longer = Ledgers.PLAN.replace("trees: 5", "trees: 6");
            ledgers.run("joined.kfl", longer);
            assertThat(LedgerReader.plan(ledgers.file("joined.kfl")).candidates())
                    .extracting(Candidate::name)
                    .containsExactly("guess", "near/1", "near/5", "woods", "oracle");
            Files.delete(ledgers.file("joined.kfl"));
        }
    }

    /** What each ledger was asked beforehand, what was noted and what was seen of the holdout, is of the joined one too. */
    @Test
    void historiesAreJoined() throws IOException {
        ledgers.run("mine.kfl", Ledgers.PLAN);
        new LedgerEdit(ledgers.file("mine.kfl"), Instant.EPOCH).note("mine");
        ledgers.run("theirs.kfl", COLLEAGUE + "evidence: {margin: 0.03}\n");
        new LedgerEdit(ledgers.file("theirs.kfl"), Instant.EPOCH).note("theirs");
        merge("both.kfl", "mine.kfl", "theirs.kfl");
        LedgerContent content = LedgerReader.read(ledgers.file("both.kfl"));
        assertThat(content.notes()).extracting(Event::details).containsExactly("mine", "theirs");
        assertThat(content.history())
                .extracting(Event::event, Event::subject)
                .contains(tuple("ledger joined", "theirs.kfl"));
        assertThat(content.stated().stream().filter(s -> s.beforehand()).map(s -> s.evidence()
                        .margin()))
                .containsExactly(0.0, 0.03);
    }
}
