package keenfold.study.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Tier;
import keenfold.core.classify.WrapperKind;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Checks;
import keenfold.core.data.Suggestion;
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
import keenfold.io.plan.PlanKeys;
import keenfold.results.Catalog;
import keenfold.results.Catalog.Choice;
import keenfold.results.Catalog.Entry;

/** Everything that can be asked for in a plan, as the code knows it. */
public final class CatalogSections {
    private CatalogSections() {}

    /**
     * Returns the catalog.
     *
     * @param what a section or the name of an entry; everything if it is empty
     * @throws IllegalArgumentException if there is no such thing
     */
    public static Catalog catalog(Optional<String> what) {
        Map<String, List<Entry>> all = InputException.at("catalog", () -> sections());
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
        List<String> known = new ArrayList<>(all.keySet());
        all.values().forEach(entries -> entries.forEach(e -> known.add(e.name())));
        Checks.that(
                !shown.isEmpty(),
                "\"%s\" is not in the catalog%s",
                what.orElse(""),
                Suggestion.to(what.orElse(""), known)
                        .map(n -> "; the nearest is \"" + n + "\"")
                        .orElse("; it has " + String.join(", ", all.keySet()) + ", each of which lists its names"));
        return new Catalog(shown);
    }

    private static Map<String, List<Entry>> sections() {
        Map<String, List<Entry>> sections = new LinkedHashMap<>();
        sections.put(
                "classifiers",
                ClassifierKinds.all().stream().map(CatalogSections::classifier).toList());
        sections.put(
                "wrappers",
                WrapperKind.all().stream().map(CatalogSections::wrapper).toList());
        sections.put(
                "steps", StepKinds.all().stream().map(CatalogSections::step).toList());
        sections.put(
                "metrics", Measures.all().stream().map(CatalogSections::metric).toList());
        sections.put(
                "splits",
                PlanKeys.schemeKeys().stream().map(CatalogSections::scheme).toList());
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
                        "tier",
                        kind.tier().number() + " of " + Tier.LAST + "; "
                                + kind.tier().reason(),
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
}
