package keenfold.cli.plan;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import keenfold.cli.console.Common;
import keenfold.cli.console.Console;
import keenfold.cli.console.Exit;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.metric.catalog.Measure;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.pick.Rule;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.step.StepKinds;
import keenfold.core.split.KFold;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.io.InputException;
import keenfold.io.Suggestion;
import keenfold.io.export.JsonLook;
import keenfold.io.plan.PlanKeys;
import keenfold.view.text.CatalogView;
import keenfold.view.text.CatalogView.Choice;
import keenfold.view.text.CatalogView.Entry;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Lists what can be asked for. */
@Command(
        name = "catalog",
        description =
                "Lists classifiers, wrappers, steps, metrics, splits and rules with their settings, presets, ranges, definitions and"
                        + " sources; of all, or of one of these six, or a single thing by its name.")
public final class CatalogCommand implements Callable<Integer> {
    private final Console console;

    @Spec
    private CommandSpec command;

    @Parameters(
            arity = "0..1",
            paramLabel = "WHAT",
            description = "classifiers, wrappers, steps, metrics, splits or rules, or a name such as tree (all)")
    private Optional<String> what = Optional.empty();

    @Option(names = "--json", description = "one JSON document instead of text")
    private boolean json;

    @Mixin
    private Common common = new Common();

    public CatalogCommand(Console console) {
        this.console = console;
    }

    @Override
    public Integer call() {
        Map<String, List<Entry>> all = found();
        Map<String, List<Entry>> shown = new LinkedHashMap<>();
        all.forEach((section, entries) -> {
            List<Entry> own = entries.stream()
                    .filter(e -> what.isEmpty()
                            || what.get().equals(section)
                            || what.get().equals(e.name()))
                    .toList();
            if (!own.isEmpty()) {
                shown.put(section, own);
            }
        });
        if (shown.isEmpty()) {
            List<String> known = new java.util.ArrayList<>(all.keySet());
            all.values().forEach(entries -> entries.forEach(e -> known.add(e.name())));
            throw new ParameterException(
                    command.commandLine(),
                    "\"" + what.orElse("") + "\" is not in the catalog"
                            + Suggestion.to(what.orElse(""), known)
                                    .map(n -> "; the nearest is \"" + n + "\"")
                                    .orElse("; it has " + String.join(", ", all.keySet())
                                            + ", each of which lists its names"));
        }
        if (json) {
            JsonLook.catalog(plain(shown), console.writer());
        } else {
            shown.forEach((section, entries) ->
                    console.out().print(CatalogView.render(section, entries, console.ink(common))));
        }
        return Exit.DONE;
    }

    private static Map<String, List<Entry>> found() {
        return InputException.at("catalog", () -> sections());
    }

    private static Map<String, List<Entry>> sections() {
        Map<String, List<Entry>> sections = new LinkedHashMap<>();
        sections.put(
                "classifiers",
                ClassifierKinds.all().stream().map(CatalogCommand::classifier).toList());
        sections.put(
                "wrappers",
                WrapperKind.all().stream().map(CatalogCommand::wrapper).toList());
        sections.put("steps", StepKinds.all().stream().map(CatalogCommand::step).toList());
        sections.put(
                "metrics", Measures.all().stream().map(CatalogCommand::metric).toList());
        sections.put(
                "splits",
                PlanKeys.schemeKeys().stream().map(CatalogCommand::scheme).toList());
        sections.put(
                "rules",
                Arrays.stream(Rule.Kind.values())
                        .map(r -> new Entry(r.label(), r.meaning(), facts("source", r.source()), List.of()))
                        .toList());
        return sections;
    }

    private static Entry classifier(ClassifierKind kind) {
        Needs needs = kind.make(Settings.none()).needs();
        String steps = StepKinds.neededBy(needs).stream().map(StepKind::name).collect(Collectors.joining(", "));
        return new Entry(
                kind.name(),
                kind.meaning(),
                facts(
                        "definition",
                        kind.about().definition(),
                        "needs",
                        switch (kind.input()) {
                            case COLUMNS -> needs(needs, steps);
                            case MEMBERS -> "predictions of its members";
                            case MEMBERS_OUT_OF_FOLD ->
                                "predictions of its members, made by fits that did not see the rows";
                        },
                        "probabilities",
                        kind.about().probabilities(),
                        "size",
                        kind.about().size(),
                        "source",
                        kind.about().source()),
                choices(kind.settings()));
    }

