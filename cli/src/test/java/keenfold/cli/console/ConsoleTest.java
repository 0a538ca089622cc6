package keenfold.cli.console;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.cli.Keenfold;
import keenfold.core.data.Notice;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.io.plan.Choosing;
import keenfold.io.plan.Division;
import keenfold.io.plan.Plan;
import keenfold.io.table.DataSpec;
import keenfold.io.table.parse.TableFormat;
import keenfold.study.plan.PlanFiles;
import org.junit.jupiter.api.Test;
import org.mockito.InOrder;
import picocli.CommandLine;

class ConsoleTest {
    private static Common common(String... flags) {
        Common common = new Common();
        new CommandLine(new Holder(common)).parseArgs(flags);
        return common;
    }

    @CommandLine.Command(name = "x")
    private static final class Holder {
        @CommandLine.Mixin
        private final Common common;

        Holder(Common common) {
            this.common = common;
        }
    }

    @Test
    void aNoticeIsGivenOnceAfterWhatStandsOnStandardOutput() {
        PrintStream out = mock(PrintStream.class);
        PrintStream err = mock(PrintStream.class);
        Console console = new Console(out, err);
        console.notices(List.of(Notice.plain("c", "look"), Notice.plain("c", "look")), common());
        console.notice("c", "look", common());
        InOrder order = inOrder(out, err);
        order.verify(out).flush();
        order.verify(err).write(any(byte[].class), anyInt(), anyInt());
        verify(err, org.mockito.Mockito.times(1)).write(any(byte[].class), anyInt(), anyInt());
    }

    @Test
    void quietLeavesResultsOnly() {
        PrintStream err = mock(PrintStream.class);
        Console console = new Console(mock(PrintStream.class), err);
        console.notice("c", "look", common("--quiet"));
        console.say("something", common("--quiet"));
        try (Progress progress = Progress.of(console, common("--quiet"), 3)) {
            progress.step();
        }
        verify(err, never()).write(any(byte[].class), anyInt(), anyInt());
        verify(err, never()).write(anyInt());
    }

    @Test
    void flagsArePassedOnToCommandsThatACommandCalls() {
        assertThat(common("--quiet", "--trace").flags()).containsExactly("--quiet", "--trace");
        assertThat(common("--no-color").color()).isFalse();
    }

    @Test
    void progressEndsWithACount() {
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        Console console = new Console(mock(PrintStream.class), new PrintStream(said, true, StandardCharsets.UTF_8));
        try (Progress progress = Progress.of(console, common(), 4)) {
            for (int i = 0; i < 3; i++) {
                progress.step();
            }
        }
        assertThat(said.toString(StandardCharsets.UTF_8)).containsPattern("fitted 3 of 4 units in [0-9.]+ s");
    }

    @Test
    void aSavedPlanNamesItsFilesFromWhereItStands() {
        DataSpec spec = new DataSpec(
                "data/hives.csv",
                "hives",
                "y",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                List.of(),
                TableFormat.PLAIN);
        MetricName auc = MetricName.parse("auc");
        Plan plan = new Plan(
                Optional.empty(),
                List.of(spec),
                Division.DEFAULT,
                Optional.of(1L),
                List.of(auc),
                Costs.NONE,
                auc,
                List.of(),
                InferenceSettings.DEFAULT,
                Choosing.PRESET,
                Map.of());
        assertThat(PlanFiles.relativeTo(plan, Path.of("plans")).data().get(0).file())
                .isEqualTo("../data/hives.csv");
        assertThat(PlanFiles.relativeTo(plan, Path.of("")).data().get(0).file()).isEqualTo("data/hives.csv");
    }

    @Test
    void anUnforeseenFailureIsOurFaultAndSaysSo() {
        ByteArrayOutputStream said = new ByteArrayOutputStream();
        PrintStream err = new PrintStream(said, true, StandardCharsets.UTF_8);
        Console console = mock(Console.class);
        when(console.err()).thenReturn(err);
        when(console.out()).thenReturn(err);
        // The parser takes the first writer; the second is that of the document.
        when(console.writer()).thenReturn(new StringWriter()).thenThrow(new IllegalStateException("boom"));
        int code = Keenfold.execute(console, "survey", "../demo/swarm.csv", "--json", "--quiet");
        assertThat(code).isEqualTo(Exit.FAULT);
        assertThat(said.toString(StandardCharsets.UTF_8))
                .contains("a fault in Keen Fold itself")
                .contains("boom");
    }
}
