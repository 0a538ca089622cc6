package keenfold.core.run.pipeline;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.Trials;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

/** What is drawn inside a training side moves with the seed, and is the same for the same seed. */
class InnerSeedsTest {
    private static final DataSet DATA = colonies();
    private static final TrainingRows ROWS = rows();

    private static DataSet colonies() {
        int rows = 120;
        RandomSource chance = new Seed(6).chance();
        int[] lost = new int[rows];
        double[] mites = new double[rows];
        String[] site = new String[rows];
        for (int i = 0; i < rows; i++) {
            lost[i] = i < 4 ? i % 2 : chance.below(2);
            mites[i] = chance.normal() + lost[i];
            site[i] = "s" + chance.below(12);
        }
        return DataSet.of(
                "colonies",
                new Table(rows, List.of(Numbers.of("mites", mites), Categories.of("site", site))),
                new Classes(List.of("no", "yes"), 1),
                lost);
    }

    private static TrainingRows rows() {
        double[] ones = new double[DATA.rows()];
        Arrays.fill(ones, 1);
        return new TrainingRows(DATA, ones, new KFold(3, 1, true).divide(DATA, 1));
    }

    private static Candidate with(Recipe recipe, Settings settings, Optional<Tuning> tuning) {
        return new Candidate("one", "one", recipe, settings, Map.of(), Optional.empty(), tuning);
    }

    private static double[] probabilities(Candidate candidate, long seed) {
        return Pipeline.of(candidate, ROWS, new Seed(seed)).probabilities(DATA.features());
    }

    private static void requireMoved(Candidate candidate) {
        double[] first = probabilities(candidate, 1);
        assertThat(probabilities(candidate, 1)).containsExactly(first);
        assertThat(IntStream.rangeClosed(2, 9).anyMatch(s -> !Arrays.equals(first, probabilities(candidate, s))))
                .as("another seed gives another model")
                .isTrue();
    }

    @Test
    void foldsOfTargetMeans() {
        Recipe recipe = new Recipe(
                Optional.of(StepUse.of(List.of(
                        StepKinds.of("target-means").orElseThrow(),
                        StepKinds.of("standardise").orElseThrow()))),
                ClassifierKinds.of("logistic").orElseThrow(),
                List.of());
        requireMoved(with(recipe, Settings.none(), Optional.empty()));
    }

    @Test
    void foldsByWhichATreeIsPruned() {
        assertThat(ClassifierKinds.of("tree")
                        .orElseThrow()
                        .setting("pruning")
                        .orElseThrow()
                        .words())
                .contains("one-se");
        requireMoved(Trials.candidate("one", "tree", "pruning=one-se", "depth=12", "leaf-rows=1"));
    }

    @Test
    void foldsOfTuning() {
        Tuning tuning = new Tuning(
                Map.of("neighbours", List.of("1", "3", "5", "9", "15", "25")),
                3,
                1,
                Tuning.By.BEST_MEAN,
                MetricName.parse("accuracy"));
        requireMoved(
                with(Recipe.of(ClassifierKinds.of("nearest").orElseThrow()), Settings.none(), Optional.of(tuning)));
    }

    @Test
    void theSampleOfSettingsThatTuningTries() {
        Tuning tuning = new Tuning(
                Map.of("neighbours", List.of("1", "2", "3", "4", "5", "6", "7", "8")),
                3,
                1,
                Tuning.By.BEST_MEAN,
                MetricName.parse("accuracy"),
                Optional.of(3));
        List<Settings> first = tuning.tried(Settings.none(), new Seed(1));
        assertThat(first).hasSize(3).doesNotHaveDuplicates();
        assertThat(tuning.tried(Settings.none(), new Seed(1))).isEqualTo(first);
        assertThat(tuning.grid(Settings.none())).containsAll(first);
        assertThat(IntStream.rangeClosed(2, 9).anyMatch(s -> !tuning.tried(Settings.none(), new Seed(s))
                        .equals(first)))
                .isTrue();
    }
}
