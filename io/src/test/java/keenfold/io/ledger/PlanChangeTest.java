package keenfold.io.ledger;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.ledger.table.Event;
import keenfold.io.plan.PlanReader;
import keenfold.io.plan.PlanWriter;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Plans that change, and ledgers that follow. */
class PlanChangeTest {
    @TempDir
    private Path folder;

    private Ledgers ledgers;

    /** Candidates, a member, a metric, a data set and repeats more; one candidate otherwise, one gone. */
    private static final String LATER = Ledgers.PLAN
                    .replace(
                            "data: [{file: a.csv, target: kind}]",
                            "data: [{file: b.csv, target: kind}, {file: a.csv, target: kind}]")
                    .replace("repeats: 2", "repeats: 3")
                    .replace("[accuracy, auc]", "[log-loss, auc, accuracy, mcc]")
                    .replace("{vary: [1, 5]}", "{vary: [3, 5, 1]}")
                    .replace("trees: 5", "trees: 7")
                    .replace("  guess: {classifier: majority}", "  bayes: {classifier: naive-bayes}")
            + """
              both: {classifier: vote, members: [bayes, near/5]}
            evidence: {margin: 0.02}
            """
                    .indent(0);

    @BeforeEach
    void makeFolder() throws IOException {
        ledgers = new Ledgers(folder);
    }

