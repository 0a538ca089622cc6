package keenfold.io.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import java.util.stream.Stream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Checks;
import keenfold.core.data.Seed;
import keenfold.core.data.Suggestion;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Names;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.StepLists;
import keenfold.core.run.candidate.Tuning;
import keenfold.io.command.CommandKind;
import keenfold.io.command.Programs;

/** Reads the candidates of a plan, spreading families out over the values of their varied settings. */
final class CandidateReader {
    private final PlanNode node;
    private final MetricName primary;
    private final Programs programs;
    private static final String CLASSIFIER = "classifier";

    private final Costs costs;
    private final int presets;

    /**
     * @param primary the metric that tuning goes by unless it names another
     * @param costs of predictions, for tuning and thresholds by the metric cost
     * @param programs where the user's programs are looked for, and whether they may be started
     * @param presets the generation whose presets hold where a candidate names no value
     */
    CandidateReader(PlanNode node, MetricName primary, Costs costs, Programs programs, int presets) {
        this.presets = presets;
        this.costs = costs;
        this.node = node;
        this.primary = primary;
        this.programs = programs;
    }

    List<Candidate> read() {
        List<Candidate> candidates = new ArrayList<>();
        for (Map.Entry<String, PlanNode> entry : node.map().entrySet()) {
            boolean adopted = Optional.ofNullable(entry.getValue().map().get(CLASSIFIER))
                    .filter(n -> n.text().equals(AdoptedKind.NAME))
                    .isPresent();
            entry.getValue()
                    .check(() -> adopted ? AdoptedKind.name(entry.getKey()) : PlanReader.plainName(entry.getKey()));
            candidates.addAll(family(entry.getKey(), entry.getValue(), List.copyOf(candidates)));
            entry.getValue().check(() -> PlanLimits.most("candidates", candidates.size(), PlanLimits.CANDIDATES));
        }
        if (candidates.isEmpty()) {
            throw node.wrong("no candidate: name at least one");
        }
        return candidates;
    }

    /** @param above the candidates that stand above it in the plan */
    private List<Candidate> family(String name, PlanNode node, List<Candidate> above) {
        Map<String, PlanNode> map = node.map();
        if (!map.containsKey(CLASSIFIER)) {
            // A key that is nearly it was meant for it, and is what is wrong.
            Suggestion.to(CLASSIFIER, map.keySet())
                    .filter(k -> !PlanReader.names(PlanKeys.CANDIDATE).contains(k))
                    .ifPresent(k -> {
                        throw Optional.ofNullable(map.get(k))
                                .orElse(node)
                                .wrong("the key \"" + k + "\" is not known; the nearest is \"" + CLASSIFIER + "\"");
                    });
        }
        PlanNode kindNode = PlanReader.required(map, node, CLASSIFIER);
        ClassifierKind kind = CommandKind.in(programs, kindNode.as(CandidateReader::kind));
        List<String> known = new ArrayList<>(PlanReader.names(PlanKeys.CANDIDATE));
        kind.settings().forEach(s -> known.add(s.name()));
        node.map(known);
        SettingReader settings = new SettingReader();
        Optional<StepLists> steps = Optional.ofNullable(map.get("prepare")).map(settings::steps);
        List<WrapperKind> wrappers = WrapperKind.all().stream()
                .filter(w -> map.containsKey(w.name()))
                .toList();
        map.forEach((key, value) -> kind.setting(key).ifPresent(setting -> settings.read(key, setting, value)));
        // Former presets are written out, so that the candidate means the same to whoever reads it later.
        kind.settings().stream()
                .filter(s -> !map.containsKey(s.name()) && !s.preset(presets).equals(s.preset()))
                .forEach(s -> settings.fix(s.name(), s.preset(presets)));
        wrappers.forEach(w -> Optional.ofNullable(map.get(w.name()))
                .ifPresent(value -> settings.part(w.name(), w.settings(), value)));
        List<Candidate> members = Optional.ofNullable(map.get(ClassifierKind.MEMBERS))
                .map(n -> members(n, above))
                .orElse(List.of());
        if (!members.isEmpty()) {
            // A family's name stands for its members, whose own names are what the plan keeps.
            settings.fix(
                    ClassifierKind.MEMBERS,
                    Names.join(members.stream().map(Candidate::name).toList()));
        }
        Optional<Tuning> tuning = node.check(() -> tuning(map, node, settings.chosen()));
        Optional<Integer> sample = Optional.ofNullable(map.get("sample")).map(PlanNode::whole);
        OptionalDouble limit = map.containsKey("time-limit")
                ? OptionalDouble.of(map.get("time-limit").as(CandidateReader::seconds))
                : OptionalDouble.empty();
        OptionalInt rank = Optional.ofNullable(map.get("rank"))
                .map(n -> OptionalInt.of(n.check(() -> Checks.atLeast("rank", n.whole(), 1))))
                .orElse(OptionalInt.empty());
        return node.check(() -> spread(
                name,
                new Recipe(steps, kind, wrappers, members, costs),
                settings.fixed(),
                settings.varied(),
                sample,
                tuning,
                limit,
                rank,
                Optional.ofNullable(map.get("seeded-as"))
                        .map(n -> n.as(PlanReader::plainName))
                        .orElse(name)));
    }

