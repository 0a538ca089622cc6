package keenfold.study.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import keenfold.core.data.Breakdown;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnProfile;
import keenfold.core.data.Notice;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.data.Suspicion;
import keenfold.core.data.Table;
import keenfold.core.run.Parallel;
import keenfold.io.InputException;
import keenfold.io.export.CsvExport;
import keenfold.io.table.TableLocation;
import keenfold.io.table.TableReader;
import keenfold.io.table.Variants;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;
import keenfold.results.Survey;

/** Reads a table as it is, and says what it holds. */
public final class TableSurvey {
    private TableSurvey() {}

    /**
     * A table to be looked at.
     *
     * @param data as it was named
     * @param location found when it is read: standard input is read only once
     * @param text columns that are taken as text whatever they hold
     */
    public record Source(String data, Supplier<TableLocation> location, TableFormat format, Collection<String> text) {
        /** Copies the names. */
        public Source {
            text = List.copyOf(text);
        }
    }

    /**
     * Reads a table.
     *
     * @param target the column of the classes
     * @param by a column by which classes are broken down; needs a target
     * @throws InputException if the table cannot be read, or a column is not there
     */
    public static Survey of(Source source, Optional<String> target, Optional<String> by, Parallel parallel) {
        TableLocation location = source.location().get();
        ReadTable whole = TableReader.readAsItIs(
                location, source.format().withText(target.map(Set::of).orElse(Set.of())));
        Table table = whole.table();
        Optional<Categories> classes = target.map(t -> labels(column(source, table, t)));
        List<ReadColumn> read = whole.columns();
        List<ColumnProfile> profiles =
                parallel.map(read.size(), i -> ColumnProfile.of(read.get(i).column()));
        List<String> dates = read.stream()
                .filter(c -> c.kind() == ReadColumn.Kind.DATE)
                .map(c -> c.column().name())
                .toList();
        Optional<Breakdown> breakdown = by.map(b -> Breakdown.of(
                classes.orElseThrow(),
                column(source, table, b),
                dates.contains(b) ? Optional.of(d -> LocalDate.ofEpochDay(d).toString()) : Optional.empty()));
        List<Survey.OfColumn> columns = new ArrayList<>();
        for (int i = 0; i < read.size(); i++) {
            String word = read.get(i).kind().name().toLowerCase(Locale.ROOT);
            columns.add(new Survey.OfColumn(profiles.get(i), kind(source, read.get(i), profiles.get(i)), word));
        }
        return new Survey(
                source.data(),
                location.shown().substring(location.shown().lastIndexOf('/') + 1),
                columns,
                classes.map(ColumnProfile::of),
                breakdown,
                Suspicion.in(table, profiles, dates, classes),
                notices(source, whole, target));
    }

    private static Survey.Kind kind(Source source, ReadColumn column, ColumnProfile profile) {
        boolean refused = column.disguised().isPresent()
                && !source.text().contains(column.column().name());
        return column.kind() == ReadColumn.Kind.DATE
                ? Survey.Kind.DATES
                : profile.numbers().isPresent()
                        ? Survey.Kind.NUMBERS
                        : refused ? Survey.Kind.UNREAD : Survey.Kind.CATEGORIES;
    }

    private static List<Notice> notices(Source source, ReadTable whole, Optional<String> target) {
        List<Notice> notices = new ArrayList<>();
        String hint = TableReader.hintOfOneColumn(whole.table().names());
        if (!hint.isEmpty()) {
            notices.add(Notice.plain("single-column", "there is a single column" + hint));
        }
        whole.notices().forEach(n -> notices.add(Notice.plain("table-text", n)));
        for (ReadColumn c : whole.columns()) {
            if (!source.text().contains(c.column().name())) {
                c.oddities(source.data()).forEach(o -> notices.add(Notice.plain("odd-value", o)));
            }
        }
        whole.columns().forEach(c -> notices.addAll(c.column().match(n -> List.<Notice>of(), Variants::in)));
        target.flatMap(t -> whole.missingTexts(t).map(m -> "column \"" + t + "\": " + m))
                .ifPresent(n -> notices.add(Notice.plain("missing-texts", n)));
        return notices;
    }

    private static Column column(Source source, Table table, String name) {
        return table.column(name)
                .orElseThrow(() -> new InputException(
                        source.data(),
                        "there is no column \"" + name + "\"" + Suggestion.hint(name, table.names())
                                + TableReader.hintOfOneColumn(table.names())));
    }

    /** A target's labels: its categories, or its numbers as text. */
    private static Categories labels(Column column) {
        return column.match(TableSurvey::asText, c -> c);
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
}
