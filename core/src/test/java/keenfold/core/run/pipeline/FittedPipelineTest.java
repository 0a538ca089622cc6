package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.metric.Outcomes;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import org.junit.jupiter.api.Test;

class FittedPipelineTest {
    private static final DataSet ROWS = Trials.data("d", 5, 90, 1.4, 0);
    private static final Splits LIKE = new KFold(3, 1, true).divide(ROWS, 1);
    private static final FittedPipeline LOGIT =
            FittedPipeline.train(Trials.candidate("logit", "logistic", "strength=2"), ROWS, LIKE, 7);

    private static Table none() {
        return ROWS.features().select(new int[0]);
    }

    @Test
    void outcomesAndLabelsFollowFromProbabilities() {
        int[] all = IntStream.range(0, 90).toArray();
        double[] p = LOGIT.probabilities(ROWS.features());
        Outcomes outcomes = LOGIT.outcomes(ROWS.features(), ROWS.targets());
        for (int i : all) {
            assertThat(outcomes.probability(i, 1)).isEqualTo(p[2 * i + 1]);
            assertThat(outcomes.predicted(i)).isEqualTo(p[2 * i + 1] > p[2 * i] ? 1 : 0);
        }
        assertThat(LOGIT.labels(p)).containsExactly(outcomes.labels());
        assertThat(LOGIT.prepared()).containsExactly("a", "b", "c");
        assertThat(LOGIT.settings()).containsEntry("strength", "2");
        assertThat(LOGIT.classifier()).isEqualTo("logistic");
        assertThat(LOGIT.size()).isBetween(1.0, 4.0);
    }

    /** Seeds come from names: the same candidate is the same model, whatever the plan around it. */
    @Test
    void theSameSeedGivesTheSameModel() {
        Candidate woods = Trials.candidate("woods", "forest", "trees=5");
        State first = FittedPipeline.train(woods, ROWS, LIKE, 7).state();
        assertThat(FittedPipeline.train(woods, ROWS, LIKE, 7).state()).isEqualTo(first);
        assertThat(FittedPipeline.train(woods, ROWS, LIKE, 8).state()).isNotEqualTo(first);
    }

    @Test
    void whatIsMadeAgainIsTheSame() {
        FittedPipeline again = FittedPipeline.restored(LOGIT.state(), none());
        assertThat(again.probabilities(ROWS.features())).containsExactly(LOGIT.probabilities(ROWS.features()));
        assertThat(again.state()).isEqualTo(LOGIT.state());
        assertThat(again.settings()).isEqualTo(LOGIT.settings());
        assertThat(again.threshold()).isEmpty();
        assertThat(again.members()).isEmpty();
    }

    /** The state with a value of the model's own taken from another one. */
    private static State other(String key, State part) {
        State made = State.of("predictor");
        State own = LOGIT.state();
        for (String k : List.of("classes", "positive", "no-missing", "numbers-only", "size")) {
            made = made.with(k, own.number(k));
        }
        made = made.with("classifier", own.text("classifier"));
        for (String k : List.of("setting-names", "setting-values", "prepared", "member-names")) {
            made = made.withTexts(k, own.texts(k));
        }
        made = made.withParts("members", own.parts("members")).with("every-class", own.truth("every-class"));
        made = key.equals("steps") ? made.withParts(key, List.of(part)) : made.withParts("steps", own.parts("steps"));
        return key.equals("model") ? made.with(key, part) : made.with("model", own.part("model"));
    }

    @Test
    void whatDoesNotSuitTheColumnsIsRefused() {
        Table two = new Table(0, List.of(Numbers.of("a"), Numbers.of("b")));
        assertThatThrownBy(() -> FittedPipeline.restored(LOGIT.state(), two))
                .hasMessage("steps that do not suit the columns");
        assertThatThrownBy(() -> FittedPipeline.restored(State.of("hive"), none()))
                .hasMessage("\"hive\" is no predictor");
        assertThatThrownBy(() -> FittedPipeline.restored(
                        other("steps", State.of("choice").with("columns", new int[] {0})), none()))
                .hasMessage("steps make columns [a], not [a, b, c]");
        assertThatThrownBy(() -> FittedPipeline.restored(
                        other("model", State.of("majority").with("shares", new double[] {0.2, 0.3, 0.5})), none()))
                .hasMessage("a classifier of 3 classes, where there are 2");
        assertThat(FittedPipeline.restored(
                                other("model", State.of("majority").with("shares", new double[] {0.25, 0.75})), none())
                        .probabilities(ROWS.features().select(new int[] {0})))
                .containsExactly(0.25, 0.75);
    }

    /** A classifier that keeps nothing of itself for others cannot be kept, and says so before anything is written. */
    @Test
    void aClassifierWithoutAStateIsRefused() {
        FittedPipeline silent = new FittedPipeline(
                2,
                1,
                List.of(),
                new MemberColumns(List.of(), 2, false),
                List.of(),
                new keenfold.core.classify.Model() {
                    @Override
                    public double[] probabilities(Table table) {
                        return new double[2 * table.rows()];
                    }

                    @Override
                    public double size() {
                        return 1;
                    }
                },
                PostProcessing.NONE,
                "oracle",
                keenfold.core.prepare.Needs.NOTHING,
                java.util.Map.of(),
                List.of("a"),
                1);
        assertThatThrownBy(silent::state).hasMessageContaining("a trained oracle cannot be kept in a file");
    }
}
