package keenfold.core.run;

import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.stream.IntStream;

/**
 * Which shard does which unit: a pure function of plan, data, the number of shards, and the effort that the plan names, so
 * that every shard knows its own without asking anyone.
 *
 * <p>The units, those of refits behind those of the run itself, are taken by falling effort, each by the shard that has the
 * least so far (the first among equals): no shard then has more than 4/3 − 1/(3n) times what the best division would give
 * the busiest (Graham 1969, SIAM J. Appl. Math. 17(2), doi:10.1137/0117039).
 */
public final class Shares {
    private final int[] shard;
    private final int ofRun;
    private final int ofResample;
    private final Map<Integer, Integer> placeInResample = new HashMap<>();
    private final double[] loads;

    private record Load(double sum, int shard) {}

    /**
     * Divides the units.
     *
     * @param refits how many resamples the whole is run on, 0 or more
     * @param effort of one unit of a family, by its name, in any unit of time; 1 where there is none
     * @param shards how many
     */
    public Shares(Comparison comparison, int refits, Map<String, Double> effort, int shards) {
        List<Unit> units = comparison.units();
        List<Family> families = comparison.families();
        int[] once = IntStream.range(0, units.size())
                .filter(u -> units.get(u).repeat() == 0)
                .toArray();
        ofRun = units.size();
        ofResample = once.length;
        for (int k = 0; k < once.length; k++) {
            placeInResample.put(once[k], k);
        }
        int all = Math.addExact(ofRun, Math.multiplyExact(refits, ofResample));
        // Within one data set a family's units cost the same; between data sets they are taken to go with the rows.
        double most =
                comparison.tasks().stream().mapToInt(t -> t.data().rows()).max().orElse(1);
        double[] cost = new double[all];
        for (int u = 0; u < all; u++) {
            Unit unit = units.get(u < ofRun ? u : once[(u - ofRun) % ofResample]);
            cost[u] = effort.getOrDefault(families.get(unit.family()).name(), 1.0)
                    * comparison.tasks().get(unit.task()).data().rows()
                    / most;
        }
        Integer[] order = IntStream.range(0, all).boxed().toArray(Integer[]::new);
        Arrays.sort(order, Comparator.comparingDouble((Integer u) -> -cost[u]));
        PriorityQueue<Load> idle =
                new PriorityQueue<>(Comparator.comparingDouble(Load::sum).thenComparingInt(Load::shard));
        for (int s = 0; s < shards; s++) {
            idle.add(new Load(0, s));
        }
        shard = new int[all];
        loads = new double[shards];
        for (int u : order) {
            Load least = idle.remove();
            shard[u] = least.shard;
            loads[least.shard] = least.sum + cost[u];
            idle.add(new Load(loads[least.shard], least.shard));
        }
    }

    /** Returns whether a unit of the run itself is a shard's. */
    public boolean has(Shard one, Unit unit) {
        return shard[unit.number()] == one.number() - 1;
    }

    /**
     * Returns whether a unit of a refit is a shard's.
     *
     * @param resample its number, from 0
     */
    public boolean has(Shard one, int resample, Unit unit) {
        int place = placeInResample.getOrDefault(unit.number(), -1);
        return shard[ofRun + resample * ofResample + place] == one.number() - 1;
    }

    /** Returns the effort of each shard, in the unit that it was given in. */
    public double[] loads() {
        return loads.clone();
    }
}
