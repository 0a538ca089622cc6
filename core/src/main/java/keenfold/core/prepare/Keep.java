package keenfold.core.prepare;

import java.util.List;
import keenfold.core.data.Column;
import keenfold.core.data.Table;

/**
 * Keeps the columns that are named, or those that are not. A name also stands for what one-hot made of that column.
 *
 * @param those whether those named are kept, and not taken away
 */
record Keep(boolean those, Some some) implements StepOnSome {
    @Override
    public Fitted fit(Training training) {
        return t -> {
            List<Column> kept = t.columns().stream()
                    .filter(c -> some.names(c.name()) == those)
                    .toList();
            return new Table(t.rows(), kept);
        };
    }
}
