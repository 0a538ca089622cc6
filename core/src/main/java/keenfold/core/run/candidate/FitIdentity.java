package keenfold.core.run.candidate;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Tier;
import keenfold.core.classify.WrapperKind;
import keenfold.core.metric.Costs;
import keenfold.core.metric.catalog.Measures;
import keenfold.core.metric.catalog.MetricName;

/**
 * What of a candidate decides its fits: two candidates with equal identities have the same fits on the same rows, whatever
 * they are called. Left out are the name, the other members of the family, the user's order of simplicity and the limit of
 * time, which decides only whether a fit fails.
 *
 * @param seedName the name that randomness derives from
 * @param prepare the steps that the plan names, without lists that are not in force; absent if the classifier gets those that it needs
 * @param kind the classifier
 * @param wrappers what it is wrapped in
 * @param members the identities of the candidates whose predictions it is trained on
 * @param settings by name, without the names of members
 * @param choices settings that tuning chooses, in order, as the ties between them are
 * @param tuning how it chooses, in a few words; empty without tuning
 * @param costs of predictions, where a threshold or tuning goes by them; none elsewhere
 */
public record FitIdentity(
        String seedName,
        Optional<StepLists> prepare,
        ClassifierKind kind,
        List<WrapperKind> wrappers,
        List<FitIdentity> members,
        Map<String, String> settings,
        List<Map.Entry<String, List<String>>> choices,
        String tuning,
        Costs costs) {
    /** Copies the lists. */
    public FitIdentity {
        wrappers = List.copyOf(wrappers);
        members = List.copyOf(members);
        settings = Map.copyOf(settings);
        choices = List.copyOf(choices);
    }

    /** Returns the identity of a candidate. */
    public static FitIdentity of(Candidate candidate) {
        Recipe recipe = candidate.recipe();
        Map<String, String> settings =
                new LinkedHashMap<>(recipe.inForce(candidate.settings()).values());
        settings.remove(ClassifierKind.MEMBERS);
        settings.remove(Tier.SETTING.name());
        Optional<Tuning> tuning = candidate.tuning();
        return new FitIdentity(
                candidate.seedName(),
                recipe.prepare().map(lists -> lists.alone(candidate.settings())),
                recipe.kind(),
                recipe.wrappers(),
                recipe.members().stream().map(FitIdentity::of).toList(),
                settings,
                tuning.map(t -> t.choices().entrySet().stream()
                                .map(e -> Map.entry(e.getKey(), List.copyOf(e.getValue())))
                                .toList())
                        .orElse(List.of()),
                tuning.map(t -> t.folds() + " folds, " + t.repeats() + " repeats, " + t.by().label() + ", "
                                + t.metric().text()
                                + t.sample()
                                        .map(n -> ", " + n + " of them drawn")
                                        .orElse(""))
                        .orElse(""),
                needsCosts(candidate) ? recipe.costs() : Costs.NONE);
    }

    private static boolean needsCosts(Candidate candidate) {
        boolean threshold = candidate.recipe().has(WrapperKind.THRESHOLD)
                && needsCosts(candidate.recipe().thresholdMetric(candidate.settings()));
        return threshold
                || candidate
                        .tuning()
                        .map(Tuning::metric)
                        .filter(FitIdentity::needsCosts)
                        .isPresent();
    }

    private static boolean needsCosts(MetricName metric) {
        return Measures.needsCosts(metric.measure());
    }
}
