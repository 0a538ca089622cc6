package keenfold.study.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import keenfold.study.Study;
import keenfold.study.progress.Watcher;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PlanRunTest {
    @TempDir
    private Path folder;

    /** Notes what a run tells. */
    private static final class Recorder implements Watcher {
        private final List<String> doing = new ArrayList<>();
        private final List<Double> left = new ArrayList<>();
        private int units;
        private int steps;

        @Override
        public void doing(String what) {
            doing.add(what);
        }

        @Override
        public Steps steps(int count, String did, String ofWhat) {
            units = count;
            return new Steps() {
                @Override
                public void step() {
                    throw new AssertionError("every step knows what is left");
                }

                @Override
                public void step(double secondsLeft) {
                    steps++;
                    left.add(secondsLeft);
                }
            };
        }
    }

    private Recorder run(String ledger, int repeats) throws Exception {
        Files.copy(
                Path.of("../demo/swarm.csv"),
                folder.resolve("swarm.csv"),
                java.nio.file.StandardCopyOption.REPLACE_EXISTING);
        Files.writeString(
                folder.resolve("plan.yaml"),
                """
                keenfold: 1
                data: [{file: swarm.csv, target: swarmed}]
                splits: {folds: 5, repeats: %d}
                seed: 3
                metrics: [accuracy]
                candidates:
                  guess: {classifier: majority}
                  tree: {classifier: tree, depth: {vary: [1, 2]}}
                  woods: {classifier: forest, trees: 5}
                evidence: {halves: 2}
                """
                        .formatted(repeats));
        Recorder recorder = new Recorder();
        Study.run(folder.resolve("plan.yaml"), folder.resolve(ledger), recorder);
        return recorder;
    }

    @Test
    void oneFitOfEachIsTimedAndEveryStepSaysWhatIsLeft() throws Exception {
        Recorder recorder = run("a.kfl", 2);
        assertThat(recorder.doing).contains("timing one fit of each candidate");
        assertThat(recorder.steps).isEqualTo(recorder.units).isGreaterThan(30);
        // The steps of the timed fits are made up for without a time; which those are depends on who is first.
        assertThat(recorder.left.stream().dropWhile(s -> s.isNaN()))
                .isNotEmpty()
                .allMatch(s -> s >= 0);
        assertThat(recorder.left.get(recorder.steps - 1)).isZero();
    }

    /** Timing changes only the order in which fits are made. */
    @Test
    void goingOnTimesOnlyWhatIsLeftAndEndsAtTheSameScores() throws Exception {
        run("a.kfl", 2);
        Recorder more = run("a.kfl", 3);
        run("b.kfl", 3);
        assertThat(more.steps).isEqualTo(more.units);
        assertThat(means("a.kfl")).hasSize(4).isEqualTo(means("b.kfl"));
    }

    private List<Double> means(String ledger) {
        return Study.open(folder.resolve(ledger)).scores().table().rows().stream()
                .map(r -> r.number("mean"))
                .toList();
    }
}
