package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.Rows;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.metric.Outcomes;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.OutOfBag;
import org.junit.jupiter.api.Test;
import org.mockito.Mockito;

class RunnerTest {
    private static final KFold SPLITS = new KFold(4, 2, true);

    private static Comparison comparison(Candidate... candidates) {
        return new Comparison(
                List.of(
                        Trials.task(Trials.data("one", 1, 60, 1, 0), SPLITS, "accuracy", "auc"),
                        Trials.task(Trials.data("two", 2, 40, 0, 8), SPLITS, "accuracy", "auc")),
                List.of(candidates),
                3);
    }

    private static final Candidate GUESS = Trials.candidate("guess", "majority");
    private static final Candidate NEAR_3 = Trials.candidate("near/3", "nearest", "neighbours=3");
    private static final Candidate NEAR_9 = Trials.candidate("near/9", "nearest", "neighbours=9");
    private static final Candidate LOGIT = Trials.candidate("logit", "logistic");

    @Test
    void unitsAreFamiliesOnSplitsInOrder() {
        Comparison c = comparison(GUESS, NEAR_3, NEAR_9);
        assertThat(c.units()).hasSize(2 * 2 * 4 * 2);
        assertThat(c.units().get(5)).isEqualTo(new Unit(5, 0, 0, 2, 1));
        assertThat(c.families()).extracting(Family::name).containsExactly("guess", "near");
    }

    private static String content(Fit fit) {
        StringBuilder text = new StringBuilder(fit.candidate() + "/" + fit.size() + fit.message());
        fit.result().ifPresent(r -> {
            text.append(r);
            Outcomes o = r.outcomes();
            for (int i = 0; i < o.size(); i++) {
                text.append(o.row(i)).append(':').append(Double.toHexString(o.probability(i, 1)));
            }
        });
        return text.toString();
    }

    @Test
    void threadsAndTheChoiceOfUnitsChangeNoBit() {
        Comparison c = comparison(GUESS, NEAR_3, NEAR_9, LOGIT);
        List<String> one = Trials.fits(c, 1).stream().map(RunnerTest::content).toList();
        assertThat(Trials.fits(c, 3).stream().map(RunnerTest::content)).isEqualTo(one);
        List<Fit> shard = new ArrayList<>();
        List<Unit> odd = c.units().stream().filter(u -> u.number() % 2 == 1).toList();
        Runner.on(Parallel.of(1)).run(c, odd, (unit, fits) -> shard.addAll(fits));
        assertThat(one).containsAll(shard.stream().map(RunnerTest::content).toList());
    }

    @Test
    void trainingScoresAreThoseOfTheRowsLearnedFromEachAsOftenAsItCounts() {
        DataSet data = Trials.data("one", 1, 60, 1, 0);
        Task task = Trials.task(data, new OutOfBag(6, true), "accuracy");
        Candidate one = Trials.candidate("near/1", "nearest", "neighbours=1");
        Candidate five = Trials.candidate("near/5", "nearest", "neighbours=5");
        Comparison plain = new Comparison(List.of(task), List.of(GUESS, one, five), 3);
        List<Fit> fits = Trials.fits(plain.withTrainScores(true), 2);
        assertThat(fits.stream().map(RunnerTest::content))
                .isEqualTo(
                        Trials.fits(plain, 1).stream().map(RunnerTest::content).toList());
        for (Fit fit : fits) {
            Rows train = task.splits().at(fit.repeat(), fit.fold()).train();
            double learned = fit.result().orElseThrow().trainScores()[0];
            if (fit.candidate() == 0) {
                int[] cases = new int[2];
                for (int i = 0; i < train.size(); i++) {
                    cases[data.target(train.row(i))] += train.count(i);
                }
                assertThat(learned).isEqualTo((double) Math.max(cases[0], cases[1]) / 60);
            } else if (fit.candidate() == 1) {
                assertThat(learned).isEqualTo(1);
            } else {
                assertThat(learned).isBetween(0.6, 0.99);
            }
        }
    }

    @Test
    void addingACandidateChangesNoOther() {
        List<Fit> few = Trials.fits(comparison(LOGIT), 2);
        List<Fit> more = Trials.fits(comparison(GUESS, LOGIT), 2).stream()
                .filter(f -> f.candidate() == 1)
                .toList();
        assertThat(more.stream().map(f -> content(f).substring(1)))
                .isEqualTo(few.stream().map(f -> content(f).substring(1)).toList());
    }

