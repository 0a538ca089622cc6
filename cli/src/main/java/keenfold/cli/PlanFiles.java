package keenfold.cli;

import java.nio.file.Path;
import java.util.List;
import keenfold.io.plan.Plan;
import keenfold.io.table.DataSpec;

/** The files that a plan names, seen from another folder. */
final class PlanFiles {
    private PlanFiles() {}

    /** Returns the plan with its files, so far relative to the working folder, named relative to another one. */
    static Plan relativeTo(Plan plan, Path folder) {
        List<DataSpec> moved = plan.data().stream()
                .map(d -> new DataSpec(
                        folder.toAbsolutePath()
                                .normalize()
                                .relativize(Path.of(d.file()).toAbsolutePath().normalize())
                                .toString()
                                .replace('\\', '/'),
                        d.name(),
                        d.target(),
                        d.positive(),
                        d.groups(),
                        d.leaveOut(),
                        d.format()))
                .toList();
        return new Plan(
                plan.note(),
                moved,
                plan.splits(),
                plan.seed(),
                plan.metrics(),
                plan.primary(),
                plan.candidates(),
                plan.evidence(),
                plan.rule());
    }
}
