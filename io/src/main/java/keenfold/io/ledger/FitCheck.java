package keenfold.io.ledger;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Checks;
import keenfold.core.metric.Metric;
import keenfold.core.run.Halves;
import keenfold.core.run.Halving;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import keenfold.core.split.Splits;
import keenfold.io.ledger.table.Blobs;
import keenfold.io.ledger.table.Checksum;
import keenfold.io.ledger.table.FitRow;
import keenfold.io.plan.Plan;

/** Whether fits, as they stand in their rows, agree with their checksums. */
final class FitCheck {
    private final Plan plan;
    private final List<Task> tasks;
    private final Map<List<Integer>, int[][][]> ofHalves = new HashMap<>();
    private final Map<List<Integer>, Integer> tested = new HashMap<>();

    FitCheck(Plan plan, List<Task> tasks) {
        this.plan = plan;
        this.tasks = List.copyOf(tasks);
    }

    /** Whether a fit is what its checksum was made of; one of an old ledger gets the checksum of this format. */
    boolean sound(FitRow row, boolean old) {
        if (row.task < 0
                || row.task >= tasks.size()
                || row.candidate < 0
                || row.candidate >= plan.candidates().size()) {
            return false;
        }
        try {
            List<Metric> metrics = tasks.get(row.task).metrics();
            double[] test = row.scores("test", metrics);
            double[] train = row.scores("train", metrics);
            int classes = tasks.get(row.task).data().classes().count();
            boolean none = row.probabilities.length == 0;
            int rows = none ? 0 : tested(row);
            double[] stored = none ? new double[0] : Blobs.doubles(row.probabilities, rows * (classes - 1));
            double[] predictions = Blobs.followed(stored, row.labels.map(b -> Blobs.ints(b, rows)));
            row.found = Checksum.ofFit(row.timeless(), test, predictions, train);
            long now = Checksum.ofFit(row.columns, test, predictions, train);
            if (old && (!row.ok || Checksum.ofFormatOne(test, predictions, train) == row.crc)) {
                row.crc = now;
            }
            return now == row.crc;
        } catch (IllegalArgumentException | IndexOutOfBoundsException e) {
            return false;
        }
    }

    /** How many rows a fit was tested on. */
    private int tested(FitRow row) {
        if (row.ofHalf()) {
            return ofHalf(row)[row.repeat][row.fold].length;
        }
        return tested.computeIfAbsent(List.of(row.task, row.repeat, row.fold), k -> {
            Splits splits = tasks.get(row.task).splits();
            return splits.at(row.repeat, row.fold).test().toArray().length;
        });
    }

    private int[][][] ofHalf(FitRow row) {
        Checks.that(row.repeat >= 0 && row.repeat < Halving.MOST_REPEATS, "no half has repeat %d", row.repeat);
        // The plan may have asked for more repeats before.
        int repeats = Math.max(row.repeat + 1, plan.evidence().halving().repeats());
        return ofHalves.computeIfAbsent(List.of(row.task, row.resample, repeats), k -> {
            KFold scheme = plan.division()
                    .scheme()
                    .filter(KFold.class::isInstance)
                    .map(KFold.class::cast)
                    .orElseThrow(() -> new IllegalArgumentException("halves without folds"));
            return Halves.testRows(
                    tasks.get(row.task), scheme, repeats, plan.seed().orElse(0L), row.resample);
        });
    }
}
