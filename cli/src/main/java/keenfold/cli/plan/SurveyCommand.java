package keenfold.cli.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.cli.console.TableOptions;
import keenfold.cli.console.Threads;
import keenfold.core.data.Breakdown;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnProfile;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suspicion;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.CsvExport;
import keenfold.io.export.JsonLook;
import keenfold.io.table.TableReader;
import keenfold.io.table.Variants;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.view.text.SurveyView;
import keenfold.view.text.Wrap;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** A first look at a table. */
@Command(
        name = "survey",
        description = "Shows what a table holds: every column with its kind, missing values and spread; with --target"
                + " the class balance, with --by the classes broken down by a column; and what is suspicious.")
public final class SurveyCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Mixin
    private TableOptions source = new TableOptions();

    @Option(names = "--target", paramLabel = "COL", description = "the column of the classes")
    private Optional<String> target = Optional.empty();

    @Option(names = "--by", paramLabel = "COL", description = "break the classes down by this column; needs --target")
    private Optional<String> by = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Option(names = "--csv", description = "the columns (with --by: the breakdown) as a CSV table instead of text")
    private boolean csv;

    @Mixin
    private Threads threads = new Threads();

    @Mixin
    private Common common = new Common();

    public SurveyCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        if (by.isPresent() && target.isEmpty()) {
            throw new ParameterException(command.commandLine(), "--by breaks classes down; name them with --target");
        }
        // Not its name, for which standard input would be read first.
        console.doing("reading " + source.data(), common);
        ReadTable readTable = TableReader.readAsItIs(
                source.location(), source.format().withText(target.map(Set::of).orElse(Set.of())));
        List<ReadColumn> read = readTable.columns();
        Table table = readTable.table();
        target.ifPresent(t -> column(table, t));
        Optional<Categories> classes = target.map(t -> labels(column(table, t)));
        List<ColumnProfile> profiles = threads.parallel()
                .map(read.size(), i -> ColumnProfile.of(read.get(i).column()));
        List<String> dates = read.stream()
                .filter(c -> c.kind() == ReadColumn.Kind.DATE)
                .map(c -> c.column().name())
                .toList();
        Optional<Breakdown> breakdown = by.map(b -> Breakdown.of(
                classes.orElseThrow(),
                column(table, b),
                dates.contains(b) ? Optional.of(d -> LocalDate.ofEpochDay(d).toString()) : Optional.empty()));
        List<Suspicion> suspicions = Suspicion.in(table, profiles, dates, classes);
        if (json) {
            List<String> kinds = read.stream()
                    .map(c -> c.kind().name().toLowerCase(Locale.ROOT))
                    .toList();
            JsonLook.survey(
                    source.data(),
                    profiles,
                    kinds,
                    classes.map(ColumnProfile::of),
                    breakdown,
                    suspicions,
                    console.writer());
        } else if (csv) {
            breakdown.ifPresentOrElse(this::csv, () -> csv(profiles, read));
        } else {
            List<String> refused = read.stream()
                    .filter(c -> c.disguised().isPresent()
                            && !source.text().contains(c.column().name()))
                    .map(c -> c.column().name())
                    .toList();
            text(profiles, dates, refused, classes, breakdown);
        }
        String hint = TableReader.hintOfOneColumn(table.names());
        if (!hint.isEmpty()) {
            console.notices(List.of("there is a single column" + hint), common);
        }
        console.notices(readTable.notices(), common);
        console.notices(strays(read), common);
        read.forEach(c -> console.notices(c.column().match(n -> List.<String>of(), Variants::in), common));
        target.flatMap(t -> readTable.missingTexts(t).map(m -> "column \"" + t + "\": " + m))
                .ifPresent(n -> console.notices(List.of(n), common));
        console.notices(suspicions.stream().map(SurveyView::words).toList(), common);
        return Exit.DONE;
    }

    private Column column(Table table, String name) {
        return table.column(name)
                .orElseThrow(() -> new InputException(
                        source.data(),
                        "there is no column \"" + name + "\"" + Suggestion.hint(name, table.names())
                                + TableReader.hintOfOneColumn(table.names())));
    }

    /** A target's labels: its categories, or its numbers as text. */
    private static Categories labels(Column column) {
        return column.match(SurveyCommand::asText, c -> c);
    }

    private static Categories asText(Numbers column) {
        String[] labels = new String[column.rows()];
        for (int i = 0; i < labels.length; i++) {
            if (!column.missing(i)) {
                labels[i] = CsvExport.cell(column.get(i));
            }
        }
        return Categories.of(column.name(), labels);
    }

    private void text(
            List<ColumnProfile> profiles,
            List<String> dates,
            List<String> refused,
            Optional<Categories> classes,
            Optional<Breakdown> breakdown) {
        console.out()
                .println(console.ink(common)
                        .strong(String.format(
                                Locale.ROOT,
                                "%s: %d rows, %d columns",
                                Wrap.visible(source.name()),
                                profiles.get(0).rows(),
                                profiles.size())));
        console.out().println();
        if (breakdown.isEmpty()) {
            console.out().print(SurveyView.columns(profiles, dates, refused, console.ink(common)));
        }
        classes.ifPresent(c -> console.out().print(SurveyView.classes(ColumnProfile.of(c), console.ink(common))));
        breakdown.ifPresent(b -> console.out().print(SurveyView.breakdown(b, console.ink(common))));
    }

    private List<String> strays(List<ReadColumn> read) {
        List<String> said = new ArrayList<>();
        for (ReadColumn c : read) {
            String name = c.column().name();
            if (!source.text().contains(name)) {
                said.addAll(c.oddities(source.data()));
            }
        }
        return said;
    }

    private void csv(Breakdown breakdown) {
        List<String> header = new ArrayList<>(List.of(breakdown.column()));
        header.addAll(breakdown.classes());
        CsvExport.table(
                header,
                breakdown.parts().stream()
                        .map(p -> {
                            List<String> line = new ArrayList<>(List.of(p.label()));
                            p.counts().forEach(c -> line.add(Integer.toString(c)));
                            return line;
                        })
                        .toList(),
                console.writer());
    }

    private void csv(List<ColumnProfile> profiles, List<ReadColumn> read) {
        List<List<String>> rows = new ArrayList<>();
        for (int i = 0; i < profiles.size(); i++) {
            ColumnProfile p = profiles.get(i);
            List<String> line = new ArrayList<>(List.of(
                    p.name(),
                    read.get(i).kind().name().toLowerCase(Locale.ROOT),
                    Integer.toString(p.missing()),
                    Integer.toString(p.distinct())));
            line.addAll(p.numbers()
                    .map(s -> java.util.stream.DoubleStream.of(
                                    s.mean(),
                                    s.sd(),
                                    s.min(),
                                    s.lowerQuartile(),
                                    s.median(),
                                    s.upperQuartile(),
                                    s.max())
                            .mapToObj(CsvExport::cell)
                            .toList())
                    .orElse(List.of("", "", "", "", "", "", "")));
            line.add(p.levels().stream()
                    .limit(5)
                    .map(l -> l.label() + " " + l.count())
                    .collect(Collectors.joining("; ")));
            rows.add(line);
        }
        CsvExport.table(
                List.of(
                        "column",
                        "kind",
                        "missing",
                        "distinct",
                        "mean",
                        "sd",
                        "min",
                        "q1",
                        "median",
                        "q3",
                        "max",
                        "top"),
                rows,
                console.writer());
    }
}