    @Test
    void everyRowIsTestedOncePerRepeatOnTheSameFoldsForAll() {
        for (Fit fit : Trials.fits(comparison(GUESS, LOGIT), 2)) {
            Outcomes o = fit.result().orElseThrow().outcomes();
            Set<Integer> rows = new HashSet<>();
            for (int i = 0; i < o.size(); i++) {
                assertThat(rows.add(o.row(i))).isTrue();
                assertThat(o.fold(i)).isEqualTo(fit.fold());
            }
        }
    }

    @Test
    void testRowsNeverReachATrainingSide() {
        DataSet clean = Trials.data("leak", 4, 50, 1, 0);
        Task task = Trials.task(clean, SPLITS, "accuracy");
        int[] tested = task.splits().at(0, 0).test().toArray();
        int[] labels = clean.targets();
        Arrays.stream(tested).forEach(i -> labels[i] = 1 - labels[i]);
        double[] a = clean.features().columns().get(0).match(Numbers::toArray, c -> new double[0]);
        double[] trained = a.clone();
        DataSet flipped = DataSet.of("leak", clean.features(), clean.classes(), labels);
        for (Candidate candidate : List.of(NEAR_3, LOGIT, Trials.candidate("bayes", "naive-bayes"))) {
            Fit before = new Fitter(new Comparison(List.of(task), List.of(candidate), 1))
                    .fit(new Unit(0, 0, 0, 0, 0))
                    .get(0);
            Fit after = new Fitter(new Comparison(
                            List.of(new Task(flipped, task.splits(), task.metrics())), List.of(candidate), 1))
                    .fit(new Unit(0, 0, 0, 0, 0))
                    .get(0);
            for (int i = 0; i < tested.length; i++) {
                // The start that folds share comes from all rows; where it leads does not.
                assertThat(after.result().orElseThrow().outcomes().probability(i, 0))
                        .isCloseTo(
                                before.result().orElseThrow().outcomes().probability(i, 0),
                                within(candidate.equals(NEAR_3) ? 0 : 1e-9));
            }
        }
        assertThat(trained).containsExactly(a);
    }

    @Test
    void aFailedFitIsRecordedAndTheRunGoesOn() {
        ClassifierKind refusing = new ClassifierKind("refusing", "", List.of(), s -> {
            keenfold.core.classify.Classifier classifier = Mockito.mock(keenfold.core.classify.Classifier.class);
            Mockito.when(classifier.needs()).thenReturn(keenfold.core.prepare.Needs.NOTHING);
            Mockito.when(classifier.fit(Mockito.any(), Mockito.any()))
                    .thenThrow(
                            new FitFailure("no luck"), new OutOfMemoryError("heap"), new IllegalStateException("odd"));
            return classifier;
        });
        Candidate bad = new Candidate("bad", "bad", refusing, Settings.none(), List.of());
        List<Fit> fits = Trials.fits(comparison(bad, GUESS), 1);
        assertThat(fits).hasSize(32);
        assertThat(fits).filteredOn(f -> f.candidate() == 0).allMatch(Fit::failed);
        assertThat(fits).filteredOn(f -> f.candidate() == 1).noneMatch(Fit::failed);
        assertThat(fits.get(0).message()).isEqualTo("no luck");
    }

    @Test
    void aFailureOfTheSinkEndsTheRun() {
        Comparison c = comparison(GUESS);
        AtomicInteger taken = new AtomicInteger();
        assertThatThrownBy(() -> Runner.on(Parallel.of(2)).run(c, c.units(), (unit, fits) -> {
                    if (taken.incrementAndGet() == 3) {
                        throw new IllegalStateException("full");
                    }
                }))
                .hasMessage("full");
        assertThat(taken.get()).isEqualTo(3);
    }

    @Test
    void stopLeavesOutWhatHasNotBegun() {
        Comparison c = comparison(GUESS);
        Runner runner = Runner.on(Parallel.of(1));
        List<Unit> done = new ArrayList<>();
        runner.run(c, c.units(), (unit, fits) -> {
            done.add(unit);
            if (done.size() == 4) {
                runner.stop();
            }
        });
        assertThat(done).hasSize(4);
    }

    @Test
    void aRankMetricWithoutMixedFoldsIsRefused() {
        DataSet data = DataSet.of(
                "d",
                new Table(6, List.of(Numbers.of("x", 1, 2, 3, 4, 5, 6))),
                new Classes(List.of("n", "y"), 1),
                new int[] {1, 0, 0, 0, 0, 0});
        assertThatThrownBy(() -> Trials.task(data, new KFold(6, 1, true), "auc"))
                .hasMessageContaining("only 0 % of the rows lie in folds that hold several classes");
        assertThat(Trials.task(data, new KFold(6, 1, true), "log-loss").metrics())
                .hasSize(1);
    }
}
