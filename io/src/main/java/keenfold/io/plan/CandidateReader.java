package keenfold.io.plan;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.ClassifierKinds;
import keenfold.core.classify.Setting;
import keenfold.core.classify.Settings;
import keenfold.core.data.Checks;
import keenfold.core.data.Decimals;
import keenfold.core.run.Candidate;
import keenfold.io.Nearest;

/** Reads the candidates of a plan, spreading families out over the values of their varied settings. */
final class CandidateReader {
    private final PlanNode node;

    CandidateReader(PlanNode node) {
        this.node = node;
    }

    List<Candidate> read() {
        List<Candidate> candidates = new ArrayList<>();
        for (Map.Entry<String, PlanNode> entry : node.map().entrySet()) {
            entry.getValue().check(() -> PlanReader.plainName(entry.getKey()));
            candidates.addAll(family(entry.getKey(), entry.getValue()));
        }
        if (candidates.isEmpty()) {
            throw node.wrong("no candidate: name at least one");
        }
        return candidates;
    }

    private static List<Candidate> family(String name, PlanNode node) {
        Map<String, PlanNode> map = node.map();
        PlanNode kindNode = PlanReader.required(map, node, "classifier");
        ClassifierKind kind = kindNode.as(CandidateReader::kind);
        List<String> known = new ArrayList<>(PlanReader.names(PlanKeys.CANDIDATE));
        kind.settings().forEach(s -> known.add(s.name()));
        node.map(known);
        Map<String, List<String>> grid = new LinkedHashMap<>();
        List<String> varied = new ArrayList<>();
        map.forEach((key, value) -> kind.setting(key).ifPresent(setting -> {
            if (value.isMap()) {
                varied.add(key);
            }
            grid.put(key, values(setting, value));
        }));
        return node.check(() -> spread(name, kind, grid, varied));
    }

    /** Makes the members of a family, the last varied setting changing fastest. */
    static List<Candidate> spread(
            String name, ClassifierKind kind, Map<String, List<String>> grid, List<String> varied) {
        List<Settings> all = List.of(Settings.none());
        for (Map.Entry<String, List<String>> setting : grid.entrySet()) {
            List<Settings> longer = new ArrayList<>();
            for (Settings so : all) {
                setting.getValue().forEach(v -> longer.add(so.with(setting.getKey(), v)));
            }
            all = longer;
        }
        List<Candidate> members = new ArrayList<>();
        for (Settings settings : all) {
            StringBuilder full = new StringBuilder(name);
            varied.forEach(v -> full.append('/').append(settings.values().get(v)));
            members.add(new Candidate(full.toString(), name, kind, settings, varied));
        }
        return members;
    }

    static ClassifierKind kind(String text) {
        List<String> names =
                ClassifierKinds.all().stream().map(ClassifierKind::name).toList();
        return ClassifierKinds.of(text)
                .orElseThrow(() -> new IllegalArgumentException(
                        "classifier \"" + text + "\" is not known" + Nearest.hint(text, names)));
    }

    private static List<String> values(Setting setting, PlanNode value) {
        if (!value.isMap()) {
            return List.of(checked(setting, value));
        }
        PlanNode vary = PlanReader.required(value.map(PlanReader.names(PlanKeys.VARY)), value, "vary");
        List<String> values = vary.isMap()
                ? range(setting, vary)
                : vary.list().stream().map(item -> checked(setting, item)).toList();
        if (values.isEmpty() || values.stream().distinct().count() < values.size()) {
            throw vary.wrong(values.isEmpty() ? "no value to vary over" : "a value stands here twice");
        }
        return values;
    }

    private static String checked(Setting setting, PlanNode node) {
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
