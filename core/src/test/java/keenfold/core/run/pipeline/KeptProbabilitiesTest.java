package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.Comparison;
import keenfold.core.run.Fitter;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;

/** A fit keeps what its classifier said of each class, to the last bit, and so its ties. */
class KeptProbabilitiesTest {
    private static final int CLASSES = 3;
    private static final Task TASK = Trials.task(threeKinds(), new KFold(3, 1, true), "accuracy");

    /** Columns of few values, so that rows tie, one of which leans with the class. */
    private static DataSet threeKinds() {
        int rows = 150;
        RandomSource chance = new Seed(8).chance();
        double[] weight = new double[rows];
        double[] mites = new double[rows];
        String[] race = new String[rows];
        int[] pollen = new int[rows];
        for (int i = 0; i < rows; i++) {
            pollen[i] = i < 6 ? i % CLASSES : chance.below(CLASSES);
            weight[i] = chance.below(5) + pollen[i];
            mites[i] = chance.below(4);
            race[i] = List.of("dark", "grey", "red").get(chance.below(3));
        }
        return DataSet.of(
                "pollen",
                new Table(
                        rows,
                        List.of(Numbers.of("weight", weight), Numbers.of("mites", mites), Categories.of("race", race))),
                new Classes(List.of("clover", "heather", "lime"), 0),
                pollen);
    }

    private static double[] all(Outcomes outcomes) {
        double[] p = new double[CLASSES * outcomes.size()];
        Arrays.setAll(p, i -> outcomes.probability(i / CLASSES, i % CLASSES));
        return p;
    }

    @TestFactory
    Stream<DynamicTest> everyKindKeepsWhatItSaid() {
        List<Candidate> candidates = PipelineTest.everything().stream()
                .filter(c -> !c.name().equals("cut"))
                .toList();
        Comparison comparison = new Comparison(List.of(TASK), candidates, 5);
        Fitter fitter = new Fitter(comparison);
        return Trials.fits(comparison, 2).stream()
                .map(fit ->
                        DynamicTest.dynamicTest(candidates.get(fit.candidate()).name() + " " + fit.fold(), () -> {
                            assertThat(fit.message()).isEmpty();
                            Pipeline own = fitter.again(
                                    0,
                                    candidates.get(fit.candidate()),
                                    TASK.splits().at(0, fit.fold()));
                            Table raw = TASK.data().features().select(rows(fit));
                            assertThat(all(fit.result().orElseThrow().outcomes()))
                                    .containsExactly(own.probabilities(raw));
                        }));
    }

    private static int[] rows(Fit fit) {
        return TASK.splits().at(0, fit.fold()).test().toArray();
    }

    /** Nearest rows by counting: with three neighbours every probability is a third of a whole number. */
    @Test
    void tiesOfNeighboursAreCountedByHand() {
        DataSet data = onALine();
        Task task = Trials.task(data, new KFold(3, 1, true), "auc");
        List<Candidate> candidates = List.of(Trials.candidate("near", "nearest", "neighbours=3"));
        Metric last = MetricName.parse("auc:class=lime").bind(data.classes(), data.classCounts());
        int tied = 0;
        for (Fit fit : Trials.fits(new Comparison(List.of(task), candidates, 5), 1)) {
            Outcomes found = fit.result().orElseThrow().outcomes();
            int[] train = task.splits().at(0, fit.fold()).train().toArray();
            int[][] votes = new int[found.size()][];
            for (int i = 0; i < votes.length; i++) {
                votes[i] = votes(data, train, found.row(i));
                for (int c = 0; c < CLASSES; c++) {
                    assertThat(found.probability(i, c)).isEqualTo(votes[i][c] / 3.0);
                }
                int most = Arrays.stream(votes[i]).max().orElseThrow();
                int first = IntStream.of(votes[i]).boxed().toList().indexOf(most);
                assertThat(found.predicted(i)).isEqualTo(first);
                tied += most == 1 ? 1 : 0;
            }
            assertThat(last.score(found)).isEqualTo(aucByCounting(found, votes, CLASSES - 1));
        }
        assertThat(tied).as("rows whose three neighbours are of three classes").isPositive();
    }

