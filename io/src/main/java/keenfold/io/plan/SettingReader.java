package keenfold.io.plan;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Decimals;
import keenfold.core.data.Suggestion;
import keenfold.core.prepare.LabelWeights;
import keenfold.core.prepare.Names;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.run.candidate.StepLists;

/** Reads the settings of one candidate: which have a value, which are varied, which are chosen by tuning. */
final class SettingReader {
    private static final Set<String> WAYS = Set.of("vary", "choose");

    private final Map<String, String> fixed = new LinkedHashMap<>();
    private final Map<String, List<String>> varied = new LinkedHashMap<>();
    private final Map<String, List<String>> chosen = new LinkedHashMap<>();

    Map<String, String> fixed() {
        return Collections.unmodifiableMap(fixed);
    }

    Map<String, List<String>> varied() {
        return Collections.unmodifiableMap(varied);
    }

    Map<String, List<String>> chosen() {
        return Collections.unmodifiableMap(chosen);
    }

    /** Gives a setting a value that the plan does not name. */
    void fix(String key, String value) {
        fixed.put(key, value);
    }

    /** Reads one setting under the name that the candidate gives it. */
    void read(String key, Setting setting, PlanNode value) {
        if (!value.isMap() || setting.type() == Setting.Type.LABEL_WEIGHTS) {
            fixed.put(key, checked(setting, value));
            return;
        }
        Map<String, PlanNode> ways = value.map(PlanReader.names(PlanKeys.VARY));
        if (ways.size() != 1) {
            throw value.wrong("expected one of vary and choose");
        }
        if (setting.type() == Setting.Type.NAMES) {
            throw value.wrong("a list of names cannot be varied or chosen: write one candidate for each list");
        }
        (ways.containsKey("vary") ? varied : chosen)
                .put(key, values(setting, ways.values().iterator().next()));
    }

    /**
     * Reads the list of steps: each a name, {@code {NAME: VALUE}} or {@code {NAME: {SETTING: VALUE, ..}}}. Or several such
     * lists, varied or chosen, which may have names.
     */
    StepLists steps(PlanNode node) {
        if (!node.isMap()) {
            List<StepUse> uses = StepUse.of(kinds(node));
            settings(uses, node);
            return StepLists.single(uses);
        }
        Map<String, PlanNode> ways = node.map(PlanReader.names(PlanKeys.VARY));
        if (ways.size() != 1) {
            throw node.wrong("expected one of vary and choose");
        }
        boolean vary = ways.containsKey("vary");
        PlanNode lists = ways.values().iterator().next();
        Map<String, PlanNode> byName = lists.isMap() ? named(lists) : labelled(lists);
        if (byName.isEmpty()) {
            throw lists.wrong("no list of steps");
        }
        Map<String, List<StepKind>> kinds = new LinkedHashMap<>();
        byName.forEach((name, list) -> kinds.put(name, kinds(list)));
        StepLists read = StepLists.of(kinds);
        byName.forEach((name, list) -> settings(read.byName().getOrDefault(name, List.of()), list));
        (vary ? varied : chosen).put(StepLists.SETTING, List.copyOf(byName.keySet()));
        if (varied.size() + chosen.size() > 1) {
            throw lists.wrong("a setting in one of several lists of steps has one value:"
                    + " write one more list for each other value");
        }
        return read;
    }

    private static Map<String, PlanNode> named(PlanNode lists) {
        Map<String, PlanNode> byName = new LinkedHashMap<>();
        lists.entries().forEach((name, list) -> byName.put(name.as(PlanReader::plainName), list));
        lists.map();
        return byName;
    }

    /** Lists without names are called after their steps, such as {@code fill+components=5}. */
    private static Map<String, PlanNode> labelled(PlanNode lists) {
        Map<String, PlanNode> byLabel = new LinkedHashMap<>();
        for (PlanNode list : lists.list()) {
            SettingReader own = new SettingReader();
            List<StepUse> uses = own.steps(list).all();
            String label = uses.stream()
                    .map(use -> label(use, new Settings(own.fixed()).of(use.key())))
                    .collect(Collectors.joining("+"));
            if (byLabel.putIfAbsent(label.isEmpty() ? "no-steps" : label, list) != null) {
                throw list.wrong("the list \"" + label + "\" stands here twice; if they differ, give them names:"
                        + " {vary: {NAME: [..], NAME: [..]}}");
            }
        }
        return byLabel;
    }

