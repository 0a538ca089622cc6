package keenfold.cli.console;

import java.io.Writer;
import keenfold.io.export.SpreadsheetWriter;
import picocli.CommandLine.Option;

/** What a CSV table is meant for. */
public final class TableUse {
    @Option(
            names = "--for",
            paramLabel = "USE",
            description = "spreadsheet: texts that a spreadsheet would take for formulas get an apostrophe before them"
                    + " (programs: exact to the character)")
    private Use use = Use.programs;

    /** Who reads a table, spelt as on the command line. */
    enum Use {
        programs,
        spreadsheet
    }

    /** Returns what a CSV table is to be written to. */
    public Writer writer(Writer out) {
        return use == Use.spreadsheet ? new SpreadsheetWriter(out) : out;
    }

    public boolean isExact() {
        return use == Use.programs;
    }
}
