package keenfold.study.plan;

import java.nio.file.Path;
import java.util.List;
import keenfold.core.run.candidate.Candidate;
import keenfold.io.InputException;
import keenfold.io.command.CommandClassifier;
import keenfold.io.command.CommandKind;
import keenfold.io.plan.Plan;

/** Programs of the user's run only where that was allowed, since a plan may come from somebody else. */
public final class ProgramsAllowed {
    private ProgramsAllowed() {}

    /**
     * Refuses a plan whose candidates start programs, unless it is allowed.
     *
     * @param file of the plan
     */
    public static void require(Plan plan, Path file, boolean allowed) {
        for (Candidate candidate : plan.candidates()) {
            List<CommandClassifier> programs = CommandKind.startedBy(candidate);
            if (!programs.isEmpty() && !allowed) {
                throw new InputException(
                        file.toString(),
                        "candidate \"" + candidate.name() + "\" runs a program: "
                                + programs.get(0).text()
                                + "; if you trust it, say so with --allow-commands");
            }
        }
    }
}
