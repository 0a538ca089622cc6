package keenfold.io.table;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntPredicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.ColumnRange;
import keenfold.core.data.DataSet;
import keenfold.core.data.Decimals;
import keenfold.core.data.Notice;
import keenfold.core.data.Numbers;
import keenfold.core.data.Suggestion;
import keenfold.core.data.Table;
import keenfold.io.InputException;
import keenfold.io.table.parse.ReadColumn;
import keenfold.io.table.parse.ReadTable;
import keenfold.io.table.parse.TableFormat;

/**
 * Makes a data set of a file, or of several that follow each other: target, groups, order and features apart, rows without
 * a class left out, what is held back set aside, oddities noticed.
 */
public final class DataReader {
    /** The most cases that rows of a table can count for. */
    public static final int MOST_CASES = 10_000_000;

    /** The most values of a table that is written out case by case: 2 GB. A small file must not ask for more. */
    private static final long MOST_VALUES = 1L << 28;

    private static final int MOST_CLASSES = 1000;

    private final DataSpec spec;
    private final DataParts parts;
    private final TableLocation where;
    private final List<Path> folders;
    private final List<Notice> notices = new ArrayList<>();

    /** What in the target was taken for a missing value. */
    private Optional<String> missing = Optional.empty();

    private DataReader(DataSpec spec, DataParts parts, List<Path> folders) {
        this.spec = spec;
        this.parts = parts;
        this.where = TableLocation.of(spec.file(), folders);
        this.folders = folders;
    }

    /** Reads the data of a spec, none of them set aside. */
    public static LoadedData read(DataSpec spec, List<Path> folders) {
        return read(spec, DataParts.NONE, folders);
    }

    /**
     * Reads the data of a spec.
     *
     * @param folders where a relative file is looked for, in order
     * @throws InputException if a file or one of the columns cannot be used
     */
    public static LoadedData read(DataSpec spec, DataParts parts, List<Path> folders) {
        return new DataReader(spec, parts, folders).read();
    }

    private LoadedData read() {
        TableFormat format = spec.sparingNumbers().withText(spec.labels());
        for (String label : spec.format().number()) {
            if (spec.labels().contains(label)) {
                throw new InputException(spec.file(), "column \"" + label + "\" cannot be both a label and a number");
            }
        }
        ReadTable main = TableReader.read(where, format);
        main.notices().forEach(n -> notices.add(Notice.plain("table-text", n)));
        if (DataSpec.renamed(spec)) {
            notices.add(Notice.plain(
                    "renamed",
                    "the data set of " + spec.file() + " is called \"" + spec.name()
                            + "\", since a name holds no comma, slash or control character"));
        }
        List<ReadColumn> read = main.columns();
        int own = main.rows();
        int tested = own;
        if (parts.test().isPresent()) {
            read = appended(read, parts.test().get(), format);
            tested = read.get(0).column().rows();
        }
        if (parts.heldBack().isPresent()) {
            read = appended(read, parts.heldBack().get(), format);
        }
        List<String> names = read.stream().map(c -> c.column().name()).toList();
        Categories target = labels(read, names, spec.target());
        leftOut(names).forEach(n -> known(n, names));
        List<ReadColumn> columns = read;
        Optional<Categories> groups = spec.groups().map(g -> labels(columns, names, g));
        Optional<Numbers> order = spec.order().map(o -> order(columns, names, o));
        missing = main.missingTexts(spec.target());
        int[] ofClass = labelledRows(target, groups, order);
        Optional<int[]> all = spec.weights().map(w -> counts(columns, names, w, ofClass));
        int[] rows = all.map(c -> IntStream.range(0, c.length)
                        .filter(i -> c[i] > 0)
                        .map(i -> ofClass[i])
                        .toArray())
                .orElse(ofClass);
        Optional<int[]> counts = all.map(c -> IntStream.of(c).filter(n -> n > 0).toArray());
        Categories labelled = target.select(rows);
        Variants.in(labelled).forEach(n -> notices.add(n.about(spec.name())));
        // Which class is the rarer one is a matter of cases.
        Classes classes = classes(counts.map(c -> labelled.select(repeated(c))).orElse(labelled));
        DataSet whole = DataSet.of(
                spec.name(),
                features(read, rows),
                classes,
                codes(labelled, classes),
                groups.map(g -> g.select(rows).withoutUnused()),
                IntStream.of(rows).map(i -> i + 1).toArray());
        DataSet ordered = order.isPresent() ? whole.withOrder(order.get().select(rows)) : whole;
        DataSet data = counts.map(ordered::repeated).orElse(ordered);
        // From here on a row that counts for several cases stands there as often.
        int[] cases = IntStream.of(data.sourceRows()).map(r -> r - 1).toArray();
        Optional<Column> given = parts.given().map(c -> {
            known(c, names);
            return columns.get(names.indexOf(c)).column().select(cases);
        });
        int last = tested;
        boolean[] held = parts.heldBack().isPresent()
                ? mask(cases, r -> r >= last)
                : parts.holdout()
                        .map(h -> checked(() -> h.heldBack(data, parts.bindEqual(), parts.seed())))
                        .orElse(new boolean[cases.length]);
        int[] kept = IntStream.range(0, cases.length).filter(i -> !held[i]).toArray();
        int[] aside = IntStream.range(0, cases.length).filter(i -> held[i]).toArray();
        DataSet development = data.select(kept);
        checkClasses(development);
        notices.addAll(Oddities.of(
                withoutCopies(development),
                dates(columns),
                new Oddities.Given(
                        spec.target(), spec.groups().isPresent(), spec.order().isPresent(), parts.bindEqual())));
        if (aside.length > 0) {
            notices.add(Notice.of(
                            "held-back",
                            "%d of %d rows are held back for the end; no split, fit or score sees them",
                            aside.length,
                            cases.length)
                    .about(spec.name())
                    .with("rows", aside.length));
        }
        boolean[] testRows = mask(cases, r -> r >= own && r < last);
        return new LoadedData(
                development,
                Fingerprint.of(data),
                notices,
                aside.length > 0 ? Optional.of(data.select(aside)) : Optional.empty(),
                parts.test().isPresent() ? Optional.of(new Chosen(select(testRows, kept))) : Optional.empty(),
                dates(columns),
                given.map(c -> c.select(kept)));
    }

