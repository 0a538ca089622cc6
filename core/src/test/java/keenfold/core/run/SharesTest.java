package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class SharesTest {
    private static Comparison comparison() {
        List<Task> tasks = List.of(task("small", 40), task("large", 120));
        return new Comparison(
                tasks,
                List.of(Trials.candidate("quick", "majority"), Trials.candidate("slow", "forest", "trees=5")),
                3);
    }

    private static Task task(String name, int rows) {
        DataSet data = Trials.data(name, 5, rows, 1, 0);
        return Task.of(data, new KFold(4, 3, true).divide(data, 1), List.of(MetricName.parse("accuracy")));
    }

    /** How many shards do a unit. */
    private static long owners(Shares shares, int of, Unit unit, int half) {
        return IntStream.rangeClosed(1, of)
                .mapToObj(i -> new Shard(i, of))
                .filter(s -> half < 0 ? shares.has(s, unit) : shares.has(s, half, unit))
                .count();
    }

    @Test
    void everyUnitIsOneShards() {
        Comparison comparison = comparison();
        for (int of : new int[] {1, 2, 7, 48, 100}) {
            Shares shares = new Shares(comparison, new Halving(1, 5), Map.of("slow", 9.0), of);
            for (Unit unit : comparison.units()) {
                assertThat(owners(shares, of, unit, -1)).isEqualTo(1);
            }
            // More repeats than the run itself has.
            comparison.forEachUnitOfHalf(5, unit -> {
                assertThat(owners(shares, of, unit, 0)).isEqualTo(1);
                assertThat(owners(shares, of, unit, 1)).isEqualTo(1);
            });
            assertThat(shares.loads()).hasSize(of);
        }
    }

    /** Loads summed anew from the definition, and within Graham's bound of the mean and the largest unit. */
    @Test
    void sharesTakeEquallyLong() {
        Comparison comparison = comparison();
        Map<String, Double> effort = Map.of("quick", 0.5, "slow", 8.0);
        int of = 5;
        Shares shares = new Shares(comparison, Halving.NONE, effort, of);
        double[] sums = new double[of];
        double all = 0;
        double largest = 0;
        for (Unit unit : comparison.units()) {
            double cost = (unit.family() == 0 ? 0.5 : 8) * (unit.task() == 0 ? 40 : 120) / 120;
            all += cost;
            largest = Math.max(largest, cost);
            for (int s = 0; s < of; s++) {
                sums[s] += shares.has(new Shard(s + 1, of), unit) ? cost : 0;
            }
        }
        for (int s = 0; s < of; s++) {
            assertThat(sums[s]).isCloseTo(shares.loads()[s], org.assertj.core.api.Assertions.within(1e-9));
        }
        // The best division is no better than the mean, nor than the largest unit.
        double best = Math.max(all / of, largest);
        assertThat(Arrays.stream(sums).max().orElse(0)).isLessThanOrEqualTo(best * (4.0 / 3 - 1 / (3.0 * of)));
        assertThat(new Shares(comparison, Halving.NONE, effort, of).loads()).containsExactly(shares.loads());
    }

    @Test
    void whatIsNoShardIsRefused() {
        assertThat(Shard.parse("3/8")).isEqualTo(new Shard(3, 8)).hasToString("3/8");
        for (String wrong : List.of("0/3", "4/3", "3", "a/b", "1/0", "-1/2")) {
            assertThatThrownBy(() -> Shard.parse(wrong))
                    .isInstanceOf(IllegalArgumentException.class)
                    .hasMessageStartingWith("shard ");
        }
    }
}
