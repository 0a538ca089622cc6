package keenfold.cli.console;

import keenfold.core.data.Checks;
import keenfold.core.run.Parallel;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** How many threads work at once; never changes a result. */
public final class Threads {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec command;

    @Option(
            names = "--threads",
            paramLabel = "N",
            description = "threads to use (all processors); results do not depend on it")
    private int threads = Runtime.getRuntime().availableProcessors();

    public int count() {
        return OptionValues.checked(command, () -> Checks.atLeast("--threads", threads, 1));
    }

    public Parallel parallel() {
        return Parallel.of(count());
    }
}
