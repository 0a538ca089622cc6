package keenfold.view.model;

import java.time.LocalDate;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.Table;
import keenfold.core.learned.ClassNodes;
import keenfold.core.learned.ClassTree;
import keenfold.core.run.pipeline.ColumnOrigin;
import keenfold.core.run.pipeline.FittedPipeline;

/**
 * A node of a tree.
 *
 * @param depth how many splits stand above it
 * @param condition what is true of its rows, beside what is of the node above
 * @param weight of its training rows: their number, where all count alike
 * @param shares of the classes
 * @param leaf its number from 1; 0 if it is split
 */
public record TreeRule(int depth, String condition, double weight, List<Double> shares, int leaf) {
    private static final int MOST_SHOWN = 6;

    /** Copies the shares. */
    public TreeRule {
        shares = List.copyOf(shares);
    }

    /** Returns the class that has the largest share, the first among equals. */
    public int most() {
        return IntStream.range(0, shares.size()).reduce(0, (a, b) -> shares.get(b) > shares.get(a) ? b : a);
    }

    /** Returns the nodes of a tree, each before those below it, the left side first; nothing for other classifiers. */
    public static List<TreeRule> of(FittedPipeline predictor, Table raw, Set<String> dates) {
        return predictor.learned() instanceof ClassTree tree
                ? of(tree.nodes(), ColumnOrigin.of(predictor, raw), dates)
                : List.of();
    }

    static List<TreeRule> of(ClassNodes nodes, List<ColumnOrigin> columns, Set<String> dates) {
        List<TreeRule> all = new ArrayList<>();
        Deque<Integer> open = new ArrayDeque<>();
        int[] begun = new int[nodes.count()];
        int leaf = 0;
        for (int i = 0; i < begun.length; i++) {
            String condition = "all rows";
            if (i > 0) {
                while (begun[open.element()] == 2) {
                    open.pop();
                }
                int above = open.element();
                boolean left = begun[above]++ == 0;
                ColumnOrigin column = columns.get(nodes.columns().get(above));
                condition = condition(column, nodes.thresholds().get(above), left, dates);
            }
            int depth = open.size();
            if (nodes.leaf(i)) {
                leaf++;
            } else {
                open.push(i);
            }
            List<Double> own = Arrays.stream(nodes.sharesOf(i)).boxed().toList();
            all.add(new TreeRule(depth, condition, nodes.weights().get(i), own, nodes.leaf(i) ? leaf : 0));
        }
        return all;
    }

    /** What is true of the rows that go to one side of a split. */
    private static String condition(ColumnOrigin column, double threshold, boolean left, Set<String> dates) {
        return switch (column.kind()) {
            case LEVEL ->
                column.raw() + (left ? " is not " : " is ") + column.levels().get(0);
            case MISSING -> column.raw() + (left ? " is there" : " is missing");
            case NUMBER -> {
                double at = column.raw(threshold);
                yield column.raw()
                        + (left ? " <= " : " > ")
                        + (dates.contains(column.raw())
                                ? LocalDate.ofEpochDay((long) Math.floor(at + 1e-6))
                                        .toString()
                                : ShortNumber.of(at));
            }
            case PLACE -> {
                List<String> low = column.upTo(threshold);
                List<String> of = left
                        ? low
                        : column.levels().stream().filter(l -> !low.contains(l)).toList();
                yield of.size() <= MOST_SHOWN
                        ? column.raw() + " is " + String.join(" or ", of)
                        : column.head() + (left ? " <= " : " > ") + ShortNumber.of(column.head(threshold));
            }
            default -> column.head() + (left ? " <= " : " > ") + ShortNumber.of(column.head(threshold));
        };
    }
}