    private static String label(StepUse use, Settings own) {
        String first = use.kind().settings().isEmpty()
                ? ""
                : use.kind().settings().get(0).name();
        return use.kind().name()
                + own.values().entrySet().stream()
                        .map(e -> (e.getKey().equals(first) ? "=" : ":" + e.getKey() + "=") + e.getValue())
                        .collect(Collectors.joining())
                        .replaceAll("[/,\\p{Cc}\\p{Cf}\\p{Zl}\\p{Zp}]", ".");
    }

    private static List<StepKind> kinds(PlanNode list) {
        List<StepKind> kinds = new ArrayList<>();
        for (PlanNode item : list.list()) {
            PlanNode named = item.isMap() ? single(item).getKey() : item;
            kinds.add(named.as(SettingReader::stepKind));
        }
        return kinds;
    }

    private void settings(List<StepUse> uses, PlanNode list) {
        List<PlanNode> items = list.list();
        for (int i = 0; i < items.size(); i++) {
            if (items.get(i).isMap()) {
                StepUse use = uses.get(i);
                part(use.key(), use.kind().settings(), single(items.get(i)).getValue());
            }
        }
    }

    private static Map.Entry<PlanNode, PlanNode> single(PlanNode item) {
        Map<PlanNode, PlanNode> map = item.entries();
        if (map.size() != 1) {
            throw item.wrong("expected one step, such as {fill: mean}; each step is an item of the list of its own");
        }
        return map.entrySet().iterator().next();
    }

    /** Reads the settings of one part: a value of its first, or a map of them. */
    void part(String part, List<Setting> settings, PlanNode value) {
        boolean byName = value.isMap() && Collections.disjoint(value.map().keySet(), WAYS);
        if (!byName) {
            read(part + "." + settings.get(0).name(), settings.get(0), value);
            return;
        }
        Map<String, PlanNode> given =
                value.map(settings.stream().map(Setting::name).toList());
        for (Setting setting : settings) {
            if (given.containsKey(setting.name())) {
                read(part + "." + setting.name(), setting, given.get(setting.name()));
            }
        }
    }

    private static StepKind stepKind(String text) {
        List<String> names = StepKinds.all().stream().map(StepKind::name).toList();
        return StepKinds.of(text)
                .orElseThrow(() -> Checks.wrong("step \"" + text + "\" is not known" + Suggestion.hint(text, names)));
    }

    private static List<String> values(Setting setting, PlanNode node) {
        List<String> values = node.isMap()
                ? range(setting, node)
                : node.list().stream().map(item -> checked(setting, item)).toList();
        if (values.isEmpty() || values.stream().distinct().count() < values.size()) {
            throw node.wrong(values.isEmpty() ? "no value" : "a value stands here twice");
        }
        return values;
    }

    private static String checked(Setting setting, PlanNode node) {
        if (setting.type() == Setting.Type.LABEL_WEIGHTS) {
            Map<String, String> byLabel = new LinkedHashMap<>();
            node.map().forEach((label, number) -> byLabel.put(label, number.text()));
            return node.check(() -> {
                String weights = LabelWeights.join(byLabel);
                setting.check(weights);
                return weights;
            });
        }
        if (setting.type() == Setting.Type.NAMES) {
            String names =
                    Names.join(node.listOrOne().stream().map(PlanNode::text).toList());
            node.check(() -> {
                setting.check(names);
                return names;
            });
            return names;
        }
        return node.as(text -> {
            setting.check(text);
            return text;
        });
    }

    /** Values between two ends, rounded to four significant digits, so that a member's name says all of its value. */
    private static List<String> range(Setting setting, PlanNode node) {
        Map<String, PlanNode> map = node.map(PlanReader.names(PlanKeys.RANGE));
        double from = PlanReader.required(map, node, "from").number();
        double to = PlanReader.required(map, node, "to").number();
        int points = PlanReader.required(map, node, "points").whole();
        String scale = map.containsKey("scale") ? map.get("scale").text() : "linear";
        return node.check(() -> {
            Checks.atLeast("points", points, 2);
            PlanLimits.most("points", points, PlanLimits.POINTS);
            Checks.that(scale.equals("linear") || scale.equals("log"), "scale \"%s\": expected linear or log", scale);
            Checks.that(scale.equals("linear") || (from > 0 && to > 0), "a log scale needs ends above 0");
            List<String> values = new ArrayList<>();
            for (int i = 0; i < points; i++) {
                double share = (double) i / (points - 1);
                double value = scale.equals("log")
                        ? StrictMath.exp(StrictMath.log(from) + share * (StrictMath.log(to) - StrictMath.log(from)))
                        : from + share * (to - from);
                String text = setting.type() == Setting.Type.WHOLE
                        ? Long.toString(Math.round(value))
                        : Decimals.rounded(value, 4);
                setting.check(text);
                values.add(text);
            }
            return values.stream().distinct().toList();
        });
    }
}
