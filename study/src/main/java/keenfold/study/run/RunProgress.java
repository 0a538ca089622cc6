package keenfold.study.run;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import keenfold.core.data.Plural;
import keenfold.core.run.Comparison;
import keenfold.core.run.TimeLeft;
import keenfold.core.run.Unit;
import keenfold.results.table.NumberFormats;
import keenfold.study.progress.Watcher;
import keenfold.view.text.Wrap;

/**
 * Tells how far a run is and how long it will still take. Where it may take long, one unit of each family on each data set comes
 * first, and what all will take is said before the rest.
 */
final class RunProgress implements AutoCloseable {
    /** Fewer rounds of all families are not worth timing one of them. */
    private static final int WORTH_TIMING = 5;

    /** Seconds that nobody needs to be told of; of less, the first fits say little. */
    private static final double SHORT = 60;

    /** Where less than so many seconds are left, the first fits were slow, since the program was not warm: others are timed. */
    private static final double LONG = 180;

    private static final long BETWEEN_LOOKS = TimeUnit.MILLISECONDS.toNanos(100);

    private static final int LINE_INDENT = 6;
    private static final int MOST_SETS = 4;

    private static final int MOST_NAMED = 4;

    private final Watcher watcher;
    private final PlanRun.Status status;
    private final Comparison comparison;
    private final TimeLeft left;
    private final int threads;
    private final int units;
    private final Set<Integer> toTime = new HashSet<>();
    private final Set<Integer> finished = new HashSet<>();
    private final List<Unit> again;
    private final long begun = System.nanoTime();
    private Watcher.Steps steps = Watcher.Steps.UNSEEN;
    private boolean counting;
    private int done;
    private long looked = begun;
    private double last = Double.NaN;

    /**
     * @param first the units of the run itself that are to be done, in the order in which they begin
     * @param left knows all that are to be done
     * @param units how many those are
     */
    RunProgress(
            Watcher watcher,
            PlanRun.Status status,
            Comparison comparison,
            List<Unit> first,
            TimeLeft left,
            int threads,
            int units) {
        this.watcher = watcher;
        this.status = status;
        this.comparison = comparison;
        this.left = left;
        this.threads = threads;
        this.units = units;
        List<Unit> timed = timed(first, comparison, 0);
        this.again = new ArrayList<>(timed(first, comparison, 1));
        if (units >= WORTH_TIMING * timed.size() && !timed.isEmpty()) {
            timed.forEach(u -> toTime.add(u.number()));
            watcher.doing("timing one fit of each candidate");
        } else {
            count();
        }
    }

    /**
     * One unit of each family on each data set.
     *
     * @param before how many of them are passed over
     */
    static List<Unit> timed(List<Unit> units, Comparison comparison, int before) {
        int[][] seen = new int[comparison.tasks().size()][comparison.families().size()];
        return units.stream()
                .filter(u -> seen[u.task()][u.family()]++ == before)
                .toList();
    }

    private void count() {
        counting = true;
        finished.clear();
        watcher.done();
        steps = watcher.steps(units, "fitted", "units");
        for (int k = 0; k < done; k++) {
            steps.step(Double.NaN);
        }
    }

    /** A unit of the run itself, or of a half, took so long. */
    void took(Unit unit, double share, double seconds) {
        left.took(unit, share, seconds);
    }

    /**
     * A unit is done.
     *
     * @param ofRun whether it is one of the run itself
     */
    void step(Unit unit, boolean ofRun, int failedFits) {
        done++;
        double seconds = seconds();
        if (ofRun && !counting) {
            finished.add(unit.number());
        }
        if (ofRun && toTime.remove(unit.number()) && toTime.isEmpty()) {
            if (seconds < LONG) {
                again.stream()
                        .map(Unit::number)
                        .filter(n -> !finished.contains(n))
                        .forEach(toTime::add);
            }
            again.clear();
            if (toTime.isEmpty()) {
                tell(seconds);
            }
        }
        if (!counting && toTime.isEmpty()) {
            count();
        } else if (counting) {
            steps.step(seconds);
        }
        status.step(failedFits, seconds);
    }

    /** What is left; of many quick units it is not asked for each. */
    private double seconds() {
        long now = System.nanoTime();
        if (!counting || done == units || now - looked > BETWEEN_LOOKS) {
            looked = now;
            last = left.seconds((now - begun) * 1e-9);
        }
        return last;
    }

    private void tell(double seconds) {
        if (seconds < SHORT) {
            return;
        }
        watcher.done();
        int sets = comparison.tasks().size();
        for (int t = 0; t < Math.min(MOST_SETS, sets); t++) {
            Map<String, Double> byFamily = left.ofSplit(t);
            double all =
                    byFamily.values().stream().mapToDouble(Double::doubleValue).sum();
            double rest = byFamily.values().stream()
                    .skip(MOST_NAMED)
                    .mapToDouble(Double::doubleValue)
                    .sum();
            String longest = byFamily.entrySet().stream()
                    .limit(MOST_NAMED)
                    .map(e -> e.getKey() + " " + NumberFormats.seconds(e.getValue()))
                    .collect(Collectors.joining(", "));
            say("one split"
                    + (comparison.tasks().size() > 1
                            ? " of " + comparison.tasks().get(t).data().name()
                            : "")
                    + " takes about " + NumberFormats.seconds(all) + " of one thread: " + longest
                    + (byFamily.size() > MOST_NAMED ? ", all others " + NumberFormats.seconds(rest) : ""));
        }
        if (sets > MOST_SETS) {
            say("and so on, for " + Plural.of(sets - MOST_SETS, "more data set"));
        }
        say("the other fits take about " + NumberFormats.duration(seconds) + " on " + threads
                + (threads == 1 ? " thread" : " threads"));
    }

    private void say(String line) {
        watcher.say(Wrap.lines(line, LINE_INDENT).stripTrailing());
    }

    @Override
    public void close() {
        if (!counting) {
            watcher.done();
        }
        steps.close();
    }
}
