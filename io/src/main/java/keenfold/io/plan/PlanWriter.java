package keenfold.io.plan;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Decimals;
import keenfold.core.metric.MetricName;
import keenfold.core.run.Candidate;
import keenfold.core.run.Family;
import keenfold.io.table.DataSpec;
import keenfold.io.table.TableFormat;

/** Writes plans in one settled form that {@link PlanReader} reads back equal. */
public final class PlanWriter {
    private PlanWriter() {}

    /** Returns the plan as YAML. */
    public static String write(Plan plan) {
        StringBuilder out = new StringBuilder("keenfold: 1\n");
        plan.note().ifPresent(n -> out.append("note: ").append(scalar(n)).append('\n'));
        out.append("data:\n");
        plan.data().forEach(d -> out.append("  - ").append(data(d)).append('\n'));
        out.append("splits: ").append(splits(plan)).append('\n');
        plan.seed().ifPresent(s -> out.append("seed: ").append(s).append('\n'));
        out.append("metrics: ")
                .append(list(plan.metrics().stream().map(MetricName::text).toList()))
                .append('\n');
        out.append("primary: ").append(scalar(plan.primary().text())).append('\n');
        out.append("candidates:\n");
        for (Family family : Family.of(plan.candidates())) {
            out.append("  ")
                    .append(scalar(family.name()))
                    .append(": ")
                    .append(family(family))
                    .append('\n');
        }
        Map<String, String> evidence = new LinkedHashMap<>();
        evidence.put("draws", Integer.toString(plan.evidence().draws()));
        evidence.put("level", Decimals.exact(plan.evidence().level()));
        evidence.put("margin", Decimals.exact(plan.evidence().margin()));
        plan.evidence().against().ifPresent(a -> evidence.put("against", scalar(a)));
        out.append("evidence: ").append(map(evidence)).append('\n');
        out.append("pick: {rule: ").append(plan.rule().label()).append("}\n");
        return out.toString();
    }

    private static String splits(Plan plan) {
        Map<String, String> map = new LinkedHashMap<>();
        map.put("scheme", "k-fold");
        map.put("folds", Integer.toString(plan.splits().folds()));
        map.put("repeats", Integer.toString(plan.splits().repeats()));
        map.put("stratified", Boolean.toString(plan.splits().stratified()));
        return map(map);
    }

    private static String data(DataSpec spec) {
        Map<String, String> map = new LinkedHashMap<>();
        map.put("file", scalar(spec.file()));
        map.put("name", scalar(spec.name()));
        map.put("target", scalar(spec.target()));
        spec.positive().ifPresent(p -> map.put("positive", scalar(p)));
        spec.groups().ifPresent(g -> map.put("groups", scalar(g)));
        put(map, "leave-out", spec.leaveOut());
        put(map, "text", sorted(spec.format().text()));
        put(map, "number", sorted(spec.format().number()));
        if (!spec.format().missing().equals(Set.copyOf(TableFormat.MISSING))) {
            map.put("missing", list(sorted(spec.format().missing())));
        }
        spec.format().separator().ifPresent(s -> map.put("separator", s == '\t' ? "tab" : scalar(s.toString())));
        return map(map);
    }

    private static Collection<String> sorted(Set<String> texts) {
        Set<String> sorted = new TreeSet<>(CodePoints.ORDER);
        sorted.addAll(texts);
        return sorted;
    }

    private static void put(Map<String, String> map, String key, Collection<String> texts) {
        if (!texts.isEmpty()) {
            map.put(key, list(texts));
        }
    }

    private static String family(Family family) {
        Candidate first = family.members().get(0);
        Map<String, String> map = new LinkedHashMap<>();
        map.put("classifier", first.kind().name());
        for (String key : first.settings().values().keySet()) {
            Set<String> values = new LinkedHashSet<>();
            family.members().forEach(m -> values.add(m.settings().values().getOrDefault(key, "")));
            map.put(
                    key,
                    first.varied().contains(key)
                            ? "{vary: " + list(values) + "}"
                            : scalar(new ArrayList<>(values).get(0)));
        }
        return map(map);
    }

    private static String map(Map<String, String> entries) {
        return entries.entrySet().stream()
                .map(e -> e.getKey() + ": " + e.getValue())
                .collect(Collectors.joining(", ", "{", "}"));
    }

    private static String list(Collection<String> texts) {
        return texts.stream().map(PlanWriter::scalar).collect(Collectors.joining(", ", "[", "]"));
    }

    /** Plain where it is safe, otherwise in quotation marks as in JSON. */
    static String scalar(String text) {
        if (text.matches("[A-Za-z0-9_][A-Za-z0-9_./+-]*")) {
            return text;
        }
        StringBuilder quoted = new StringBuilder("\"");
        text.chars().forEach(c -> {
            if (c == '"' || c == '\\') {
                quoted.append('\\').append((char) c);
            } else if (c < ' ' || (c >= 0x7F && c < 0xA0) || c == 0x2028 || c == 0x2029 || c == 0xFEFF) {
                quoted.append(String.format("\\u%04x", c));
            } else {
                quoted.append((char) c);
            }
        });
        return quoted.append('"').toString();
    }
}
