package keenfold.core.prepare;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Column;

/**
 * Keeps the columns that are named, or those that are not. A name also stands for what one-hot made of that column.
 *
 * @param those whether those named are kept, and not taken away
 */
record Keep(boolean those, Some some) implements StepOnSome {
    @Override
    public Fitted fit(Training training) {
        List<Column> columns = training.table().columns();
        return new FittedSteps.Choice(IntStream.range(0, columns.size())
                .filter(j -> some.names(columns.get(j).name()) == those)
                .toArray());
    }
}
