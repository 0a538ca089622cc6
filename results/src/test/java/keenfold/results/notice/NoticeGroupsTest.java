package keenfold.results.notice;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Notice;
import org.junit.jupiter.api.Test;

class NoticeGroupsTest {
    /** Data set, metric and text; the first two may be empty. */
    private static Notice notice(String dataset, String metric, String text) {
        return Notice.plain("some-code", text).about(dataset, metric);
    }

    private static List<String> grouped(Notice... notices) {
        return NoticeGroups.grouped(Arrays.asList(notices));
    }

    @Test
    void oneThingOfSeveralDataSetsAndMetricsIsSaidOnce() {
        assertThat(grouped(
                        notice("hives", "", "too few repeats"),
                        notice("swarm", "", "other"),
                        notice("swarm", "", "too few repeats"),
                        notice("hives", "auc", "rough"),
                        notice("hives", "f1", "rough"),
                        notice("", "", "no subject at all"),
                        notice("", "", "a file, line 3: no subject at all")))
                .containsExactly(
                        "hives, swarm: too few repeats",
                        "swarm: other",
                        "hives (auc, f1): rough",
                        "no subject at all",
                        "a file, line 3: no subject at all");
        // Metrics that differ stand with their data set; of many, the first ones are named.
        assertThat(grouped(notice("a", "auc", "rough"), notice("b", "f1", "rough")))
                .containsExactly("a (auc), b (f1): rough");
        assertThat(grouped(
                        notice("a", "m1", "x"),
                        notice("a", "m2", "x"),
                        notice("a", "m3", "x"),
                        notice("a", "m4", "x"),
                        notice("a", "m5", "x")))
                .containsExactly("a (m1, m2, m3 and 2 more metrics): x");
        assertThat(grouped(
                        notice("a", "", "x"),
                        notice("b", "", "x"),
                        notice("c", "", "x"),
                        notice("d", "", "x"),
                        notice("e", "", "x"),
                        notice("f", "", "x")))
                .containsExactly("a, b, c and 3 more data sets: x");
    }
}
