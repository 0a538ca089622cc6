package keenfold.core.run.result;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.metric.Outcomes;

/**
 * One candidate trained and tested on one split.
 *
 * @param task index of the data set
 * @param candidate index of the candidate
 * @param repeat 0-based repeat
 * @param fold 0-based fold
 * @param times what it cost
 * @param size effective number of parameters; NaN if it failed
 * @param result scores and predictions, empty if it failed
 * @param message why it failed, empty if it did not
 * @param making what was chosen and shared
 */
public record Fit(
        int task,
        int candidate,
        int repeat,
        int fold,
        Times times,
        double size,
        Optional<Result> result,
        String message,
        FitDetails making) {
    /** Returns a fit of which nothing was chosen or shared. */
    public Fit(
            int task,
            int candidate,
            int repeat,
            int fold,
            Times times,
            double size,
            Optional<Result> result,
            String message) {
        this(task, candidate, repeat, fold, times, size, result, message, FitDetails.PLAIN);
    }

    /** Returns the same fit of a data set of another index. */
    public Fit ofTask(int other) {
        return new Fit(other, candidate, repeat, fold, times, size, result, message, making);
    }

    /** Returns the same fit of a candidate of another index. */
    public Fit ofCandidate(int other) {
        return new Fit(task, other, repeat, fold, times, size, result, message, making);
    }

    /** Returns the same fit with another result. */
    public Fit withResult(Optional<Result> other) {
        return new Fit(task, candidate, repeat, fold, times, size, other, message, making);
    }

    /** Returns whether it failed. */
    public boolean failed() {
        return result.isEmpty();
    }

    /** Returns why it failed in one line: a message may go on with what a program wrote, whose last line tells most. */
    public String reason() {
        List<String> lines = message.lines().toList();
        return lines.size() < 2
                ? message
                : lines.get(0) + " (" + lines.get(lines.size() - 1).strip() + ")";
    }

    /**
     * Seconds; those of a failed fit run until it failed.
     *
     * @param trainWall training, by the clock, steps included
     * @param trainCpu training, of the processor
     * @param predictWall prediction of the test rows, by the clock
     * @param predictCpu prediction, of the processor
     */
    public record Times(double trainWall, double trainCpu, double predictWall, double predictCpu) {}

    /** Scores and predictions of a fit that did not fail. */
    public static final class Result {
        private final Outcomes outcomes;
        private final double[] scores;
        private final double[] trainScores;

        /** Makes a result of test outcomes and one score per metric, NaN where undefined. */
        public Result(Outcomes outcomes, double[] scores) {
            this(outcomes, scores, new double[0]);
        }

        /**
         * Makes a result that knows how the fit does on the rows it learned from.
         *
         * @param trainScores one per metric, or none
         */
        public Result(Outcomes outcomes, double[] scores, double[] trainScores) {
            this.outcomes = outcomes;
            this.scores = scores.clone();
            this.trainScores = trainScores.clone();
        }

        /** Returns the predictions of the test rows. */
        public Outcomes outcomes() {
            return outcomes;
        }

        /** Returns the score under metric {@code m} of the task, NaN if it is undefined. */
        public double score(int m) {
            return scores[m];
        }

        /** Returns the scores, in the order of the task's metrics. */
        public double[] scores() {
            return scores.clone();
        }

        /** Returns the scores on the training rows, in the order of the task's metrics; empty if they were not asked for. */
        public double[] trainScores() {
            return trainScores.clone();
        }

        @Override
        public String toString() {
            return Arrays.toString(scores);
        }
    }
}
