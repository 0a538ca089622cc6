package keenfold.core.prepare.step;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Column;
import keenfold.core.data.Lists;
import keenfold.core.data.Numbers;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Adds the product of each pair of number columns, named {@code a*b}, behind the columns there are; with {@code squares}
 * also each column's own square. A missing factor makes a missing product. It learns nothing.
 */
record Interactions(boolean squares, Some some) implements StepOnSome {
    private static final Setting SQUARES = Setting.choice("squares", false, "whether each column's square is added");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "interactions",
            "adds the products of pairs of number columns",
            new About("a*b behind the columns there are, with squares also a*a; learns nothing", "", ""),
            false,
            List.of(SQUARES, Some.COLUMNS),
            s -> new Interactions(s.yes(SQUARES), Some.of(s)));

    private static final int MOST = 20_000;

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public LearnedStep fit(Training training) {
        List<Column> columns = training.table().columns();
        Some own = some.in(training.table());
        int[] factors = IntStream.range(0, columns.size())
                .filter(j -> columns.get(j) instanceof Numbers
                        && own.has(columns.get(j).name()))
                .toArray();
        long products = (long) factors.length * (factors.length - 1) / 2 + (squares ? factors.length : 0);
        if (products > MOST) {
            throw new FitFailure("interactions of " + factors.length + " columns would make " + products
                    + " columns: name fewer in its columns, or put strongest before it");
        }
        return new LearnedStep.ColumnProducts(Lists.of(factors), squares);
    }
}