    private static String needs(Needs needs, String steps) {
        return needs.numbersOnly()
                ? "numbers" + (needs.noMissing() ? " without gaps" : "") + (needs.oneScale() ? ", on one scale" : "")
                        + "; gets " + steps
                : "nothing: takes numbers, categories and missing values as they are";
    }

    private static Entry wrapper(WrapperKind kind) {
        return new Entry(
                kind.name(),
                kind.meaning(),
                facts(
                        "definition",
                        kind.about().definition(),
                        "size",
                        kind.about().size(),
                        "source",
                        kind.about().source()),
                choices(kind.settings()));
    }

    private static Entry step(StepKind kind) {
        return new Entry(
                kind.name(),
                kind.meaning(),
                facts(
                        "definition",
                        kind.about().definition(),
                        "learns from the target",
                        kind.fromTarget() ? "yes" : "no",
                        "source",
                        kind.about().source()),
                choices(kind.settings()));
    }

    private static List<Choice> choices(List<Setting> settings) {
        return settings.stream()
                .map(s -> new Choice(s.name(), s.range(), s.preset().isEmpty() ? "none" : s.preset(), s.meaning()))
                .toList();
    }

    private static Entry metric(Measure m) {
        return new Entry(
                m.label(),
                m.higherIsBetter() ? "higher is better" : "lower is better",
                facts(
                        "definition",
                        m.definition(),
                        "range",
                        m.range(),
                        "forms",
                        m.oneSided()
                                ? m.label() + " (the positive class; of three or more classes their plain mean), "
                                        + m.label() + ":shares, " + m.label() + ":class=LABEL"
                                : "",
                        "source",
                        m.source()),
                List.of());
    }

    private static Entry scheme(PlanKeys.SchemeKeys scheme) {
        List<Choice> settings = PlanKeys.SPLITS.stream()
                .filter(k -> scheme.keys().contains(k.name()))
                .map(k ->
                        new Choice(k.name(), k.form(), preset(scheme.name(), k), PlanKeys.meaningFor(scheme.name(), k)))
                .toList();
        return new Entry(scheme.name(), scheme.meaning(), Map.of(), settings);
    }

    /** Some keys have another preset in each scheme. */
    private static String preset(String scheme, PlanKeys.Key key) {
        return switch (key.name()) {
            case "repeats" ->
                switch (scheme) {
                    case "monte-carlo" -> Integer.toString(MonteCarlo.DEFAULT.repeats());
                    case "out-of-bag" -> Integer.toString(OutOfBag.DEFAULT.repeats());
                    default -> Integer.toString(KFold.DEFAULT.repeats());
                };
            case "stratified" -> Boolean.toString(!scheme.equals("out-of-bag"));
            default -> key.preset();
        };
    }

    /** Titles and texts in turn; empty texts are left out. */
    private static Map<String, String> facts(String... pairs) {
        Map<String, String> facts = new LinkedHashMap<>();
        for (int i = 0; i < pairs.length; i += 2) {
            if (!pairs[i + 1].isEmpty()) {
                facts.put(pairs[i], pairs[i + 1]);
            }
        }
        return facts;
    }

    /** Sections of entries as maps of texts, for JSON. */
    private static Map<String, List<Map<String, Object>>> plain(Map<String, List<Entry>> shown) {
        Map<String, List<Map<String, Object>>> plain = new LinkedHashMap<>();
        shown.forEach((section, entries) -> plain.put(
                section,
                entries.stream()
                        .map(e -> {
                            Map<String, Object> entry = new LinkedHashMap<>();
                            entry.put("name", e.name());
                            entry.put("meaning", e.meaning());
                            e.facts().forEach((key, value) -> entry.put(key.replace(' ', '_'), value));
                            entry.put(
                                    "settings",
                                    e.settings().stream()
                                            .map(s -> Map.of(
                                                    "name", s.name(),
                                                    "values", s.values(),
                                                    "preset", s.preset(),
                                                    "meaning", s.meaning()))
                                            .toList());
                            return entry;
                        })
                        .toList()));
        return plain;
    }
}
