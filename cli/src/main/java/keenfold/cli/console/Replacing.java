package keenfold.cli.console;

import java.nio.file.Path;
import java.util.Collection;
import keenfold.io.OutputFile;
import picocli.CommandLine.Option;

/** Whether a file that is there may be replaced. */
public final class Replacing {
    @Option(
            names = "--force",
            description = "replace a file even if Keen Fold did not write it; never one that is read, nor a ledger")
    private boolean force;

    public boolean force() {
        return force;
    }

    /**
     * Refuses an output that must not be written; to be called before anything is computed.
     *
     * @throws keenfold.io.InputException if it must not
     */
    public void require(Path output, OutputFile.Kind kind, Collection<Path> inputs) {
        OutputFile.require(output, kind, inputs, force);
    }
}
