package keenfold.cli.console;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import keenfold.io.table.DataSpec;
import picocli.CommandLine.Option;

/** What the columns of a table are for. */
public final class ColumnRoles {
    @Option(names = "--target", required = true, paramLabel = "COL", description = "the column of the classes")
    private String target = "";

    @Option(
            names = "--positive",
            paramLabel = "LABEL",
            description = "the class that one-sided metrics speak of (the rarer of two)")
    private Optional<String> positive = Optional.empty();

    @Option(names = "--groups", paramLabel = "COL", description = "rows with the same value stay on one side")
    private Optional<String> groups = Optional.empty();

    @Option(names = "--weights", paramLabel = "COL", description = "whole numbers: for how many cases a row counts")
    private Optional<String> weights = Optional.empty();

    @Option(
            names = "--leave-out",
            paramLabel = "COL",
            description = "a column to leave out, or A..B for all from A to B; may be repeated")
    private List<String> leaveOut = new ArrayList<>();

    /** Returns which table is to be read, and what its columns are for. */
    public DataSpec of(TableOptions table, Optional<String> order) {
        return new DataSpec(
                table.data(),
                DataSpec.stem(table.data()),
                target,
                positive,
                groups,
                order,
                weights,
                leaveOut,
                table.format());
    }
}
