package keenfold.results;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToDoubleFunction;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;
import keenfold.core.survey.Breakdown;
import keenfold.core.survey.ColumnProfile;
import keenfold.core.survey.Suspicion;
import keenfold.results.notice.SuspicionWords;
import keenfold.results.table.Alignment;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/**
 * What a table holds, for a first look.
 *
 * @param file that was read
 * @param name of the table, for people
 * @param columns with the kind of each
 * @param target the profile of the classes, if they were named
 * @param chance the auc that one in twenty columns of random numbers reaches; NaN where columns have none
 * @param gaps rows with a missing value
 * @param breakdown classes against one column, if that was asked for
 */
public record Survey(
        String file,
        String name,
        List<OfColumn> columns,
        Optional<ColumnProfile> target,
        double chance,
        int gaps,
        Optional<Breakdown> breakdown,
        List<Suspicion> suspicions,
        List<Notice> ofReading)
        implements Result {
    private static final int MOST_TOP = 5;
    private static final int LONGEST_TOP = 48;
    private static final int BAR = 24;
    private static final double GUESS = 0.5;

    /** Copies the lists. */
    public Survey {
        columns = List.copyOf(columns);
        suspicions = List.copyOf(suspicions);
        ofReading = List.copyOf(ofReading);
    }

    /** What the values of a column are. */
    public enum Kind {
        /** Numbers. */
        NUMBERS,
        /** Dates, as days since 1970-01-01. */
        DATES,
        /** Categories. */
        CATEGORIES,
        /** Numbers or categories of which there are two. */
        TWO_VALUES,
        /** Numbers that are not plainly written, which only a survey reads. */
        UNREAD
    }

    /**
     * A column.
     *
     * @param word its kind as programs read it
     * @param auc how well it tells the classes by itself, cross-validated; NaN if no classes were named, and of the target
     */
    public record OfColumn(ColumnProfile profile, Kind kind, String word, double auc) {
        private double of(ToDoubleFunction<ColumnProfile.Spread> part) {
            return profile.numbers().map(part::applyAsDouble).orElse(Double.NaN);
        }
    }

    /** Returns how many rows there are. */
    public int rows() {
        return columns.isEmpty() ? 0 : columns.get(0).profile().rows();
    }

    /** Returns the columns that were ranked, those that tell the classes best first, for people. */
    public ResultTable ranked() {
        return ResultTable.<OfColumn>define()
                .name("column", c -> c.profile().name())
                .number("auc", ValueKind.fixed(3), OfColumn::auc)
                .text("", c -> "#".repeat((int) Math.round(2 * BAR * Math.max(0, c.auc() - GUESS))))
                .people()
                .of(byAuc());
    }

    /** Returns the columns that were ranked, those that tell the classes best first. */
    public List<OfColumn> byAuc() {
        return columns.stream()
                .filter(c -> !Double.isNaN(c.auc()))
                .sorted(Comparator.comparingDouble(OfColumn::auc).reversed())
                .toList();
    }

    /** Returns the columns of one kind: in the order of the table or, if there are more than can be shown, by auc. */
    public List<OfColumn> ofKind(Kind kind, int most) {
        String classes = target.map(ColumnProfile::name).orElse("");
        // The classes have a table of their own.
        List<OfColumn> all = columns.stream()
                .filter(c -> c.kind() == kind && !c.profile().name().equals(classes))
                .toList();
        boolean ranked = columns.stream().anyMatch(c -> !Double.isNaN(c.auc()));
        return all.size() <= most || !ranked
                ? all
                : all.stream()
                        .sorted(Comparator.comparingDouble((OfColumn c) -> Double.isNaN(c.auc()) ? 0 : -c.auc()))
                        .toList();
    }

    /** Returns some columns of one kind, for people. */
    public static ResultTable columns(Kind kind, List<OfColumn> columns) {
        var table = ResultTable.<OfColumn>define()
                .name("column", c -> c.profile().name())
                .column("missing", ValueKind.WHOLE, c -> missing(c.profile()))
                .column("distinct", ValueKind.WHOLE, c -> c.profile().distinct());
        switch (kind) {
            case NUMBERS ->
                table.column("mean", ValueKind.WHOLE, c -> value(c.of(ColumnProfile.Spread::mean), false))
                        .column("sd", ValueKind.WHOLE, c -> value(c.of(ColumnProfile.Spread::sd), false))
                        .column("min", ValueKind.WHOLE, c -> value(c, ColumnProfile.Spread::min))
                        .column("q1", ValueKind.WHOLE, c -> value(c, ColumnProfile.Spread::lowerQuartile))
                        .column("median", ValueKind.WHOLE, c -> value(c, ColumnProfile.Spread::median))
                        .column("q3", ValueKind.WHOLE, c -> value(c, ColumnProfile.Spread::upperQuartile))
                        .column("max", ValueKind.WHOLE, c -> value(c, ColumnProfile.Spread::max))
                        .text("shape", Survey::shape);
            case DATES ->
                table.column("first", ValueKind.WHOLE, c -> day(c.of(ColumnProfile.Spread::min)))
                        .column("median", ValueKind.WHOLE, c -> day(c.of(ColumnProfile.Spread::median)))
                        .column("last", ValueKind.WHOLE, c -> day(c.of(ColumnProfile.Spread::max)))
                        .text("shape", Survey::shape);
            case TWO_VALUES -> table.text("values and their rows", c -> levels(twoLevels(c.profile())));
            case CATEGORIES, UNREAD ->
                table.text("most frequent", c -> levels(c.profile().levels()));
        }
        return table.of(columns);
    }

    private static String missing(ColumnProfile p) {
        return p.missing() == 0 ? "0" : NumberFormats.two(100.0 * p.missing() / p.rows()) + " %";
    }

    private static String day(double value) {
        return LocalDate.ofEpochDay(Math.round(value)).toString();
    }

    private static String value(OfColumn column, ToDoubleFunction<ColumnProfile.Spread> part) {
        boolean whole = column.profile().numbers().stream()
                .flatMapToDouble(s -> java.util.stream.DoubleStream.of(
                        s.min(), s.lowerQuartile(), s.median(), s.upperQuartile(), s.max()))
                .allMatch(v -> v == StrictMath.rint(v));
        return value(column.of(part), whole);
    }

    /** Three digits, or all of a whole number up to a million. */
    private static String value(double value, boolean whole) {
        double size = Math.abs(value);
        if (size >= 1e6 || (size > 0 && size < 1e-3)) {
            return String.format(Locale.ROOT, "%.1e", value);
        }
        int decimals = whole || size >= 100 ? 0 : size >= 10 ? 1 : size >= 1 || size == 0 ? 2 : 3;
        return NumberFormats.fixed(value, decimals);
    }

    /** A histogram in digits: 9 is the fullest bin, 1 any bin with rows, a point an empty one. */
    private static String shape(OfColumn column) {
        List<Integer> histogram =
                column.profile().numbers().map(ColumnProfile.Spread::histogram).orElse(List.of());
        int most = histogram.stream().mapToInt(Integer::intValue).max().orElse(1);
        StringBuilder text = new StringBuilder();
        for (int count : histogram) {
            text.append(count == 0 ? "." : Integer.toString((int) Math.max(1, Math.round(9.0 * count / most))));
        }
        return text.toString();
    }

    /** The levels of a column of two values; of numbers they are the first and the last bin. */
    private static List<ColumnProfile.Level> twoLevels(ColumnProfile p) {
        return p.numbers()
                .map(s -> List.of(
                        new ColumnProfile.Level(
                                NumberFormats.shortest(s.min()), s.histogram().get(0)),
                        new ColumnProfile.Level(
                                NumberFormats.shortest(s.max()),
                                s.histogram().get(s.histogram().size() - 1))))
                .orElse(p.levels());
    }

    private static String levels(List<ColumnProfile.Level> levels) {
        StringBuilder text = new StringBuilder();
        for (int i = 0; i < levels.size(); i++) {
            ColumnProfile.Level level = levels.get(i);
            String label = level.label().length() > 20 ? level.label().substring(0, 18) + ".." : level.label();
            String next = (i == 0 ? "" : ", ") + label + " " + level.count();
            if (text.length() + next.length() > LONGEST_TOP) {
                return text.append(i == 0 ? label : ", ...").toString();
            }
            text.append(next);
        }
        return text.toString();
    }

    /** Returns the classes; no row if none were named. */
    public ResultTable classes() {
        double labelled = target.map(t -> (double) t.rows() - t.missing()).orElse(1.0);
        return ResultTable.<ColumnProfile.Level>define()
                .name("label", ColumnProfile.Level::label)
                .headed("class")
                .column("rows", ValueKind.WHOLE, ColumnProfile.Level::count)
                .column("", ValueKind.SHARE, l -> l.count() / labelled)
                .headed("share")
                .people()
                .text("", l -> "#".repeat((int) Math.round(BAR * l.count() / labelled)))
                .people()
                .of(target.map(ColumnProfile::levels).orElse(List.of()));
    }

    /** Returns the columns, or, if it was asked for, classes against one of them. */
    @Override
    public ResultTable table() {
        return breakdown.map(Survey::parts).orElseGet(this::allColumns);
    }

    private ResultTable allColumns() {
        return ResultTable.<OfColumn>define()
                .name("column", c -> c.profile().name())
                .csv()
                .name("name", c -> c.profile().name())
                .json()
                .text("kind", OfColumn::word)
                .column("missing", ValueKind.WHOLE, c -> c.profile().missing())
                .column("distinct", ValueKind.WHOLE, c -> c.profile().distinct())
                .number("auc", ValueKind.fixed(3), OfColumn::auc)
                .number("mean", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::mean))
                .number("sd", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::sd))
                .number("min", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::min))
                .number("q1", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::lowerQuartile))
                .number("median", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::median))
                .number("q3", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::upperQuartile))
                .number("max", ValueKind.SHORT, c -> c.of(ColumnProfile.Spread::max))
                .text("top", c -> c.profile().levels().stream()
                        .limit(MOST_TOP)
                        .map(l -> l.label() + " " + l.count())
                        .collect(Collectors.joining("; ")))
                .csv()
                .column("histogram", ValueKind.LIST, c -> c.profile().numbers().map(s -> (Object) s.histogram()))
                .json()
                .column(
                        "levels",
                        ValueKind.LIST,
                        c -> c.profile().numbers().isPresent()
                                ? Optional.empty()
                                : levelTable(c.profile().levels()))
                .json()
                .of(columns);
    }

    private static ResultTable levelTable(List<ColumnProfile.Level> levels) {
        return ResultTable.<ColumnProfile.Level>define()
                .name("label", ColumnProfile.Level::label)
                .column("rows", ValueKind.WHOLE, ColumnProfile.Level::count)
                .of(levels);
    }

    private static ResultTable parts(Breakdown b) {
        var table = ResultTable.<Breakdown.Part>define()
                .name(b.column(), Breakdown.Part::label)
                .csv()
                .name("part", Breakdown.Part::label)
                .json();
        for (int c = 0; c < b.classes().size(); c++) {
            int k = c;
            table.column(b.classes().get(c), ValueKind.WHOLE.aligned(Alignment.RIGHT), p -> p.counts()
                    .get(k));
        }
        return table.of(b.parts());
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("file", file);
        document.put("rows", rows());
        document.put("rows_with_gaps", gaps);
        document.put("auc_of_chance", chance);
        document.put("columns", allColumns());
        document.put("classes", classes());
        document.put("by", breakdown.map(b -> (Object) parts(b)).orElse(List.of()));
        document.put("suspicions", suspicions.stream().map(Survey::suspicion).toList());
        return document;
    }

    private static Map<String, Object> suspicion(Suspicion s) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("kind", SuspicionWords.code(s));
        all.put("column", s.column());
        all.put("count", s.count());
        if (s.beside() > 0) {
            all.put("beside", s.beside());
        }
        if (!s.detail().isEmpty()) {
            all.put("detail", s.detail());
        }
        return all;
    }

    @Override
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>(ofReading);
        suspicions.forEach(s -> notices.add(SuspicionWords.of(s)));
        return notices;
    }
}
