package keenfold.core.learned;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * The shares of the classes, but for the first, among the rows of a category's level. With two classes the column keeps its
 * name, with more there is one {@code column: label} for each. A number column stays.
 *
 * @param labels of all classes but the first
 * @param byCode for each of them the share by the code of the level
 * @param unseen for each of them the share that a level without a code of its own has
 * @param missing for each of them the share where the level is missing
 */
public record LevelMeans(List<String> labels, List<Vector> byCode, Vector unseen, Vector missing)
        implements ColumnTransform {
    /** Copies the lists. */
    public LevelMeans {
        labels = List.copyOf(labels);
        byCode = List.copyOf(byCode);
        Checks.that(
                labels.size() == byCode.size() && labels.size() == unseen.size() && labels.size() == missing.size(),
                "shares of other classes than %s",
                labels);
    }

    @Override
    public List<Column> of(Column column) {
        return column.match(List::of, this::shares);
    }

    private List<Column> shares(Categories column) {
        List<Column> made = new ArrayList<>();
        for (int c = 0; c < labels.size(); c++) {
            Vector own = byCode.get(c);
            double[] values = new double[column.rows()];
            for (int i = 0; i < values.length; i++) {
                int code = column.code(i);
                values[i] = code < 0 ? missing.get(c) : code < own.size() ? own.get(code) : unseen.get(c);
            }
            made.add(Numbers.owning(name(column.name(), c), values));
        }
        return made;
    }

    /** Returns the name of the column of a class. */
    public String name(String column, int c) {
        return labels.size() == 1 ? column : column + ": " + labels.get(c);
    }

    @Override
    public State state() {
        return State.of("level-means")
                .withTexts("labels", labels)
                .withRows("shares", byCode)
                .with("unseen", unseen)
                .with("missing", missing);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.levelMeans(this);
    }
}
