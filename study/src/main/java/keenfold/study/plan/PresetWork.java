package keenfold.study.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import keenfold.core.data.Notice;
import keenfold.core.data.Plural;
import keenfold.core.data.Table;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.split.KFold;
import keenfold.io.plan.Drafter;
import keenfold.io.plan.TryReader;

/**
 * How much a comparison does that does not say so itself: by the size of the table alone, so that the same call is the same
 * comparison on every machine.
 *
 * @param rows of the table
 * @param columns that candidates get, a category column counted as often as it has levels
 */
record PresetWork(int rows, int columns) {
    /** Repeats at the preset: 10 up to 2,000 rows of up to 60 columns, and then as many as take about as long. */
    private static final double ROWS_IN_ALL = 20_000;

    private static final double VALUES_IN_ALL = 1_200_000;

    /** What other training rows would have shown cannot be estimated from one repeat. */
    private static final int FEWEST_REPEATS = 2;

    /** With more rows, members of a family cost more in draws than they tell. */
    private static final int MOST_ROWS_OF_FAMILIES = 10_000;

    private static final int MOST_LEVELS = 50;

    /** Returns the work that suits a table of rows that candidates see. */
    static PresetWork of(Table features) {
        int columns = features.columns().stream()
                .mapToInt(c ->
                        c.match(n -> 1, k -> Math.min(MOST_LEVELS, k.levels().size())))
                .sum();
        return new PresetWork(features.rows(), Math.max(1, columns));
    }

    /** Returns how many repeats there are. */
    int repeats() {
        double suiting = Math.min(ROWS_IN_ALL / rows, VALUES_IN_ALL / ((double) rows * columns));
        return (int) Math.max(FEWEST_REPEATS, Math.min(KFold.DEFAULT.repeats(), Math.floor(suiting)));
    }

    /** Returns what is to be known of fewer repeats. */
    List<Notice> ofRepeats() {
        int preset = KFold.DEFAULT.repeats();
        return repeats() == preset
                ? List.of()
                : List.of(Notice.of(
                        "fewer-repeats",
                        "with %s rows and %s once encoded, %s repeats are made instead of %s; --repeats %s makes them all",
                        rows,
                        Plural.of(columns, "column"),
                        repeats(),
                        preset,
                        preset));
    }

    /**
     * Returns the candidates that suit the table, as they are written: those that do not take most of the time, and of a family the
     * middle member where many rows make each one dear.
     */
    List<String> suiting(List<String> all) {
        return all.stream()
                .filter(this::suits)
                .map(t -> rows > MOST_ROWS_OF_FAMILIES ? middle(t) : t)
                .toList();
    }

    private boolean suits(String candidate) {
        return Drafter.suits(TryReader.read(candidate).get(0).kind().name(), rows);
    }

    /** Of each list of values, the middle one. */
    private static String middle(String candidate) {
        return Arrays.stream(candidate.split(" ", -1))
                .map(word -> {
                    String[] values = word.substring(word.indexOf('=') + 1).split(",", -1);
                    return values.length == 1
                            ? word
                            : word.substring(0, word.indexOf('=') + 1) + values[values.length / 2];
                })
                .collect(Collectors.joining(" "));
    }

    /** Returns what is to be known of candidates that are not compared. */
    List<Notice> ofCandidates(List<String> all) {
        List<Notice> notices = new ArrayList<>();
        String slow = names(all.stream().filter(t -> !suits(t)).toList());
        if (!slow.isEmpty()) {
            notices.add(Notice.of(
                    "slow-left-out",
                    "with %s rows, fits of %s would take most of the time and are left out; --full compares everything, 10 x"
                            + " 10",
                    rows,
                    slow));
        }
        String fewer = names(all.stream()
                .filter(t -> suits(t) && !suiting(List.of(t)).contains(t))
                .toList());
        if (!fewer.isEmpty()) {
            notices.add(Notice.of(
                    "fewer-members",
                    "with %s rows, one member stands for %s; --full compares everything, 10 x 10",
                    rows,
                    fewer));
        }
        return notices;
    }

    private static String names(List<String> some) {
        return some.stream()
                .flatMap(t -> TryReader.read(t).stream())
                .map(Candidate::name)
                .collect(Collectors.joining(", "));
    }
}
