package keenfold.cli;

import java.util.Optional;
import picocli.CommandLine.IVersionProvider;

/** The version of this program and of the Java it runs on. */
final class Version implements IVersionProvider {
    @Override
    public String[] getVersion() {
        return new String[] {
            "keenfold "
                    + Optional.ofNullable(Version.class.getPackage().getImplementationVersion())
                            .orElse("(unpacked classes)"),
            "Java " + Runtime.version()
        };
    }
}
