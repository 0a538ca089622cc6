package keenfold.io.plan;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Decimals;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.infer.contrast.Method;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.pick.SimplerBy;
import keenfold.core.prepare.LabelWeights;
import keenfold.core.prepare.Names;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.StepUse;
import keenfold.core.run.Halving;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.candidate.StepLists;
import keenfold.core.run.candidate.Tuning;
import keenfold.core.split.KFold;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.io.table.DataSpec;
import keenfold.io.table.parse.TableFormat;

/** Writes plans in one settled form that {@link PlanReader} reads back equal. */
public final class PlanWriter {
    private PlanWriter() {}

    private static final String EVIDENCE = "evidence: ";
    private static final String PICK = "pick: ";
    private static final String EFFORT = "effort: ";

    /** Returns the plan as YAML. */
    public static String write(Plan plan) {
        StringBuilder out = new StringBuilder("keenfold: 1\n");
        plan.note().ifPresent(n -> out.append("note: ").append(scalar(n)).append('\n'));
        out.append("data:\n");
        plan.data().forEach(d -> out.append("  - ").append(data(d)).append('\n'));
        plan.division()
                .holdout()
                .ifPresent(h -> out.append("holdout: ").append(setAside(h)).append('\n'));
        out.append("splits: ").append(splits(plan.division())).append('\n');
        plan.seed().ifPresent(s -> out.append("seed: ").append(s).append('\n'));
        out.append("metrics: ")
                .append(list(plan.metrics().stream().map(MetricName::text).toList()))
                .append('\n');
        out.append("primary: ").append(scalar(plan.primary().text())).append('\n');
        if (!plan.costs().none()) {
            Map<String, String> rows = new LinkedHashMap<>();
            plan.costs().byActual().forEach((actual, row) -> {
                Map<String, String> own = new LinkedHashMap<>();
                row.forEach((predicted, cost) -> own.put(scalar(predicted), Decimals.exact(cost)));
                rows.put(scalar(actual), map(own));
            });
            plan.costs().others().ifPresent(c -> rows.put(Costs.ELSE, Decimals.exact(c)));
            out.append("costs: ").append(map(rows)).append('\n');
        }
        if (plan.candidates().stream().anyMatch(PlanWriter::reliesOnPresets)) {
            out.append("presets: ").append(Setting.GENERATION).append('\n');
        }
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
        InferenceSettings asked = plan.evidence();
        if (asked.method() != Method.PIVOT) {
            evidence.put("method", asked.method().label());
        }
        asked.adjust().ifPresent(a -> evidence.put("adjust", a.label()));
        Halving halving = asked.halving();
        if (halving.splits() > 0) {
            String splits = Integer.toString(halving.splits());
            evidence.put(
                    "halves",
                    halving.repeats() == Halving.PRESET_REPEATS
                            ? splits
                            : "{splits: " + splits + ", repeats: " + halving.repeats() + "}");
        }
        out.append(EVIDENCE).append(map(evidence)).append('\n');
        Map<String, String> pick = new LinkedHashMap<>();
        pick.put("rule", plan.rule().label());
        if (plan.choosing().simplerBy() != SimplerBy.KIND) {
            pick.put("simpler-by", plan.choosing().simplerBy().label());
        }
        if (plan.choosing().failedAllowed()) {
            pick.put("failed", "allow");
        }
        out.append(PICK).append(map(pick)).append('\n');
        if (!plan.effort().isEmpty()) {
            Map<String, String> effort = new LinkedHashMap<>();
            plan.effort().forEach((name, seconds) -> effort.put(scalar(name), Decimals.exact(seconds)));
            out.append(EFFORT).append(map(effort)).append('\n');
        }
        return out.toString();
    }

    /**
     * Returns the plan as YAML below notes, which are comments there.
     *
     * @param notes a line each
     */
    public static String write(Plan plan, List<String> notes) {
        return notes.stream()
                        .map(n ->
                                "# " + n.replaceAll("[\\p{Cc}\\p{Cf}\\p{Cs}\\p{Zl}\\p{Zp}\\uFFFE\\uFFFF]+", " ") + "\n")
                        .collect(Collectors.joining())
                + write(plan);
    }

