package keenfold.cli;

import picocli.CommandLine.Option;

/** In which form results go to standard output. */
final class Streams {
    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "a CSV table instead of text")
    private boolean csv;

    boolean json() {
        return json;
    }

    boolean csv() {
        return csv;
    }

    /** Whether they are for another program. */
    boolean machine() {
        return json || csv;
    }
}
