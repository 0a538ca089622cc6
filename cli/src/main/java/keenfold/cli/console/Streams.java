package keenfold.cli.console;

import picocli.CommandLine.Option;

/** In which form results go to standard output. */
public final class Streams {
    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "a CSV table instead of text")
    private boolean csv;

    @Option(names = "--markdown", description = "tables in Markdown instead of text")
    private boolean markdown;

    @Option(names = "--latex", description = "tables in LaTeX (booktabs) instead of text")
    private boolean latex;

    public boolean json() {
        return json;
    }

    public boolean csv() {
        return csv;
    }

    public boolean markdown() {
        return markdown;
    }

    public boolean latex() {
        return latex;
    }

    /** Whether they are for another program, or for a paper. */
    public boolean machine() {
        return json || csv || markdown || latex;
    }
}
