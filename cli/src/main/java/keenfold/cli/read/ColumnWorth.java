package keenfold.cli.read;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import keenfold.cli.plan.LoadedPlan;
import keenfold.core.infer.MetricInference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.Importance;
import keenfold.core.run.Parallel;
import keenfold.io.InputException;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.Plan;

/**
 * What columns are worth to some candidates of a ledger, which are trained anew for it.
 *
 * @param columns names of the data set's columns
 * @param drops one per candidate; those that would start programs of the user's are left out
 * @param programs the names of those
 */
record ColumnWorth(List<String> columns, List<Importance.Drops> drops, List<String> programs) {
    ColumnWorth {
        programs = List.copyOf(programs);
        columns = List.copyOf(columns);
        drops = List.copyOf(drops);
    }

    /**
     * Trains them on the splits of some repeats.
     *
     * @param ledger beside which the data are looked for
     * @param data another folder to look in
     * @throws keenfold.io.InputException if the data are not there, or not the ledger's
     */
    static ColumnWorth of(
            Plan plan,
            Path ledger,
            Optional<Path> data,
            MetricInference metric,
            List<Integer> candidates,
            int repeats,
            Parallel parallel) {
        LoadedPlan job = LoadedPlan.ofLedger(plan, ledger, data);
        AlignedPredictions panel = metric.panel();
        int task = job.index(panel.task().data().name());
        List<Integer> shown = candidates.stream()
                .filter(c -> CommandKind.startedBy(panel.candidates().get(c)).isEmpty())
                .toList();
        if (shown.isEmpty()) {
            throw new InputException(
                    ledger.toString(),
                    "no candidate is left of which the columns could be looked at: those that start programs are not"
                            + " trained anew, nor are those of which too many fits failed");
        }
        List<String> programs = candidates.stream()
                .filter(c -> !shown.contains(c))
                .map(c -> panel.candidates().get(c).name())
                .toList();
        return new ColumnWorth(
                job.comparison().tasks().get(task).data().features().names(),
                Importance.of(job.comparison(), task, shown, metric.metric(), repeats, parallel),
                programs);
    }

    /** Says which candidates were left out, if any were. */
    List<String> notices() {
        return leftOut(programs);
    }

    /** Says that candidates were left out because they start programs, if there are any. */
    static List<String> leftOut(List<String> programs) {
        return programs.isEmpty()
                ? List.of()
                : List.of("left out, since training them would start programs: " + String.join(", ", programs));
    }
}
