package keenfold.io.pmml;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * All fields of a document: those of the data, those that models put out, and those derived of them.
 *
 * <p>What derives of data alone stands once, for the whole document; what derives of the output of a model stands in each
 * model that uses it, since it is not known before.
 */
final class Fields {
    private final Set<String> given = new LinkedHashSet<>();
    private final Set<String> put = new HashSet<>();
    private final Map<String, Derived> derived = new LinkedHashMap<>();
    private final Set<String> late = new HashSet<>();
    private final String target;

    /** @param target name of the field that is predicted */
    Fields(String target) {
        this.target = target;
        given.add(target);
    }

    /** Returns the name of the field that is predicted. */
    String target() {
        return target;
    }

    private record Derived(String name, boolean numeric, Expression expression) {
        void write(Xml xml) {
            xml.open(
                    "DerivedField",
                    "name",
                    name,
                    "optype",
                    numeric ? "continuous" : "categorical",
                    "dataType",
                    numeric ? "double" : "string");
            expression.form().accept(xml);
            xml.close();
        }
    }

    /** Adds a field of the data. */
    void give(String name) {
        given.add(name);
    }

    /** Adds a field that a model puts out, under the wished name or one like it. */
    String put(String wished) {
        String name = free(wished);
        put.add(name);
        late.add(name);
        return name;
    }

    /** Adds a derived number. */
    String number(String wished, Expression expression) {
        return derive(wished, true, expression);
    }

    /** Adds a derived category. */
    String category(String wished, Expression expression) {
        return derive(wished, false, expression);
    }

    private String derive(String wished, boolean numeric, Expression expression) {
        String name = free(wished);
        derived.put(name, new Derived(name, numeric, expression));
        if (expression.fields().stream().anyMatch(late::contains)) {
            late.add(name);
        }
        return name;
    }

    private String free(String wished) {
        String name = wished;
        for (int n = 2; given.contains(name) || put.contains(name) || derived.containsKey(name); n++) {
            name = wished + " " + n;
        }
        return name;
    }

    /** Returns the fields, of the data or put out by a model, that some fields come of. */
    Set<String> sources(Collection<String> names) {
        Set<String> all = new LinkedHashSet<>();
        for (String name : names) {
            Derived made = derived.get(name);
            if (made == null) {
                all.add(name);
            } else {
                all.addAll(sources(made.expression.fields()));
            }
        }
        return all;
    }

    /** Returns those of some fields that are of the data. */
    Set<String> ofData(Collection<String> names) {
        Set<String> all = new LinkedHashSet<>(given);
        all.retainAll(sources(names));
        return all;
    }

    /** Writes what derives of data alone. */
    void writeEarly(Xml xml) {
        List<Derived> early =
                derived.values().stream().filter(d -> !late.contains(d.name)).toList();
        if (!early.isEmpty()) {
            xml.open("TransformationDictionary");
            early.forEach(d -> d.write(xml));
            xml.close();
        }
    }

    /** Writes what some fields derive of, where that is the output of models. */
    void writeLate(Xml xml, Collection<String> names) {
        Set<String> wanted = new HashSet<>();
        List<String> open = new ArrayList<>(names);
        while (!open.isEmpty()) {
            String name = open.remove(open.size() - 1);
            if (derived.containsKey(name) && late.contains(name) && wanted.add(name)) {
                open.addAll(derived.get(name).expression.fields());
            }
        }
        if (!wanted.isEmpty()) {
            xml.open("LocalTransformations");
            // In the order in which they were derived, each stands behind what it reads.
            derived.values().stream().filter(d -> wanted.contains(d.name)).forEach(d -> d.write(xml));
            xml.close();
        }
    }
}