    private static int[] repeated(int[] counts) {
        return IntStream.range(0, counts.length)
                .flatMap(i -> IntStream.generate(() -> i).limit(counts[i]))
                .toArray();
    }

    private static DataSet withoutCopies(DataSet data) {
        return data.select(IntStream.range(0, data.rows())
                .filter(i -> !data.copyOfTheOneBefore(i))
                .toArray());
    }

    /** For how many cases each of some rows counts; those that count for none are left out. */
    private int[] counts(List<ReadColumn> read, List<String> names, String name, int[] rows) {
        known(name, names);
        Numbers weights = read.get(names.indexOf(name)).column().match(n -> n, c -> {
            throw weightsWrong(name, "found \"" + c.levels().get(0) + "\"");
        });
        int[] counts = new int[rows.length];
        long all = 0;
        for (int i = 0; i < rows.length; i++) {
            double weight = weights.get(rows[i]);
            if (!(weight >= 0 && weight <= MOST_CASES && weight == Math.rint(weight))) {
                throw weightsWrong(
                        name,
                        "row " + (rows[i] + 1) + " has "
                                + (Double.isNaN(weight) ? "none" : Decimals.exact(weight))
                                + "; weights that are no counts of cases cannot be used");
            }
            counts[i] = (int) weight;
            all += counts[i];
        }
        long most = Math.min(MOST_CASES, MOST_VALUES / read.size());
        if (all == 0 || all > most) {
            throw weightsWrong(
                    name,
                    "they add up to " + all + " cases; from 1 to " + most + " are possible in a table of " + read.size()
                            + " columns");
        }
        long none = IntStream.of(counts).filter(c -> c == 0).count();
        if (none > 0) {
            notices.add(Notice.of(
                            "weight-zero",
                            "%s no case by \"%s\" and %s left out",
                            none == 1 ? "1 row counts for" : none + " rows count for",
                            name,
                            none == 1 ? "is" : "are")
                    .about(spec.name())
                    .with("rows", none));
        }
        return counts;
    }

