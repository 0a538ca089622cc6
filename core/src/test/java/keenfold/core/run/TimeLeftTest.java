package keenfold.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Map;
import keenfold.core.data.DataSet;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.run.result.Task;
import keenfold.core.split.KFold;
import org.junit.jupiter.api.Test;

class TimeLeftTest {
    private static final KFold SPLITS = new KFold(5, 2, true);

    private static Task task(String name, int rows) {
        DataSet data = Trials.data(name, 1, rows, 1.0, 0);
        return Task.of(data, SPLITS.divide(data, 1), List.of(MetricName.parse("accuracy")));
    }

    /** Two data sets of 100 and 50 rows, two families, 10 splits each. */
    private static Comparison comparison() {
        return new Comparison(
                List.of(task("large", 100), task("small", 50)),
                List.of(Trials.candidate("guess", "majority"), Trials.candidate("tree", "tree", "depth=2")),
                1);
    }

    private static Unit unit(int task, int family) {
        return new Unit(0, task, 0, 0, family);
    }

    private static TimeLeft of(Map<String, Double> expected, int threads) {
        TimeLeft left = new TimeLeft(comparison(), expected, threads);
        comparison().forEachUnit(u -> left.add(u, 1));
        return left;
    }

    @Test
    void eachFamilyTakesWhatItTook() {
        TimeLeft left = of(Map.of(), 1);
        assertThat(left.seconds(0)).isNaN();
        left.took(unit(0, 0), 1, 1);
        left.took(unit(0, 1), 1, 30);
        // On half of the rows, half of the time: 9·1 + 10·0.5 and 9·30 + 10·15.
        assertThat(left.seconds(31)).isCloseTo(14 + 420, within(1e-9));
        // The first of a family is forgotten once there is another.
        left.took(unit(0, 1), 1, 10);
        left.took(unit(0, 1), 1, 14);
        assertThat(left.ofUnit(0, 1)).isCloseTo(12, within(1e-9));
        left.took(unit(1, 1), 1, 4);
        assertThat(left.seconds(60)).isCloseTo(9 * 1 + 10 * 0.5 + 7 * 12 + 9 * 4, within(1e-9));
        assertThat(left.ofSplit(0).keySet()).containsExactly("tree", "guess");
    }

    @Test
    void threadsShareTheWork() {
        TimeLeft left = of(Map.of("guess", 2.0, "tree", 6.0), 4);
        assertThat(left.seconds(0)).isCloseTo((10 * 8 + 10 * 4) / 4.0, within(1e-9));
        // Four threads that did 12 seconds of work in 6 are worth two.
        left.took(unit(0, 0), 1, 6);
        left.took(unit(0, 1), 1, 6);
        assertThat(left.seconds(6)).isCloseTo((9 * 6 + 10 * 3 + 9 * 6 + 10 * 3) / 2.0, within(1e-9));
    }

    @Test
    void halvesCountHalfAndAnUnknownFamilyIsLikeTheOthers() {
        TimeLeft left = new TimeLeft(comparison(), Map.of(), 1);
        for (int i = 0; i < 4; i++) {
            left.add(unit(0, 0), 0.5);
        }
        left.add(unit(0, 1), 1);
        left.took(unit(0, 0), 0.5, 3);
        // 1.5 of 6 s are known to be left, and one unit of another family.
        assertThat(left.seconds(3)).isCloseTo(9 + 6, within(1e-9));
        for (int i = 0; i < 3; i++) {
            left.took(unit(0, 0), 0.5, 3);
        }
        left.took(unit(0, 1), 1, 5);
        assertThat(left.seconds(20)).isZero();
    }
}