    /** Rows at different whole numbers, so that no two training rows are equally far away. */
    private static DataSet onALine() {
        int rows = 60;
        RandomSource chance = new Seed(4).chance();
        int[] kind = new int[rows];
        double[] place = new double[rows];
        for (int i = 0; i < rows; i++) {
            kind[i] = i < 9 ? i % CLASSES : chance.below(CLASSES);
            place[i] = i * (double) i + 0.01 * i;
        }
        return DataSet.of(
                "line",
                new Table(rows, List.of(Numbers.of("place", place))),
                new Classes(List.of("clover", "heather", "lime"), 0),
                kind);
    }

    private static int[] votes(DataSet data, int[] train, int row) {
        double[] place = ((Numbers) data.features().columns().get(0)).toArray();
        int[] votes = new int[CLASSES];
        IntStream.of(train)
                .boxed()
                .sorted(Comparator.comparingDouble(t -> Math.abs(place[t] - place[row])))
                .limit(3)
                .forEach(t -> votes[data.target(t)]++);
        return votes;
    }

    private static double aucByCounting(Outcomes of, int[][] votes, int positive) {
        long halves = 0;
        long pairs = 0;
        for (int i = 0; i < votes.length; i++) {
            for (int j = 0; j < votes.length; j++) {
                if (of.actual(i) == positive && of.actual(j) != positive) {
                    pairs++;
                    halves += 1 + Integer.signum(votes[i][positive] - votes[j][positive]);
                }
            }
        }
        return halves / 2.0 / pairs;
    }

    /** A vote counts what each member said of each class, also where a member's probabilities sum to 1 but for rounding. */
    @Test
    void aVoteCountsWhatMembersSaid() {
        List<Candidate> members = List.of(
                Trials.candidate("near", "nearest", "neighbours=3"),
                Trials.candidate("wide", "nearest", "neighbours=7"),
                Trials.candidate("bayes", "naive-bayes", "pseudo-count=1"));
        Candidate vote = PipelineTest.council("vote", "", members);
        double[] ones = new double[TASK.data().rows()];
        Arrays.fill(ones, 1);
        TrainingRows rows = new TrainingRows(TASK.data(), ones, TASK.splits());
        Seed scope = new Seed(3);
        Table raw = TASK.data().features();
        double[] found = Pipeline.of(vote, rows, scope).probabilities(raw);
        List<double[]> said = members.stream()
                .map(m -> Pipeline.of(m, rows, scope).probabilities(raw))
                .toList();
        for (int i = 0; i < found.length; i++) {
            assertThat(found[i]).isEqualTo((said.get(0)[i] + said.get(1)[i] + said.get(2)[i]) / 3);
        }
    }

    @Test
    void whatIsNoProbabilityIsAFailedFit() {
        double[] ones = new double[TASK.data().rows()];
        Arrays.fill(ones, 1);
        Pipeline any = Pipeline.of(
                Trials.candidate("guess", "majority"), new TrainingRows(TASK.data(), ones, TASK.splits()), new Seed(1));
        int[] row = {0};
        assertThatThrownBy(() -> any.outcomes(0, row, row, new double[] {0.5, 0.5, Double.NaN}))
                .isInstanceOf(FitFailure.class)
                .hasMessage("the model gave a probability of NaN");
        assertThatThrownBy(() -> any.outcomes(0, row, row, new double[] {-0.1, 0.6, 0.5}))
                .hasMessage("the model gave a probability of -0.1");
        assertThatThrownBy(() -> any.outcomes(0, row, row, new double[] {0.5, 0.25, 0.125}))
                .hasMessage("the model gave a row probabilities that sum to 0.875, and not to 1");
        assertThat(any.outcomes(0, row, row, new double[] {0.1, 0.2, 0.7}).probability(0, 2))
                .isEqualTo(0.7);
    }
}
