package keenfold.core.prepare.step;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Keeps the columns that are named, or those that are not. A name also stands for what one-hot made of that column.
 *
 * @param those whether those named are kept, and not taken away
 */
record Keep(boolean those, Some some) implements StepOnSome {
    private static final Setting LEFT_OUT = Setting.names("columns", "those that go; A..B for all from A to B");
    private static final Setting KEPT = Setting.names("columns", "those that stay; A..B for all from A to B");

    /** The kind leave-out. */
    static final StepKind LEAVE_OUT = new StepKind(
            "leave-out",
            "takes columns away by name",
            new About("a name also stands for the columns that one-hot made of it", "", ""),
            false,
            List.of(LEFT_OUT),
            s -> new Keep(false, named("leave-out", s, LEFT_OUT)));

    /** The kind keep-only. */
    static final StepKind KEEP_ONLY = new StepKind(
            "keep-only",
            "takes all columns away but those named",
            new About("a name also stands for the columns that one-hot made of it", "", ""),
            false,
            List.of(KEPT),
            s -> new Keep(true, named("keep-only", s, KEPT)));

    static Some named(String step, Settings s, Setting names) {
        if (s.names(names).isEmpty()) {
            throw Checks.wrong(step + " needs the names of columns, as in {" + step + ": [a, b]}");
        }
        return new Some(s.names(names));
    }

    @Override
    public LearnedStep fit(Training training) {
        List<Column> columns = training.table().columns();
        Some own = some.in(training.table());
        return new LearnedStep.ColumnChoice(IntStream.range(0, columns.size())
                .filter(j -> own.names(columns.get(j).name()) == those)
                .boxed()
                .toList());
    }
}