    private InputException weightsWrong(String name, String found) {
        return new InputException(
                where.shown() + ", column \"" + name + "\"",
                "weights must be whole numbers that say for how many cases a row counts; " + found);
    }

    private static boolean[] mask(int[] rows, IntPredicate in) {
        boolean[] mask = new boolean[rows.length];
        for (int i = 0; i < mask.length; i++) {
            mask[i] = in.test(rows[i]);
        }
        return mask;
    }

    private static boolean[] select(boolean[] mask, int[] rows) {
        boolean[] chosen = new boolean[rows.length];
        for (int i = 0; i < chosen.length; i++) {
            chosen[i] = mask[rows[i]];
        }
        return chosen;
    }

    private <T> T checked(Supplier<T> made) {
        return InputException.at(where.shown(), () -> made.get());
    }

    /** The columns with those of another file below them. */
    private List<ReadColumn> appended(List<ReadColumn> above, String file, TableFormat format) {
        TableLocation other = TableLocation.of(file, folders);
        ReadTable table = TableReader.read(other, format);
        table.notices().forEach(n -> notices.add(Notice.plain("table-text", n)));
        List<String> names = table.names();
        List<ReadColumn> all = new ArrayList<>();
        for (ReadColumn column : above) {
            String name = column.column().name();
            if (!names.contains(name)) {
                throw new InputException(
                        other.shown(),
                        "there is no column \"" + name + "\", which " + where.shown() + " has"
                                + Suggestion.hint(name, names));
            }
            all.add(column.above(table.columns().get(names.indexOf(name)), other.shown()));
        }
        List<String> more = new ArrayList<>(names);
        more.removeAll(above.stream().map(c -> c.column().name()).toList());
        if (!more.isEmpty()) {
            notices.add(Notice.plain(
                            "columns-left-out",
                            other.shown() + ": columns that " + where.shown() + " has not are left out: "
                                    + String.join(", ", more))
                    .with("columns", more));
        }
        return all;
    }

    private void checkClasses(DataSet development) {
        int[] counts = development.classCounts();
        for (int c = 0; c < counts.length; c++) {
            if (counts[c] == 0) {
                throw new InputException(
                        where.shown(),
                        "every row of class \"" + development.classes().labels().get(c)
                                + "\" is held back; hold back other rows, or join the class with another");
            }
        }
    }

    private static Set<String> dates(List<ReadColumn> columns) {
        return columns.stream()
                .filter(c -> c.kind() == ReadColumn.Kind.DATE)
                .map(c -> c.column().name())
                .collect(Collectors.toSet());
    }

    private Numbers order(List<ReadColumn> read, List<String> names, String name) {
        known(name, names);
        return read.get(names.indexOf(name)).column().match(n -> n, c -> {
            throw new InputException(
                    where.shown() + ", column \"" + name + "\"",
                    "order must be numbers or ISO dates (2026-03-31); found \""
                            + c.levels().get(0) + "\"");
        });
    }

    private List<String> leftOut(List<String> names) {
        return checked(() -> ColumnRange.expanded(spec.leaveOut(), names));
    }

    private void known(String name, List<String> names) {
        if (!names.contains(name)) {
            throw new InputException(
                    where.shown(),
                    "there is no column \"" + name + "\"" + Suggestion.hint(name, names)
                            + TableReader.hintOfOneColumn(names));
        }
    }

    private Categories labels(List<ReadColumn> read, List<String> names, String name) {
        known(name, names);
        return read.get(names.indexOf(name)).column().match(n -> Categories.of(n.name()), c -> c);
    }