    /**
     * Each item names a candidate, or a family, whose members all are members then. A candidate may be named twice, as earlier
     * plans did; where a family is named, nobody would have meant it.
     */
    private static List<Candidate> members(PlanNode node, List<Candidate> above) {
        List<Candidate> members = new ArrayList<>();
        boolean families = false;
        for (PlanNode item : node.listOrOne()) {
            List<Candidate> meant = item.as(text -> {
                List<Candidate> named =
                        above.stream().filter(c -> c.name().equals(text)).toList();
                List<Candidate> family =
                        above.stream().filter(c -> c.family().equals(text)).toList();
                Checks.that(
                        !family.isEmpty() || !named.isEmpty(),
                        "no candidate and no family called \"%s\" stands above it in the plan%s",
                        text,
                        Suggestion.hint(
                                text,
                                Stream.concat(
                                                above.stream().map(Candidate::name),
                                                above.stream().map(Candidate::family))
                                        .distinct()
                                        .toList()));
                return named.isEmpty() ? family : named;
            });
            families |= meant.size() > 1;
            Optional<Candidate> again = meant.stream().filter(members::contains).findFirst();
            if (families && again.isPresent()) {
                throw item.wrong("\"" + again.get().name() + "\" is a member already");
            }
            members.addAll(meant);
        }
        return members;
    }

    private Optional<Tuning> tuning(Map<String, PlanNode> map, PlanNode node, Map<String, List<String>> chosen) {
        PlanNode said = map.get("tuning");
        if (chosen.isEmpty()) {
            if (said != null) {
                throw node.wrong("tuning has nothing to choose: give a setting as {choose: [..]}");
            }
            return Optional.empty();
        }
        PlanLimits.combinations("combinations of chosen settings", chosen.values());
        Map<String, PlanNode> keys = said == null ? Map.of() : said.map(PlanReader.names(PlanKeys.TUNING));
        return Optional.of(new Tuning(
                chosen,
                Optional.ofNullable(keys.get("folds")).map(PlanNode::whole).orElse(Tuning.FOLDS),
                Optional.ofNullable(keys.get("repeats"))
                        .map(n -> PlanLimits.most("repeats", n.whole(), PlanLimits.REPEATS))
                        .orElse(1),
                Optional.ofNullable(keys.get("by"))
                        .map(n -> n.as(CandidateReader::by))
                        .orElse(Tuning.By.BEST_MEAN),
                Optional.ofNullable(keys.get("metric"))
                        .map(n -> n.as(this::metric))
                        .orElse(primary),
                Optional.ofNullable(keys.get("sample")).map(PlanNode::whole)));
    }

