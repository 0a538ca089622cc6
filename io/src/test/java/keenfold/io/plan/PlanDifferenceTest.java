package keenfold.io.plan;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** What of two plans decides which fits are made. */
class PlanDifferenceTest {
    private static final String TEXT =
            """
            keenfold: 1
            data: [{file: hives.csv, target: survived, positive: no}]
            splits: {folds: 5, repeats: 2}
            seed: 3
            metrics: [auc, accuracy]
            candidates:
              guess: {classifier: majority}
              mine: {classifier: command, run: sh shares.sh}
              logit: {prepare: [fill, one-hot, standardise], classifier: logistic, strength: {vary: [1, 30]}}
              pile: {classifier: stack, members: [guess, logit/1]}
            evidence: {draws: 500}
            """;

    private static Plan plan(String text) {
        return PlanReader.parse("plan.yaml", text);
    }

    /** Read twice, and read back as it is written: values are the same, whatever objects make them. */
    @Test
    void thePlanReadAgainIsTheSame() {
        Plan plan = plan(TEXT);
        assertThat(PlanDifference.ofFits(plan, plan(TEXT))).isEmpty();
        assertThat(PlanDifference.ofFits(plan, plan(PlanWriter.write(plan)))).isEmpty();
    }

    @Test
    void howFitsAreReadIsNoDifference() {
        String other = TEXT.replace("draws: 500", "draws: 700, margin: 0.01") + "pick: {rule: best-mean}\n";
        assertThat(PlanDifference.ofFits(plan(TEXT), plan(other))).isEmpty();
    }

    @Test
    void theFirstDifferenceIsShownAsItIsWritten() {
        assertThat(PlanDifference.ofFits(plan(TEXT), plan(TEXT.replace("seed: 3", "seed: 4"))))
                .contains(new PlanDifference("seed: 3", "seed: 4"));
        PlanDifference settings = PlanDifference.ofFits(plan(TEXT), plan(TEXT.replace("[1, 30]", "[1, 60]")))
                .orElseThrow();
        assertThat(settings.one()).startsWith("logit: ").contains("30");
        assertThat(settings.other()).startsWith("logit: ").contains("60");
        assertThat(PlanDifference.ofFits(plan(TEXT), plan(TEXT.replace("sh shares.sh", "sh other.sh"))))
                .isPresent();
    }
}
