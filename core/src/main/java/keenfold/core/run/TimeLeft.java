package keenfold.core.run;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Task;

/**
 * How long a run will still take, by what its units took so far: of each family on each data set by itself, since a fit of one
 * may take a thousand times as long as that of another.
 *
 * <p>What a unit takes is the mean of those seen, later mostly of the last ones. The first one is left out as soon as there is
 * another: it is slow, until the program is warm, and makes what the others share. Where no unit of a family has been seen on a
 * data set, those on others stand for it, in proportion to the rows; before any, what was expected.
 */
public final class TimeLeft {
    private static final int REMEMBERED = 10;

    private final List<String> names;
    private final double[] rows;
    private final int threads;
    private final double[] expected;
    private final double[][] mean;
    private final int[][] seen;
    private final double[][] left;
    private double busy;
    private int units;

    /**
     * @param expected seconds of a unit of a family, by its name, on the data set of the most rows; may lack some
     * @param threads that work at the same time
     */
    public TimeLeft(Comparison comparison, Map<String, Double> expected, int threads) {
        List<Task> tasks = comparison.tasks();
        this.names = comparison.families().stream().map(Family::name).toList();
        this.rows = tasks.stream().mapToDouble(t -> t.data().rows()).toArray();
        this.threads = threads;
        this.expected = names.stream()
                .mapToDouble(n -> expected.getOrDefault(n, Double.NaN))
                .toArray();
        this.mean = new double[rows.length][names.size()];
        this.seen = new int[rows.length][names.size()];
        this.left = new double[rows.length][names.size()];
    }

    /**
     * There is a unit to do.
     *
     * @param share how much of its rows' time it needs: 1, or 1/2 on a half of them
     */
    public synchronized void add(Unit unit, double share) {
        left[unit.task()][unit.family()] += share;
        units++;
    }

    /**
     * A unit is done.
     *
     * @param share as it was added
     * @param seconds that it took on its thread
     */
    public synchronized void took(Unit unit, double share, double seconds) {
        int t = unit.task();
        int f = unit.family();
        left[t][f] = Math.max(0, left[t][f] - share);
        units--;
        busy += seconds;
        seen[t][f]++;
        // The first one stands for the others only until there is another.
        mean[t][f] += (seconds / share - mean[t][f]) / Math.max(1, Math.min(seen[t][f] - 1, REMEMBERED));
    }

    /** Returns what a unit of a family takes on a data set, in seconds; NaN if nothing is known of the family. */
    public synchronized double ofUnit(int task, int family) {
        if (seen[task][family] > 0) {
            return mean[task][family];
        }
        double perRow = IntStream.range(0, rows.length)
                .filter(t -> seen[t][family] > 0)
                .mapToDouble(t -> mean[t][family] / rows[t])
                .average()
                .orElse(expected[family] / Arrays.stream(rows).max().orElse(1));
        return perRow * rows[task];
    }

    /**
     * Returns the seconds that are left; NaN as long as nothing is known.
     *
     * @param elapsed seconds since the run began
     */
    public synchronized double seconds(double elapsed) {
        double known = 0;
        double knownShare = 0;
        double unknownShare = 0;
        for (int t = 0; t < rows.length; t++) {
            for (int f = 0; f < names.size(); f++) {
                double one = ofUnit(t, f);
                if (Double.isNaN(one)) {
                    unknownShare += left[t][f];
                } else {
                    known += left[t][f] * one;
                    knownShare += left[t][f];
                }
            }
        }
        // A family of which nothing is known is taken to be like the others.
        double work = known + (unknownShare > 0 ? unknownShare * known / knownShare : 0);
        // Threads that share a processor, or wait for the disk, do less than each would alone.
        double pace = elapsed > 0 && busy > 0 ? Math.min(threads, Math.max(1, busy / elapsed)) : threads;
        return units == 0 ? 0 : work / Math.min(pace, units);
    }

    /**
     * Returns the seconds of one split of a data set by family, the longest first. Families of which nothing is known are left
     * out.
     */
    public synchronized Map<String, Double> ofSplit(int task) {
        Map<String, Double> all = new LinkedHashMap<>();
        IntStream.range(0, names.size())
                .filter(f -> !Double.isNaN(ofUnit(task, f)))
                .boxed()
                .sorted((a, b) -> Double.compare(ofUnit(task, b), ofUnit(task, a)))
                .forEach(f -> all.put(names.get(f), ofUnit(task, f)));
        return all;
    }
}