    private MetricName metric(String text) {
        MetricName metric = MetricWord.parse(text).withCosts(costs);
        Checks.that(
                !Measures.needsCosts(metric.measure()) || !costs.none(),
                "metric: cost: the plan says nothing of costs; add costs: {ACTUAL: {PREDICTED: cost}}");
        return metric;
    }

    /** Reads a length of time: {@code 90s}, {@code 1.5m} or {@code 2h}. */
    private static double seconds(String text) {
        Checks.that(
                text.matches("[0-9]{1,9}(\\.[0-9]{1,3})?[smh]"),
                "%s: expected a number of seconds, minutes or hours, such as 90s, 5m or 2h",
                text);
        double number = Double.parseDouble(text.substring(0, text.length() - 1));
        double seconds =
                switch (text.charAt(text.length() - 1)) {
                    case 'h' -> 3600 * number;
                    case 'm' -> 60 * number;
                    default -> number;
                };
        Checks.that(seconds > 0, "%s: expected a time above 0", text);
        return seconds;
    }

    private static Tuning.By by(String text) {
        return Arrays.stream(Tuning.By.values())
                .filter(b -> b.label().equals(text))
                .findFirst()
                .orElseThrow(() -> Checks.wrong("by: " + text + ": expected best-mean or one-se"));
    }

    /** Makes the members of a family, the last varied setting changing fastest; of many, a sample if one is asked for. */
    static List<Candidate> spread(
            String name,
            Recipe recipe,
            Map<String, String> fixed,
            Map<String, List<String>> varied,
            Optional<Integer> sample,
            Optional<Tuning> tuning,
            OptionalDouble limit,
            OptionalInt rank,
            String seedName) {
        PlanLimits.combinations("combinations of varied settings", varied.values());
        List<Map<String, String>> points = List.of(Map.of());
        for (Map.Entry<String, List<String>> setting : varied.entrySet()) {
            List<Map<String, String>> longer = new ArrayList<>();
            for (Map<String, String> so : points) {
                for (String value : setting.getValue()) {
                    Map<String, String> more = new LinkedHashMap<>(so);
                    more.put(setting.getKey(), value);
                    longer.add(more);
                }
            }
            points = longer;
        }
        List<Candidate> members = new ArrayList<>();
        for (int i : sampled(points.size(), sample, seedName)) {
            StringBuilder full = new StringBuilder(name);
            Map<String, String> values = new LinkedHashMap<>(fixed);
            values.putAll(points.get(i));
            Settings settings = new Settings(values);
            points.get(i).values().forEach(v -> full.append('/').append(v));
            members.add(new Candidate(
                    full.toString(), name, recipe, settings, varied, sample, tuning, limit, rank, seedName));
        }
        return members;
    }

    /** Which points of a grid are drawn: by the name that randomness derives from alone, so that the plan's seed changes nothing. */
    private static int[] sampled(int points, Optional<Integer> sample, String seedName) {
        int[] all = new int[points];
        Arrays.setAll(all, i -> i);
        if (sample.isEmpty()) {
            return all;
        }
        Checks.that(
                sample.get() >= 1 && sample.get() <= points,
                "sample = %d: the grid of varied settings has %d members",
                sample.get(),
                points);
        new Seed(0).with("sample").with(seedName).chance().shuffle(all);
        int[] drawn = Arrays.copyOf(all, sample.get());
        Arrays.sort(drawn);
        return drawn;
    }

    static ClassifierKind kind(String text) {
        List<String> names =
                ClassifierKinds.all().stream().map(ClassifierKind::name).toList();
        if (text.equals(AdoptedKind.NAME)) {
            return AdoptedKind.KIND;
        }
        return ClassifierKinds.of(text)
                .orElseThrow(
                        () -> Checks.wrong("classifier \"" + text + "\" is not known" + Suggestion.hint(text, names)));
    }
}
