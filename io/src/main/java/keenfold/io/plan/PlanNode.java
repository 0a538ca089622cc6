package keenfold.io.plan;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
import keenfold.core.data.ValueException;
import keenfold.io.InputException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.NodeTuple;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;

/** A piece of a plan that knows where it stands: the way to it, line and column go into every complaint. */
final class PlanNode {
    private static final int QUOTED = 80;

    private final String file;
    private final Node node;
    private final String way;

    PlanNode(String file, Node node, String way) {
        this.file = file;
        this.node = node;
        this.way = way;
    }

    /** The key under which this stands, with those above it. */
    String way() {
        return way;
    }

    boolean isList() {
        return node instanceof SequenceNode;
    }

    boolean isMap() {
        return node instanceof MappingNode;
    }

    /** The map, its keys checked against those known. */
    Map<String, PlanNode> map(List<String> known) {
        Map<String, PlanNode> map = map();
        for (Map.Entry<String, PlanNode> entry : map.entrySet()) {
            if (!known.contains(entry.getKey())) {
                throw entry.getValue()
                        .wrong("unknown key \"" + shortened(entry.getKey()) + "\""
                                + Suggestion.hint(entry.getKey(), known));
            }
        }
        return map;
    }

    /** The map, whatever its keys. */
    Map<String, PlanNode> map() {
        if (!(node instanceof MappingNode mapping)) {
            throw wrong("expected keys with values" + found());
        }
        Map<String, PlanNode> map = new LinkedHashMap<>();
        Set<String> seen = new HashSet<>();
        for (NodeTuple tuple : mapping.getValue()) {
            String key = new PlanNode(file, tuple.getKeyNode(), way).text();
            PlanNode value = new PlanNode(file, tuple.getValueNode(), way.isEmpty() ? key : way + "." + key);
            if (!seen.add(key)) {
                throw new PlanNode(file, tuple.getKeyNode(), value.way).wrong("this key stands here twice");
            }
            map.put(key, value);
        }
        return map;
    }

    /** The map with its keys as pieces of the plan too. */
    Map<PlanNode, PlanNode> entries() {
        if (!(node instanceof MappingNode mapping)) {
            throw wrong("expected keys with values" + found());
        }
        Map<PlanNode, PlanNode> entries = new LinkedHashMap<>();
        for (NodeTuple tuple : mapping.getValue()) {
            PlanNode key = new PlanNode(file, tuple.getKeyNode(), way);
            entries.put(key, new PlanNode(file, tuple.getValueNode(), way + "." + key.text()));
        }
        return entries;
    }

    List<PlanNode> list() {
        if (!(node instanceof SequenceNode sequence)) {
            throw wrong("expected a list, such as [a, b]" + found());
        }
        List<PlanNode> list = new ArrayList<>();
        for (Node item : sequence.getValue()) {
            list.add(new PlanNode(file, item, way + "[" + (list.size() + 1) + "]"));
        }
        return list;
    }

    /** The list, or the one item that stands in its place. */
    List<PlanNode> listOrOne() {
        return isList() ? list() : List.of(this);
    }

    String text() {
        if (!(node instanceof ScalarNode scalar)) {
            throw wrong("expected a single value" + found());
        }
        int length = scalar.getValue().length();
        if (length > PlanLimits.CHARACTERS) {
            throw wrong("has " + length + " characters; a value of a plan has at most " + PlanLimits.CHARACTERS);
        }
        return scalar.getValue();
    }

    /** The value that a reading of the text gives; its complaint gets this place. */
    <T> T as(Function<String, T> reading) {
        try {
            return reading.apply(text());
        } catch (ValueException e) {
            throw wrong(String.valueOf(e.getMessage()).replace(text(), shortened(text())));
        }
    }

    /** The text as complaints quote it. */
    private static String shortened(String text) {
        return text.length() > QUOTED ? text.substring(0, QUOTED) + "..." : text;
    }

    int whole() {
        return as(t -> {
            Checks.that(t.matches("[+-]?[0-9]{1,9}"), "\"%s\": expected a whole number", t);
            return Integer.parseInt(t);
        });
    }

    double number() {
        return as(t -> {
            Checks.that(
                    t.matches("[+-]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][+-]?[0-9]{1,3})?"),
                    "\"%s\": expected a number",
                    t);
            return Double.parseDouble(t);
        });
    }

    boolean truth() {
        return as(t -> {
            Checks.that(t.equals("true") || t.equals("false"), "\"%s\": expected true or false", t);
            return t.equals("true");
        });
    }

    private String found() {
        return switch (node.getNodeId()) {
            case scalar -> ", found \"" + shortened(((ScalarNode) node).getValue()) + "\"";
            case sequence -> ", found a list";
            case mapping -> ", found keys with values";
            case anchor -> ", found an anchor";
        };
    }

    InputException wrong(String cause) {
        String place = String.format(
                Locale.ROOT,
                "%s, line %d, column %d%s",
                file,
                node.getStartMark().getLine() + 1,
                node.getStartMark().getColumn() + 1,
                way.isEmpty() ? "" : ", key \"" + way + "\"");
        return new InputException(place, cause);
    }

    /** Runs something whose complaints about its arguments belong to this place. */
    <T> T check(java.util.function.Supplier<T> made) {
        try {
            return made.get();
        } catch (ValueException e) {
            throw wrong(Optional.ofNullable(e.getMessage()).orElse("cannot be used"));
        }
    }
}
