package keenfold.cli.console;

import picocli.CommandLine.Option;

/** In which form results go to standard output. */
public final class Streams {
    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "a CSV table instead of text")
    private boolean csv;

    public boolean json() {
        return json;
    }

    public boolean csv() {
        return csv;
    }

    /** Whether they are for another program. */
    public boolean machine() {
        return json || csv;
    }
}
