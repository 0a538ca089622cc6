package keenfold.core.prepare.step;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Training;

/** Takes columns of texts away whose words no step before has read: there is nothing in them for a classifier. */
public record DropTexts() implements Step {
    @Override
    public LearnedStep fit(Training training) {
        List<Column> columns = training.table().columns();
        return new LearnedStep.ColumnChoice(IntStream.range(0, columns.size())
                .filter(j -> !texts(columns.get(j)))
                .boxed()
                .toList());
    }

    @Override
    public boolean concerns(Table table) {
        return table.columns().stream().anyMatch(DropTexts::texts);
    }

    @Override
    public boolean leaves(Table table) {
        return !concerns(table);
    }

    private static boolean texts(Column column) {
        return column instanceof Categories categories && categories.texts();
    }
}
