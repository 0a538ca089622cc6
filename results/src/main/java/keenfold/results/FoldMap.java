package keenfold.results;

import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.DoubleFunction;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.data.Decimals;
import keenfold.core.data.Notice;
import keenfold.core.infer.ExpectedPower;
import keenfold.core.run.result.Task;
import keenfold.core.split.Audit;
import keenfold.core.split.Splits;
import keenfold.results.table.NumberFormats;
import keenfold.results.table.ResultTable;
import keenfold.results.table.ValueKind;

/** The splits of data sets before anything is fitted: sizes, classes, groups, times, and what was checked. */
public final class FoldMap implements Result {
    private final List<OfSet> sets;
    private final long seed;
    private final List<Notice> notices;

    private FoldMap(List<OfSet> sets, long seed, List<Notice> notices) {
        this.sets = List.copyOf(sets);
        this.seed = seed;
        this.notices = List.copyOf(notices);
    }

    /**
     * The splits of one data set.
     *
     * @param heldBack rows that are in no split
     * @param dates names of the columns that hold dates
     * @param power what differences can be expected to be seen; nothing where none will be called
     */
    public record OfSet(Task task, Audit audit, int heldBack, Set<String> dates, Optional<ExpectedPower> power) {
        /** Copies the names. */
        public OfSet {
            dates = Set.copyOf(dates);
        }

        /** Returns the splits, with so many classes for people; programs have all of them. */
        public ResultTable table(List<Audit.Facts> splits, int classes) {
            return FoldMap.table(this, splits, classes);
        }

        /** Returns what differences can be expected to be seen, in a sentence; empty where none will be called. */
        public String couldBeSeen() {
            return power.map(p -> FoldMap.couldBeSeen(task.data().rows(), p)).orElse("");
        }

        /** Whether each repeat is a single split. */
        public boolean single() {
            return task.splits().mostFolds() == 1;
        }

        /** Whether splits follow each other in time. */
        public boolean inOrder() {
            return task.splits().form() == Splits.Form.IN_ORDER;
        }
    }

    /** Returns what differences can be expected to be seen, in a sentence. */
    public static String couldBeSeen(int rows, ExpectedPower power) {
        return String.format(
                Locale.ROOT,
                "With %d rows and these splits a difference of about %s in accuracy between two candidates can be seen%s: a"
                        + " rule of thumb, see docs/methods.md.",
                rows,
                points(power.alone()),
                power.pairs() > 1
                        ? ", of about " + points(power.amongAll()) + " among all " + power.pairs() + " pairs"
                        : "");
    }

    private static String points(double share) {
        double points = 100 * share;
        String shown = NumberFormats.significant(points, points < 10 ? 1 : 2);
        return shown + (shown.equals("1") ? " point" : " points");
    }

    /** Returns the map of some data sets. */
    public static FoldMap of(List<OfSet> sets, long seed, List<Notice> notices) {
        return new FoldMap(sets, seed, notices);
    }

    /** Returns the data sets. */
    public List<OfSet> sets() {
        return sets;
    }

    /** Returns the seed from which the splits were made. */
    public long seed() {
        return seed;
    }

