package keenfold.cli.console;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.TableLocation;
import keenfold.io.table.parse.MixedColumnException;
import keenfold.io.table.parse.TableFormat;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Which table a command reads, and how. */
public final class TableOptions {
    @Spec(Spec.Target.MIXEE)
    private CommandSpec command;

    @Parameters(
            paramLabel = "DATA",
            description = "delimited text with a line of column names, or JSON Lines, perhaps gzipped; FILE.db#TABLE of"
                    + " SQLite; - for standard input")
    private String data = "";

    @Option(
            names = "--text",
            paramLabel = "COL",
            description = "read a column as categories (A..B: all from A to B; all: every one); may be repeated")
    private List<String> text = new ArrayList<>();

    @Option(names = "--separator", paramLabel = "C", description = "between fields: , ; | or tab (detected)")
    private Optional<String> separator = Optional.empty();

    @Option(names = "--decimal", paramLabel = "C", description = "before decimals: . or , (a point)")
    private Optional<String> decimal = Optional.empty();

    @Option(names = "--encoding", paramLabel = "NAME", description = "of the text, such as windows-1252 (UTF-8)")
    private Optional<String> encoding = Optional.empty();

    @Option(
            names = "--missing",
            paramLabel = "TEXT",
            description = "stands for a missing value too, beside an empty field, NA, NaN and ?; may be repeated")
    private List<String> missing = new ArrayList<>();

    public String data() {
        return data;
    }

    public TableLocation location() {
        return TableLocation.of(data, List.of(Path.of("")));
    }

    public List<String> text() {
        return text;
    }

    private Set<String> missing() {
        // One code more leaves what else is missing as it was: a column of numbers with NA in it would become
        // categories.
        Set<String> all = new HashSet<>(TableFormat.MISSING);
        all.addAll(missing);
        return all;
    }

    public TableFormat format() {
        return OptionValues.checked(
                command,
                () -> new TableFormat(
                        separator.map(PlanReader::separator),
                        missing(),
                        new HashSet<>(text),
                        Set.of(),
                        decimal.map(PlanReader::decimal).orElse('.'),
                        encoding.map(PlanReader::encoding)));
    }

    /**
     * The format in which a table can be read: columns of numbers in which a few words stand are read as categories, with a
     * notice.
     *
     * @param reading reads the table in a format
     */
    public TableFormat readable(TableFormat format, Consumer<TableFormat> reading, Console console, Common common) {
        try {
            reading.accept(format);
            return format;
        } catch (MixedColumnException e) {
            console.notices(
                    e.columns().stream()
                            .map(c -> Notice.plain("words-among-numbers", c.place() + ": " + c.asText())
                                    .with("column", c.name()))
                            .toList(),
                    common);
            return format.withText(e.columns().stream().map(c -> c.name()).collect(Collectors.toSet()));
        }
    }
}
