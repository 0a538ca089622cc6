package keenfold.view.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.Test;

class NoticeGroupsTest {
    @Test
    void oneThingOfSeveralDataSetsAndMetricsIsSaidOnce() {
        assertThat(NoticeGroups.grouped(List.of(
                        "hives: too few repeats",
                        "swarm: other",
                        "swarm: too few repeats",
                        "hives (auc): rough",
                        "hives (f1): rough",
                        "no subject at all",
                        "a file, line 3: no subject at all")))
                .containsExactly(
                        "hives, swarm: too few repeats",
                        "swarm: other",
                        "hives (auc, f1): rough",
                        "no subject at all",
                        "a file, line 3: no subject at all");
        // Metrics that differ stand with their data set; of many, the first ones are named.
        assertThat(NoticeGroups.grouped(List.of("a (auc): rough", "b (f1): rough")))
                .containsExactly("a (auc), b (f1): rough");
        assertThat(NoticeGroups.grouped(List.of("a (m1): x", "a (m2): x", "a (m3): x", "a (m4): x", "a (m5): x")))
                .containsExactly("a (m1, m2, m3 and 2 more metrics): x");
        assertThat(NoticeGroups.grouped(List.of("a: x", "b: x", "c: x", "d: x", "e: x", "f: x")))
                .containsExactly("a, b, c and 3 more data sets: x");
    }
}
