package keenfold.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.result.Task;

/**
 * Which shard does which unit: a pure function of plan, data, the number of shards, and the effort that the plan names, so
 * that every shard knows its own without asking anyone.
 *
 * <p>The units, those of halves behind those of the run itself, are taken by falling effort, each by the shard that has the
 * least so far (the first among equals): no shard then has more than 4/3 − 1/(3n) times what the best division would give
 * the busiest (Graham 1969, SIAM J. Appl. Math. 17(2), doi:10.1137/0117039).
 */
public final class Shares {
    private final int[] shard;
    private final int ofRun;
    private final int ofHalf;
    private final double[] loads;

    /**
     * Divides the units.
     *
     * @param halving how many halves of the rows the candidates are run on too
     * @param effort of one unit of a family, by its name, in any unit of time; 1 where there is none
     * @param shards how many
     */
    public Shares(Comparison comparison, Halving halving, Map<String, Double> effort, int shards) {
        List<Family> families = comparison.families();
        List<Task> tasks = comparison.tasks();
        // Within one data set a family's units cost the same; between data sets they are taken to go with the rows.
        double most = tasks.stream().mapToInt(t -> t.data().rows()).max().orElse(1);
        double[][] costs = new double[tasks.size()][families.size()];
        for (int t = 0; t < costs.length; t++) {
            for (int f = 0; f < families.size(); f++) {
                costs[t][f] = effort.getOrDefault(families.get(f).name(), 1.0)
                        * tasks.get(t).data().rows()
                        / most;
            }
        }
        ofRun = comparison.unitCount();
        ofHalf = families.size()
                * halving.repeats()
                * tasks.stream().mapToInt(t -> t.splits().folds(0)).sum();
        int all = Math.addExact(ofRun, Math.multiplyExact(halving.halves(), ofHalf));
        double[] cost = new double[all];
        comparison.forEachUnit(unit -> cost[unit.number()] = costs[unit.task()][unit.family()]);
        comparison.forEachUnitOfHalf(halving.repeats(), unit -> {
            for (int n = 0; n < halving.halves(); n++) {
                // Half of the rows: taken to need half the time.
                cost[ofRun + n * ofHalf + unit.number()] = costs[unit.task()][unit.family()] / 2;
            }
        });
        double[] rising = Arrays.stream(costs)
                .flatMapToDouble(Arrays::stream)
                .flatMap(c -> DoubleStream.of(c, c / 2))
                .distinct()
                .sorted()
                .toArray();
        int[] order = falling(cost, rising);
        shard = new int[all];
        loads = new double[shards];
        int[] idle = IntStream.range(0, shards).toArray();
        for (int u : order) {
            shard[u] = idle[0];
            loads[idle[0]] += cost[u];
            sink(idle, loads);
        }
    }

    /**
     * Moves the first of a heap to its place after its load has grown: the least load is first, of equal ones the shard of
     * the lower number.
     */
    private static void sink(int[] heap, double[] loads) {
        int moved = heap[0];
        int at = 0;
        while (2 * at + 1 < heap.length) {
            int child = 2 * at + 1;
            if (child + 1 < heap.length && before(heap[child + 1], heap[child], loads)) {
                child++;
            }
            if (!before(heap[child], moved, loads)) {
                break;
            }
            heap[at] = heap[child];
            at = child;
        }
        heap[at] = moved;
    }

    private static boolean before(int one, int other, double[] loads) {
        return loads[one] < loads[other] || (loads[one] == loads[other] && one < other);
    }

    /**
     * Returns places by falling value, equal ones as they stand: counted out, since there are few different values, and of
     * ten million units every shard does this by itself.
     *
     * @param rising the different values, rising
     */
    private static int[] falling(double[] values, double[] rising) {
        int[] ranks = new int[values.length];
        int[] next = new int[rising.length + 1];
        for (int u = 0; u < values.length; u++) {
            ranks[u] = rising.length - 1 - Arrays.binarySearch(rising, values[u]);
            next[ranks[u] + 1]++;
        }
        for (int r = 1; r < next.length; r++) {
            next[r] += next[r - 1];
        }
        int[] order = new int[values.length];
        for (int u = 0; u < ranks.length; u++) {
            order[next[ranks[u]]++] = u;
        }
        return order;
    }

    /** Returns whether a unit of the run itself is a shard's. */
    public boolean has(Shard one, Unit unit) {
        return shard[unit.number()] == one.number() - 1;
    }

    /**
     * Returns whether a unit of a half is a shard's.
     *
     * @param half its number, from 0
     */
    public boolean has(Shard one, int half, Unit unit) {
        return shard[ofRun + half * ofHalf + unit.number()] == one.number() - 1;
    }

    /** Returns the effort of each shard, in the unit that it was given in. */
    public double[] loads() {
        return loads.clone();
    }
}
