package keenfold.study.report;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Notice;
import keenfold.core.infer.Inference;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.run.Importance;
import keenfold.core.run.Parallel;
import keenfold.io.InputException;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.Plan;
import keenfold.results.Evaluation;
import keenfold.results.Look;
import keenfold.results.Looks;
import keenfold.study.plan.LoadedPlan;

/**
 * Trains candidates of a ledger anew, to see what columns are worth to them; those that start programs of the user's are left
 * out.
 *
 * @param ledger beside which the data are looked for
 * @param data another folder to look in
 * @param repeats on the splits of so many of them
 */
public record ColumnTraining(Plan plan, Path ledger, Optional<Path> data, int repeats, Parallel parallel) {
    /**
     * Returns what columns are worth on every data set.
     *
     * @param candidates those looked at; all if none is named
     * @throws InputException if the data are not there, or not the ledger's
     */
    public Look look(Evaluation evaluation, String metric, List<String> candidates) {
        List<Looks.ColumnWorth> worth = new ArrayList<>();
        List<Notice> notices = new ArrayList<>();
        for (Inference inference : evaluation.inferences()) {
            AlignedPredictions panel = inference.panel();
            List<Integer> shown = panel.admitted().stream()
                    .filter(c -> candidates.isEmpty() || candidates.contains(Evaluation.name(inference, c)))
                    .toList();
            worth.add(worth(inference, metric, shown));
            notices.addAll(leftOut(panel, shown));
        }
        return Looks.columns(evaluation, metric, worth, notices);
    }

    /** Trains some candidates of one data set. */
    Looks.ColumnWorth worth(Inference inference, String metric, List<Integer> candidates) {
        LoadedPlan job = LoadedPlan.ofLedger(plan, ledger, data);
        AlignedPredictions panel = inference.panel();
        int task = job.index(panel.task().data().name());
        List<Integer> shown = candidates.stream().filter(c -> !starts(panel, c)).toList();
        if (shown.isEmpty()) {
            throw new InputException(
                    ledger.toString(),
                    "no candidate is left of which the columns could be looked at: those that start programs are not"
                            + " retrained, nor are those of which too many fits failed");
        }
        return new Looks.ColumnWorth(
                inference,
                job.comparison().tasks().get(task).data().features().names(),
                Importance.of(
                        job.comparison(), task, shown, inference.metric(metric).metric(), repeats, parallel));
    }

    private static boolean starts(AlignedPredictions panel, int candidate) {
        return !CommandKind.startedBy(panel.candidates().get(candidate)).isEmpty();
    }

    /** Says which candidates were left out because they start programs, if any were. */
    public static List<Notice> leftOut(AlignedPredictions panel, List<Integer> candidates) {
        List<String> programs = candidates.stream()
                .filter(c -> starts(panel, c))
                .map(c -> panel.candidates().get(c).name())
                .toList();
        return programs.isEmpty()
                ? List.of()
                : List.of(Notice.plain(
                                "programs-left-out",
                                "left out, since training them would start programs: " + String.join(", ", programs))
                        .with("candidates", programs));
    }
}