    private static ResultTable table(OfSet set, List<Audit.Facts> splits, int classes) {
        DataSet data = set.task().data();
        boolean copies = splits.stream().anyMatch(s -> s.trainCases() > s.train());
        var table = ResultTable.<Audit.Facts>define()
                .column("", ValueKind.WHOLE, s -> set.single() ? s.repeat() + 1 : s.fold() + 1)
                .headed(set.single() ? "split" : "fold")
                .people()
                .column("repeat", ValueKind.WHOLE, s -> s.repeat() + 1)
                .programs()
                .column("fold", ValueKind.WHOLE, s -> s.fold() + 1)
                .programs()
                .column("train", ValueKind.WHOLE, Audit.Facts::train)
                .column("train_cases", ValueKind.WHOLE, Audit.Facts::trainCases)
                .headed("with copies");
        if (!copies) {
            table.programs();
        }
        table.column("test", ValueKind.WHOLE, Audit.Facts::test);
        for (int c = 0; c < classes; c++) {
            int k = c;
            table.column("", ValueKind.WHOLE, s -> count(s, k))
                    .headed("test " + data.classes().labels().get(c))
                    .people();
        }
        table.column("test_classes", ValueKind.TEXT, s -> classes(data, s)).json();
        if (data.groups().isPresent()) {
            table.column("test_groups", ValueKind.WHOLE, Audit.Facts::testGroups)
                    .headed("groups");
        }
        if (data.order().isPresent()) {
            DoubleFunction<String> time =
                    data.order().filter(o -> set.dates().contains(o.name())).isPresent()
                            ? v -> LocalDate.ofEpochDay((long) v).toString()
                            : Decimals::exact;
            if (set.inOrder()) {
                table.text("", s -> span(s.trainSpan(), time))
                        .headed("trained on")
                        .people();
            }
            table.text("", s -> span(s.testSpan(), time)).headed("tested").people();
            table.number("train_last", ValueKind.SHORT, s -> last(s.trainSpan()))
                    .json()
                    .number("test_first", ValueKind.SHORT, s -> s.testSpan()
                            .map(Audit.Span::first)
                            .orElse(Double.NaN))
                    .json()
                    .number("test_last", ValueKind.SHORT, s -> last(s.testSpan()))
                    .json();
        }
        return table.of(splits);
    }

    private static double last(Optional<Audit.Span> span) {
        return span.map(Audit.Span::last).orElse(Double.NaN);
    }

    private static String count(Audit.Facts split, int c) {
        int count = split.testClasses().get(c);
        return String.format(Locale.ROOT, "%d (%s)", count, NumberFormats.percent((double) count / split.test()));
    }

    private static Map<String, Object> classes(DataSet data, Audit.Facts split) {
        Map<String, Object> counts = new LinkedHashMap<>();
        IntStream.range(0, data.classes().count())
                .forEach(c -> counts.put(
                        data.classes().labels().get(c), split.testClasses().get(c)));
        return counts;
    }

    private static String span(Optional<Audit.Span> span, DoubleFunction<String> time) {
        return span.map(s -> {
                    String first = time.apply(s.first());
                    String last = time.apply(s.last());
                    return first.equals(last) ? first : first + " to " + last;
                })
                .orElse("");
    }

    @Override
    public ResultTable table() {
        return ResultTable.joined(sets.stream()
                .map(set -> ResultTable.<Audit.Facts>define()
                        .name("dataset", s -> set.task().data().name())
                        .column("repeat", ValueKind.WHOLE, s -> s.repeat() + 1)
                        .column("fold", ValueKind.WHOLE, s -> s.fold() + 1)
                        .column("train", ValueKind.WHOLE, Audit.Facts::train)
                        .column("train_cases", ValueKind.WHOLE, Audit.Facts::trainCases)
                        .column("test", ValueKind.WHOLE, Audit.Facts::test)
                        .of(set.audit().splits()))
                .toList());
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("seed", seed);
        document.put("datasets", sets.stream().map(FoldMap::dataSet).toList());
        return document;
    }

    private static Map<String, Object> dataSet(OfSet set) {
        Map<String, Object> all = new LinkedHashMap<>();
        all.put("name", set.task().data().name());
        all.put("rows", set.task().data().rows());
        all.put("form", set.task().splits().form().label());
        all.put("repeats", set.task().splits().repeats());
        all.put("could_be_seen", set.power().map(p -> {
            Map<String, Object> seen = new LinkedHashMap<>();
            seen.put("accuracy", p.alone());
            seen.put("accuracy_among_all", p.amongAll());
            seen.put("pairs", p.pairs());
            return seen;
        }));
        all.put("splits", table(set, set.audit().splits(), 0));
        all.put(
                "checks",
                ResultTable.<Audit.Check>define()
                        .text("check", c -> word(c.question()))
                        .text("outcome", c -> word(c.outcome()))
                        .column("splits", ValueKind.WHOLE, Audit.Check::splits)
                        .number("value", ValueKind.SHORT, Audit.Check::value)
                        .of(set.audit().checks()));
        return all;
    }

    private static String word(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    @Override
    public List<Notice> notices() {
        return notices;
    }
}