    /**
     * Returns the sections {@code evidence} and {@code pick} of a plan, each in a line.
     *
     * @param yaml as {@link #write} writes it
     */
    public static String stated(String yaml) {
        return yaml.lines()
                .filter(l -> l.startsWith(EVIDENCE) || l.startsWith(PICK))
                .map(l -> l + "\n")
                .collect(Collectors.joining());
    }

    private static String splits(Division division) {
        Map<String, String> map = new LinkedHashMap<>();
        SplitSource source = division.source();
        if (source instanceof SplitSource.Made made) {
            map.put("scheme", made.scheme().label());
            settings(made.scheme(), map);
        } else if (source instanceof SplitSource.GivenColumn given) {
            map.put("scheme", "given");
            map.put("column", scalar(given.column()));
        } else if (source instanceof SplitSource.GivenFile given) {
            map.put("scheme", "given");
            map.put("file", scalar(given.file()));
        } else if (source instanceof SplitSource.Apart apart) {
            map.put("scheme", "apart");
            map.put("test", scalar(apart.test()));
        }
        if (division.bindEqual()) {
            map.put("bind-equal", "true");
        }
        return map(map);
    }

    private static void settings(Scheme scheme, Map<String, String> map) {
        if (scheme instanceof KFold folds) {
            map.put("folds", Integer.toString(folds.folds()));
            map.put("repeats", Integer.toString(folds.repeats()));
            map.put("stratified", Boolean.toString(folds.stratified()));
        } else if (scheme instanceof MonteCarlo random) {
            map.put("share", Decimals.exact(random.share()));
            map.put("repeats", Integer.toString(random.repeats()));
            map.put("stratified", Boolean.toString(random.stratified()));
        } else if (scheme instanceof OutOfBag bag) {
            map.put("repeats", Integer.toString(bag.repeats()));
            map.put("stratified", Boolean.toString(bag.stratified()));
        } else if (scheme instanceof RollingOrigin rolling) {
            map.put("first", Decimals.exact(rolling.first()));
            map.put("step", Decimals.exact(rolling.step()));
            map.put("gap", Decimals.exact(rolling.gap()));
            map.put(
                    "window",
                    rolling.window().isPresent()
                            ? Decimals.exact(rolling.window().getAsDouble())
                            : "all");
        }
    }

    private static String setAside(Division.SetAside aside) {
        Map<String, String> map = new LinkedHashMap<>();
        aside.file().ifPresent(f -> map.put("file", scalar(f)));
        aside.drawn().ifPresent(h -> {
            map.put("share", Decimals.exact(h.share()));
            if (h.last()) {
                map.put("rows", "last");
            }
        });
        return map(map);
    }

    private static String data(DataSpec spec) {
        Map<String, String> map = new LinkedHashMap<>();
        map.put("file", scalar(spec.file()));
        map.put("name", scalar(spec.name()));
        map.put("target", scalar(spec.target()));
        spec.positive().ifPresent(p -> map.put("positive", scalar(p)));
        spec.groups().ifPresent(g -> map.put("groups", scalar(g)));
        spec.order().ifPresent(o -> map.put("order", scalar(o)));
        spec.weights().ifPresent(w -> map.put("weights", scalar(w)));
        put(map, "leave-out", spec.leaveOut());
        put(map, "text", sorted(spec.format().text()));
        put(map, "number", sorted(spec.format().number()));
        if (!spec.format().missing().equals(Set.copyOf(TableFormat.MISSING))) {
            map.put("missing", list(sorted(spec.format().missing())));
        }
        if (spec.format().decimal() != '.') {
            map.put("decimal", scalar(Character.toString(spec.format().decimal())));
        }
        spec.format().encoding().ifPresent(e -> map.put("encoding", scalar(e.name())));
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
        Map<String, String> settings = settings(first);
        // Steps come first: in that order the reader names members and makes grids.
        first.recipe().prepare().ifPresent(lists -> map.put("prepare", steps(lists, first, settings)));
        map.put("classifier", first.kind().name());
        settings.forEach((key, value) -> {
            if (key.indexOf('.') < 0 && !key.equals(StepLists.SETTING)) {
                map.put(key, value);
            }
        });
        first.recipe().wrappers().forEach(w -> map.put(w.name(), map(part(w.name(), settings))));
        first.tuning().ifPresent(t -> map.put("tuning", tuning(t)));
        first.sample().ifPresent(n -> map.put("sample", Integer.toString(n)));
        first.rank().ifPresent(n -> map.put("rank", Integer.toString(n)));
        first.timeLimit().ifPresent(seconds -> map.put("time-limit", Decimals.exact(seconds) + "s"));
        if (!first.seedName().equals(first.family())) {
            map.put("seeded-as", scalar(first.seedName()));
        }
        return map(map);
    }