    /** Interrupted in the middle or not: what is added makes the ledger that the later plan would have made alone. */
    @Test
    void whatIsAddedIsWhatAFreshRunMakes() throws IOException {
        ledgers.run("fresh.kfl", LATER);
        ledgers.run("grown.kfl", Ledgers.PLAN, 5);
        LedgerChange change = ledgers.run("grown.kfl", LATER, 7);
        assertThat(change.added()).containsExactly("data set b", "bayes", "near/3", "both");
        assertThat(change.changed()).containsExactly("woods");
        assertThat(change.left()).containsExactly("guess@1", "woods@1");
        assertThat(change.metrics()).containsExactly("log-loss", "mcc");
        assertThat(change.repeats()).containsExactly("3 of a, 2 before");
        assertThat(change.others()).containsExactly("primary", "evidence");
        assertThat(change.version()).isEqualTo(2);
        assertThat(ledgers.run("grown.kfl", LATER).isNone()).isTrue();
        assertThat(ledgers.told("grown.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
        assertThat(LedgerReader.read(ledgers.file("grown.kfl")).former()).containsExactly("guess@1", "woods@1");
    }

    /** What left the plan is there when it is asked for, and comes back without being run again. */
    @Test
    void whatLeavesIsKeptAndComesBack() throws IOException {
        ledgers.run("l.kfl", Ledgers.PLAN);
        String before = ledgers.told("l.kfl");
        String narrow = Ledgers.PLAN
                .replace("repeats: 2", "repeats: 1")
                .replace("[1, 5]", "[5]")
                .replace("[accuracy, auc]", "[accuracy]")
                .replace("trees: 5", "trees: 4");
        LedgerChange change = ledgers.run("l.kfl", narrow);
        assertThat(change.left()).containsExactly("near/1@1", "woods@1");
        LedgerContent all = LedgerReader.read(ledgers.file("l.kfl"), true);
        assertThat(all.plan().candidates())
                .extracting(Candidate::name)
                .containsExactly("guess", "near/5", "woods", "near/1@1", "woods@1");
        assertThat(all.results().fits()).hasSize(2 * 5);
        assertThat(LedgerReader.read(ledgers.file("l.kfl")).results().fits()).hasSize(2 * 3);
        LedgerChange again = ledgers.run("l.kfl", Ledgers.PLAN, 0);
        assertThat(again.back()).containsExactly("near/1", "woods");
        assertThat(again.changed()).isEmpty();
        assertThat(ledgers.told("l.kfl")).isEqualTo(before);
    }

    @Test
    void historySaysWhatHappenedWhenAndEvidenceIsRememberedAsItWasStated() throws IOException {
        ledgers.run("l.kfl", Ledgers.PLAN);
        ledgers.run("l.kfl", LATER);
        new LedgerEdit(ledgers.file("l.kfl"), Instant.parse("2026-11-29T10:00:00.5Z")).note(" why  trees? ");
        LedgerContent content = LedgerReader.read(ledgers.file("l.kfl"));
        assertThat(content.history())
                .extracting(Event::event, Event::subject)
                .contains(
                        tuple("made", "plan 1"),
                        tuple("plan changed", "plan 2"),
                        tuple("added", "both"),
                        tuple("settings changed", "woods"),
                        tuple("left the plan", "guess@1"),
                        tuple("evidence changed", "plan 2"));
        assertThat(content.notes()).containsExactly(new Event("2026-11-29T10:00:00Z", "note", "", "why  trees?"));
        assertThat(content.stated()).hasSize(2);
        assertThat(content.stated().get(0).beforehand()).isTrue();
        assertThat(content.stated().get(1).fits()).isEqualTo(16);
        assertThat(content.stated().get(1).evidence().margin()).isEqualTo(0.02);
    }

    /** What changes no fit makes no candidate a new one; what is found by costs is refitted with other costs. */
    @Test
    void costsRanksLimitsAndNotesLeaveFitsAsTheyAre() throws IOException {
        String costly = Ledgers.PLAN.replace("[accuracy, auc]", "[cost, accuracy]")
                + "  cheap: {classifier: nearest, neighbours: 3, threshold: {for: cost}}\n"
                + "costs: {yes: {no: 5}, no: {yes: 1}}\n";
        ledgers.run("l.kfl", costly);
        String later = costly.replace("keenfold: 1\n", "keenfold: 1\nnote: dearer\n")
                        .replace("yes: {no: 5}", "yes: {no: 9}")
                        .replace(
                                "guess: {classifier: majority}",
                                "guess: {classifier: majority, rank: 1, time-limit: 9s}")
                + "evidence: {draws: 300, halves: 2}\n";
        LedgerChange change = ledgers.run("l.kfl", later);
        assertThat(change.changed()).containsExactly("cheap");
        assertThat(change.metrics()).containsExactly("cost");
        assertThat(change.others()).containsExactly("note", "costs", "evidence");
        ledgers.run("fresh.kfl", later);
        assertThat(ledgers.told("l.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
    }

    /** A note is a comment above the plan, whatever is in it: the plan is read as before. */
    @Test
    void aNoteNeverSpoilsThePlanBelowIt() throws IOException {
        ledgers.run("l.kfl", Ledgers.PLAN);
        new LedgerEdit(ledgers.file("l.kfl"), Instant.EPOCH).note("one\nseed: 9\u001b[1m\u2028seed: 8\u0085seed: 7");
        LedgerContent content = LedgerReader.read(ledgers.file("l.kfl"));
        String exported = PlanWriter.write(content.plan(), content.datedNotes());
        assertThat(exported).startsWith("# 1970-01-01 00:00 UTC: one seed: 9 [1m seed: 8 seed: 7\nkeenfold: 1\n");
        assertThat(PlanReader.parse("exported", exported)).isEqualTo(content.plan());
    }

    /** Before a fit is made nothing needs to be kept of a plan. */
    @Test
    void aPlanThatWasNeverRunLeavesNothing() throws IOException {
        ledgers.run("l.kfl", Ledgers.PLAN, 0);
        ledgers.run("l.kfl", LATER, 0);
        LedgerContent content = LedgerReader.read(ledgers.file("l.kfl"));
        assertThat(content.former()).isEmpty();
        assertThat(content.stated()).hasSize(1);
    }

    /** A renamed candidate keeps its fits and its random numbers: more of them, and those of a fresh run, are the same. */
    @Test
    void aRenamedCandidateIsTheSameOne() throws IOException {
        String voting =
                Ledgers.PLAN + "  both: {classifier: vote, members: [woods, near/1]}\nevidence: {against: woods}\n";
        ledgers.run("l.kfl", voting);
        String before = ledgers.told("l.kfl");
        Path file = ledgers.file("l.kfl");
        LedgerEdit edit = new LedgerEdit(file, Instant.EPOCH);
        edit.rename("woods", "forest");
        edit.rename("near", "neighbours");
        edit.renameDataSet("a", "colonies");
        String after = ledgers.told("l.kfl");
        assertThat(after.replace("forest: {classifier: forest", "woods: {classifier: forest")
                        .replace(", seeded-as: woods", "")
                        .replace(", seeded-as: near", "")
                        .replaceAll("(?m)neighbours(/|: \\{c)", "near$1")
                        .replaceAll("\\bforest\\b(?!, trees)", "woods")
                        .replaceAll("\\bcolonies\\b", "a"))
                .isEqualTo(before);
        String longer = PlanWriter.write(LedgerReader.read(file).plan()).replace("repeats: 2", "repeats: 3");
        assertThat(ledgers.run("l.kfl", longer).added()).isEmpty();
        ledgers.run("fresh.kfl", longer);
        assertThat(ledgers.told("l.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
        assertThatThrownBy(() -> edit.rename("neighbours/1", "one"))
                .hasMessageContaining("\"neighbours/1\" is a member of \"neighbours\"");
        assertThatThrownBy(() -> edit.rename("forst", "x")).hasMessageContaining("no candidate is called \"forst\"");
        assertThatThrownBy(() -> edit.rename("forest", "guess")).hasMessageContaining("called \"guess\" already");
    }

    /** The plan of before, with the old name, still means the same fits. */
    @Test
    void thePlanWithTheOldNameFindsTheFitsOfTheRenamed() throws IOException {
        ledgers.run("l.kfl", Ledgers.PLAN);
        String before = ledgers.told("l.kfl");
        new LedgerEdit(ledgers.file("l.kfl"), Instant.EPOCH).rename("woods", "forest");
        LedgerChange change = ledgers.run("l.kfl", Ledgers.PLAN, 0);
        assertThat(change.added()).isEmpty();
        assertThat(change.left()).isEmpty();
        assertThat(change.renamed()).containsExactly("forest to woods");
        assertThat(ledgers.told("l.kfl")).isEqualTo(before);
    }

    @Test
    void whatIsForgottenIsGoneAndItsSpaceToo() throws IOException {
        String voting = LATER.replace("evidence: {margin: 0.02}", "evidence: {against: bayes}");
        ledgers.run("l.kfl", Ledgers.PLAN);
        ledgers.run("l.kfl", voting);
        Path file = ledgers.file("l.kfl");
        LedgerEdit edit = new LedgerEdit(file, Instant.EPOCH);
        long size = Files.size(file);
        LedgerEdit.Forgotten gone = edit.forgetFormer();
        assertThat(gone.names()).containsExactly("guess@1", "woods@1");
        assertThat(gone.fits()).isEqualTo(8);
        assertThat(LedgerReader.read(file).former()).isEmpty();
        assertThatThrownBy(() -> edit.forget(List.of("bayes")))
                .hasMessageContaining("candidate \"bayes\" is a member of \"both\", which stays");
        assertThatThrownBy(() -> edit.forget(List.of("bayes", "both")))
                .hasMessageContaining("compares the others with \"bayes\"");
        edit.forget(List.of("both", "near/5"));
        assertThat(LedgerReader.read(file).plan().candidates())
                .extracting(Candidate::name)
                .containsExactly("bayes", "near/3", "near/1", "woods");
        assertThat(edit.forgetDataSets(List.of("b")).fits()).isEqualTo(4 * 6);
        assertThatThrownBy(() -> edit.forgetDataSets(List.of("a"))).hasMessageContaining("no data set would be left");
        assertThat(Files.size(file)).isLessThan(size);
        String left = PlanWriter.write(LedgerReader.read(file).plan());
        ledgers.run("fresh.kfl", left);
        assertThat(ledgers.told("l.kfl")).isEqualTo(ledgers.told("fresh.kfl"));
        // What is run again after it was forgotten is as it was.
        ledgers.run("l.kfl", voting);
        ledgers.run("whole.kfl", voting);
        assertThat(ledgers.told("l.kfl")).isEqualTo(ledgers.told("whole.kfl"));
    }
}
