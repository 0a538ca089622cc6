package keenfold.io.pmml;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.learned.BoostedTrees.ValueNodes;
import keenfold.core.learned.ClassNodes;

/** Trees as models of the standard. */
final class TreeForm {
    private static final List<Object> ATTRIBUTES =
            List.of("missingValueStrategy", "none", "splitCharacteristic", "binarySplit");

    private final ModelChain chain;
    private final List<Field> columns;

    TreeForm(ModelChain chain, List<Field> columns) {
        this.chain = chain;
        this.columns = columns;
    }

    /** A tree of class shares. */
    Segment tree(ClassNodes nodes) {
        Set<String> used = new LinkedHashSet<>();
        nodes.columns().stream()
                .filter(c -> c >= 0)
                .forEach(c -> used.add(columns.get(c).name()));
        return Segment.classifier("TreeModel", ATTRIBUTES, used, xml -> {
            // Of each open node what writes the predicate of its right side, nothing once that is begun.
            Deque<Optional<Runnable>> rights = new ArrayDeque<>();
            Runnable predicate = () -> xml.leaf("True");
            for (int i = 0; i < nodes.count(); i++) {
                double[] own = nodes.sharesOf(i);
                double weight = nodes.weights().get(i);
                String label = chain.labels().get(ModelChain.largest(own));
                xml.open("Node", "score", label, "recordCount", weight);
                predicate.run();
                chain.distribution(xml, own, weight);
                if (nodes.leaf(i)) {
                    predicate = closed(xml, rights);
                } else {
                    String field = columns.get(nodes.columns().get(i)).name();
                    double at = nodes.thresholds().get(i);
                    rights.push(Optional.of(() -> side(xml, field, "greaterThan", at)));
                    predicate = () -> side(xml, field, "lessOrEqual", at);
                }
            }
        });
    }

    /** A tree of values. */
    Segment values(ValueNodes nodes) {
        Set<String> used = new LinkedHashSet<>();
        for (int i = 0; i < nodes.columns().size(); i++) {
            if (!nodes.leaf(i)) {
                used.add(field(nodes, i));
            }
        }
        return Segment.number("TreeModel", ATTRIBUTES, used, xml -> {
            Deque<Optional<Runnable>> rights = new ArrayDeque<>();
            Deque<Integer> next = new ArrayDeque<>(List.of(0));
            Runnable predicate = () -> xml.leaf("True");
            while (!next.isEmpty()) {
                int i = next.pop();
                xml.open("Node", "score", nodes.values().get(i));
                predicate.run();
                if (nodes.leaf(i)) {
                    predicate = closed(xml, rights);
                } else {
                    String field = field(nodes, i);
                    double at = nodes.thresholds().get(i);
                    rights.push(Optional.of(() -> side(xml, field, "greaterThan", at)));
                    predicate = () -> side(xml, field, "lessOrEqual", at);
                    next.push(nodes.right().get(i));
                    next.push(nodes.left().get(i));
                }
            }
        });
    }

    private String field(ValueNodes nodes, int node) {
        return columns.get(nodes.columns().get(node)).name();
    }

    /** Ends a leaf and every node whose right side it ends; returns what writes the predicate of the next node. */
    private static Runnable closed(Xml xml, Deque<Optional<Runnable>> rights) {
        xml.close();
        while (!rights.isEmpty()) {
            Optional<Runnable> right = rights.pop();
            if (right.isPresent()) {
                rights.push(Optional.empty());
                return right.get();
            }
            xml.close();
        }
        return () -> {};
    }

    private static void side(Xml xml, String field, String operator, double value) {
        xml.leaf("SimplePredicate", "field", field, "operator", operator, "value", value);
    }
}