    private int[] labelledRows(Categories target, Optional<Categories> groups, Optional<Numbers> order) {
        int unlabelled = target.countMissing();
        if (unlabelled == target.rows()) {
            throw new InputException(where.shown(), "no row has a value in the target \"" + target.name() + "\"");
        }
        if (unlabelled > 0) {
            notices.add(Notice.of(
                            "unlabelled",
                            "%d of %d rows have no \"%s\" and are left out%s",
                            unlabelled,
                            target.rows(),
                            target.name(),
                            missing.map(m -> ": " + m).orElse(""))
                    .about(spec.name())
                    .with("rows", unlabelled));
        }
        groups.ifPresent(g -> {
            for (int i = 0; i < g.rows(); i++) {
                if (g.missing(i) && !target.missing(i)) {
                    throw new InputException(
                            where.shown() + ", data row " + (i + 1) + ", column \"" + g.name() + "\"",
                            "a row without a group cannot be kept on one side; name its group or leave the row out");
                }
            }
        });
        order.ifPresent(o -> {
            for (int i = 0; i < o.rows(); i++) {
                if (o.missing(i) && !target.missing(i)) {
                    throw new InputException(
                            where.shown() + ", data row " + (i + 1) + ", column \"" + o.name() + "\"",
                            "a row without a place in the order cannot be put before or after others; say when it was, or"
                                    + " leave the row out");
                }
            }
        });
        return IntStream.range(0, target.rows()).filter(i -> !target.missing(i)).toArray();
    }

    private Classes classes(Categories labelled) {
        int[] counts = labelled.counts();
        List<String> labels = new ArrayList<>();
        List<Integer> present = new ArrayList<>();
        for (int c = 0; c < counts.length; c++) {
            if (counts[c] > 0) {
                labels.add(labelled.levels().get(c));
                present.add(counts[c]);
            }
        }
        String place = where.shown() + ", column \"" + spec.target() + "\"";
        if (labels.size() < 2) {
            throw new InputException(
                    place,
                    "every row is of class \"" + labels.get(0) + "\"; a comparison needs at least two classes"
                            + missing.map(m -> "; " + m).orElse(""));
        }
        if (labels.size() > MOST_CLASSES || (labels.size() * 2 > labelled.rows() && labels.size() > 20)) {
            throw new InputException(
                    place,
                    labels.size() + " different values in " + labelled.rows()
                            + " rows; Keen Fold compares classifiers, whose target has a few classes");
        }
        return new Classes(labels, positive(labels, present, place));
    }

    private int positive(List<String> labels, List<Integer> counts, String place) {
        if (spec.positive().isPresent()) {
            String wanted = spec.positive().get();
            int index = labels.indexOf(wanted);
            if (index < 0) {
                throw new InputException(
                        place, "no row is of class \"" + wanted + "\"" + Suggestion.hint(wanted, labels));
            }
            return index;
        }
        int rarest = Classes.rarest(counts.stream().mapToInt(Integer::intValue).toArray());
        if (labels.size() == 2) {
            notices.add(Notice.of(
                            "positive-class",
                            "the positive class is \"%s\", the rarer one (%d of %d rows); name it with positive: in the"
                                    + " plan, or --positive",
                            labels.get(rarest),
                            counts.get(rarest),
                            counts.get(0) + counts.get(1))
                    .about(spec.name())
                    .with("class", labels.get(rarest)));
        }
        return rarest;
    }

    private static int[] codes(Categories labelled, Classes classes) {
        int[] codes = new int[labelled.rows()];
        for (int i = 0; i < codes.length; i++) {
            codes[i] = classes.indexOf(labelled.levels().get(labelled.code(i)));
        }
        return codes;
    }

    private Table features(List<ReadColumn> read, int[] rows) {
        Set<String> apart =
                new HashSet<>(leftOut(read.stream().map(c -> c.column().name()).toList()));
        apart.add(spec.target());
        spec.groups().ifPresent(apart::add);
        spec.order().ifPresent(apart::add);
        spec.weights().ifPresent(apart::add);
        parts.given().ifPresent(apart::add);
        List<Column> features = new ArrayList<>();
        for (ReadColumn column : read) {
            Column chosen = column.column().select(rows);
            boolean texts = spec.format().text().contains(chosen.name()) && Oddities.namesEachRow(chosen);
            if (texts && !apart.contains(chosen.name())) {
                features.add(chosen.<Column>match(n -> n, Categories::asTexts));
            } else if (!apart.contains(chosen.name()) && !Oddities.leftOut(spec.name(), chosen, notices)) {
                chosen.match(n -> List.<Notice>of(), Variants::in).forEach(n -> notices.add(n.about(spec.name())));
                features.add(chosen);
            }
        }
        if (features.isEmpty()) {
            throw new InputException(where.shown(), "no column is left to predict \"" + spec.target() + "\" from");
        }
        return new Table(rows.length, features);
    }
}