    /** Whether a candidate has a preset that was another one before. */
    private static boolean reliesOnPresets(Candidate candidate) {
        Set<String> named = settings(candidate).keySet();
        return candidate.kind().settings().stream().anyMatch(s -> !s.former().isEmpty() && !named.contains(s.name()));
    }

    /** Each setting's value as a plan has it. Varied and chosen ones keep their order. */
    private static Map<String, String> settings(Candidate candidate) {
        Map<String, String> written = new LinkedHashMap<>();
        candidate.grid().forEach((key, values) -> written.put(key, "{vary: " + list(values) + "}"));
        candidate
                .tuning()
                .map(Tuning::choices)
                .orElse(Map.of())
                .forEach((key, values) -> written.put(key, "{choose: " + list(values) + "}"));
        candidate.settings().values().forEach((key, value) -> written.putIfAbsent(key, single(candidate, key, value)));
        return written;
    }

    private static String single(Candidate candidate, String key, String value) {
        Setting.Type type = candidate.recipe().setting(key).map(Setting::type).orElse(Setting.Type.TEXT);
        return switch (type) {
            case NAMES -> list(Names.split(value));
            case LABEL_WEIGHTS -> {
                Map<String, String> byLabel = new LinkedHashMap<>();
                LabelWeights.split(value).forEach((label, number) -> byLabel.put(scalar(label), number));
                yield map(byLabel);
            }
            default -> scalar(value);
        };
    }

    private static String steps(StepLists lists, Candidate candidate, Map<String, String> settings) {
        if (!lists.several()) {
            return steps(lists.all(), settings);
        }
        String way = candidate.grid().containsKey(StepLists.SETTING) ? "vary" : "choose";
        Map<String, String> byName = new LinkedHashMap<>();
        lists.byName().forEach((name, uses) -> byName.put(scalar(name), steps(uses, settings)));
        return map(Map.of(way, map(byName)));
    }

    private static String steps(List<StepUse> uses, Map<String, String> settings) {
        return uses.stream()
                .map(use -> {
                    Map<String, String> own = part(use.key(), settings);
                    String name = use.kind().name();
                    return own.isEmpty() ? name : "{" + name + ": " + map(own) + "}";
                })
                .collect(Collectors.joining(", ", "[", "]"));
    }

    private static Map<String, String> part(String part, Map<String, String> settings) {
        Map<String, String> own = new LinkedHashMap<>();
        settings.forEach((key, value) -> {
            if (key.startsWith(part + ".")) {
                own.put(key.substring(part.length() + 1), value);
            }
        });
        return own;
    }

    private static String tuning(Tuning tuning) {
        Map<String, String> map = new LinkedHashMap<>();
        map.put("folds", Integer.toString(tuning.folds()));
        map.put("repeats", Integer.toString(tuning.repeats()));
        map.put("by", tuning.by().label());
        map.put("metric", scalar(tuning.metric().text()));
        tuning.sample().ifPresent(n -> map.put("sample", Integer.toString(n)));
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
