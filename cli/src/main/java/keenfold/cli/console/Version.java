package keenfold.cli.console;

import keenfold.study.Program;
import picocli.CommandLine.IVersionProvider;

/** The version of this program, the commit that it was built from, and the Java that it runs on. */
public final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() {
        return new String[] {Program.version(), Program.java()};
    }
}
