package keenfold.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PresetStudyTest {
    private static final String FORMER_TREE = "tree:depth=8:leaf-rows=5:pruning=0:smoothing=0";
    private static final String FORMER_NETWORK = "network:units=8:weight-decay=1:steps=200:patience=10:all-rows=no";

    private static VariedTable table(String name) {
        return VariedTable.ALL.stream()
                .filter(t -> t.name().equals(name))
                .findFirst()
                .orElseThrow();
    }

    /** Leaves that are sure of what few rows said cost a log-loss of several units. */
    @ParameterizedTest
    @ValueSource(strings = {"queens", "hum", "colonies", "swarms"})
    void aPrunedTreeIsNotSurerThanItMayBe(String name) {
        double[] now = PresetStudy.scores(table(name), "tree");
        double[] before = PresetStudy.scores(table(name), FORMER_TREE);
        assertThat(now[0]).isGreaterThan(before[0] - 0.06);
        assertThat(now[2]).isLessThan(0.75).isLessThan(before[2] / 3);
    }

    @ParameterizedTest
    @ValueSource(strings = {"honey", "pollen", "crossings"})
    void aWiderNetworkOnAllRowsIsBetterByEveryMetric(String name) {
        double[] now = PresetStudy.scores(table(name), "network");
        double[] before = PresetStudy.scores(table(name), FORMER_NETWORK);
        assertThat(now[0]).isGreaterThan(before[0]);
        assertThat(now[1]).isGreaterThan(before[1]);
        assertThat(now[2]).isLessThan(before[2] + 0.02);
    }

    /** Shapes differ in what serves them: no straight border divides rings, products and rules. */
    @Test
    void tablesAreVaried() {
        assertThat(VariedTable.ALL).hasSizeGreaterThanOrEqualTo(10);
        for (String bent : List.of("pollen", "crossings", "weather")) {
            double straight = PresetStudy.scores(table(bent), "logistic")[0];
            assertThat(PresetStudy.scores(table(bent), "forest:trees=50")[0]).isGreaterThan(straight + 0.1);
        }
        double straight = PresetStudy.scores(table("colonies"), "logistic")[0];
        assertThat(PresetStudy.scores(table("colonies"), "nearest:neighbours=1")[0])
                .isLessThan(straight - 0.03);
    }
}
