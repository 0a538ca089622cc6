package keenfold.study.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Notice;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.data.Table;
import keenfold.core.run.Parallel;
import keenfold.core.survey.Breakdown;
import keenfold.core.survey.ColumnAuc;
import keenfold.core.survey.ColumnProfile;
import keenfold.core.survey.Suspicion;
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
     * A survey, and how to see it.
     *
     * @param parts each column by class, in the order of the columns; none unless asked for
     */
    public record Seen(Survey survey, List<Breakdown> parts) {
        /** Copies the list. */
        public Seen {
            parts = List.copyOf(parts);
        }
    }

    /**
     * Reads a table.
     *
     * @param target the column of the classes
     * @param by a column by which classes are broken down; needs a target
     * @param eachByClass whether each column is set against the classes, for pictures
     * @throws InputException if the table cannot be read, or a column is not there
     */
    public static Seen of(
            Source source, Optional<String> target, Optional<String> by, boolean eachByClass, Parallel parallel) {
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
        Optional<Breakdown> breakdown = by.map(b -> parts(classes.orElseThrow(), column(source, table, b), dates));
        Categories shown = classes.orElseGet(() -> oneClass(table.rows()));
        List<Breakdown> parts = parallel.map(
                eachByClass ? read.size() : 0, i -> parts(shown, table.columns().get(i), dates));
        List<String> names = table.names();
        Optional<ColumnAuc> auc = classes.flatMap(ColumnAuc::dividing);
        List<Double> aucs = parallel.map(
                read.size(), i -> auc.filter(a -> !target.orElse("").equals(names.get(i)))
                        .map(a -> a.auc(table.columns().get(i)))
                        .orElse(Double.NaN));
        List<Survey.OfColumn> columns = new ArrayList<>();
        for (int i = 0; i < read.size(); i++) {
            String word = read.get(i).kind().name().toLowerCase(Locale.ROOT);
            Survey.Kind kind = kind(source, read.get(i), profiles.get(i));
            columns.add(new Survey.OfColumn(profiles.get(i), kind, word, aucs.get(i)));
        }
        Survey survey = new Survey(
                source.data(),
                location.shown().substring(location.shown().lastIndexOf('/') + 1),
                columns,
                classes.map(ColumnProfile::of),
                auc.map(ColumnAuc::reachedByChance).orElse(Double.NaN),
                gaps(table),
                breakdown,
                Suspicion.in(table, profiles, dates, classes),
                notices(source, whole, target));
        return new Seen(survey, parts);
    }

    private static Breakdown parts(Categories classes, Column column, List<String> dates) {
        boolean days = dates.contains(column.name());
        return Breakdown.of(
                classes, column, days ? Optional.of(d -> LocalDate.ofEpochDay(d).toString()) : Optional.empty());
    }

    private static Categories oneClass(int rows) {
        String[] labels = new String[rows];
        Arrays.fill(labels, "rows");
        return Categories.of("rows", labels);
    }

    private static int gaps(Table table) {
        boolean[] gap = new boolean[table.rows()];
        for (Column column : table.columns()) {
            for (int i = 0; i < gap.length; i++) {
                gap[i] |= column.missing(i);
            }
        }
        int count = 0;
        for (boolean g : gap) {
            count += g ? 1 : 0;
        }
        return count;
    }

    private static Survey.Kind kind(Source source, ReadColumn column, ColumnProfile profile) {
        boolean refused = column.disguised().isPresent()
                && !source.text().contains(column.column().name());
        return column.kind() == ReadColumn.Kind.DATE
                ? Survey.Kind.DATES
                : profile.distinct() == 2 && !refused
                        ? Survey.Kind.TWO_VALUES
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
