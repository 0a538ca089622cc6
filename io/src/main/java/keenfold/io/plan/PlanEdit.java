package keenfold.io.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.data.Checks;
import keenfold.core.infer.contrast.InferenceSettings;
import keenfold.core.prepare.Names;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.io.table.DataSpec;

/** Plans in which something is called otherwise, or is left out, so that what remains means the same fits. */
public final class PlanEdit {
    private PlanEdit() {}

    /**
     * Returns a plan in which an entry of candidates has another name; its random numbers still derive from the old one.
     *
     * @param family the entry
     * @throws IllegalArgumentException if the new name cannot be one, or is taken
     */
    public static Plan renamed(Plan plan, String family, String name) {
        requireFree(plan, name);
        List<Candidate> candidates =
                plan.candidates().stream().map(c -> renamed(c, family, name)).toList();
        InferenceSettings evidence = plan.evidence();
        Optional<String> against = evidence.against().map(a -> plan.candidates().stream()
                .filter(c -> c.name().equals(a))
                .findFirst()
                .map(c -> renamed(c, family, name).name())
                .orElse(a));
        return checked(new Plan(
                plan.note(),
                plan.data(),
                plan.division(),
                plan.seed(),
                plan.metrics(),
                plan.costs(),
                plan.primary(),
                candidates,
                against.equals(evidence.against()) ? evidence : evidence.withAgainst(against),
                plan.choosing(),
                plan.effort()));
    }

    private static void requireFree(Plan plan, String name) {
        PlanReader.plainName(name);
        Checks.that(
                plan.candidates().stream()
                        .noneMatch(c -> c.name().equals(name) || c.family().equals(name)),
                "there is a candidate called \"%s\" already",
                name);
    }

    /** A candidate of a family that is called otherwise, or one that has such members. */
    static Candidate renamed(Candidate candidate, String family, String name) {
        Recipe recipe = candidate.recipe();
        List<Candidate> members =
                recipe.members().stream().map(m -> renamed(m, family, name)).toList();
        Settings settings = members.isEmpty()
                ? candidate.settings()
                : candidate
                        .settings()
                        .with(
                                ClassifierKind.MEMBERS,
                                Names.join(members.stream().map(Candidate::name).toList()));
        boolean own = candidate.family().equals(family);
        return new Candidate(
                own ? name + candidate.name().substring(family.length()) : candidate.name(),
                own ? name : candidate.family(),
                new Recipe(recipe.prepare(), recipe.kind(), recipe.wrappers(), members, recipe.costs()),
                settings,
                candidate.grid(),
                candidate.sample(),
                candidate.tuning(),
                candidate.timeLimit(),
                candidate.rank(),
                candidate.seedName());
    }

    /**
     * Returns a plan in which a data set has another name.
     *
     * @throws IllegalArgumentException if the new name cannot be one, or is taken
     */
    public static Plan renamedDataSet(Plan plan, String from, String name) {
        PlanReader.plainName(name);
        Checks.that(
                plan.data().stream().noneMatch(d -> d.name().equals(name)),
                "there is a data set called \"%s\" already",
                name);
        return checked(plan.withFiles(
                plan.data().stream()
                        .map(d -> d.name().equals(from) ? d.withName(name) : d)
                        .toList(),
                plan.division()));
    }

    /**
     * Returns a plan without some candidates.
     *
     * @throws IllegalArgumentException if nothing would be left, or what is left needs them
     */
    public static Plan without(Plan plan, Set<String> names) {
        List<Candidate> left = plan.candidates().stream()
                .filter(c -> !names.contains(c.name()))
                .toList();
        Checks.that(!left.isEmpty(), "no candidate would be left in the plan");
        for (Candidate candidate : left) {
            candidate.recipe().members().stream()
                    .filter(m -> names.contains(m.name()))
                    .findFirst()
                    .ifPresent(m -> {
                        throw Checks.wrong(String.format(
                                "candidate \"%s\" is a member of \"%s\", which stays", m.name(), candidate.name()));
                    });
        }
        plan.evidence().against().filter(names::contains).ifPresent(a -> {
            throw Checks.wrong(
                    String.format("the plan compares the others with \"%s\" (evidence: {against: %1$s})", a));
        });
        return checked(plan.withCandidates(FamilyUnion.of(left)));
    }

    /**
     * Returns a plan without some data sets.
     *
     * @throws IllegalArgumentException if nothing would be left
     */
    public static Plan withoutDataSets(Plan plan, Set<String> names) {
        List<DataSpec> left =
                plan.data().stream().filter(d -> !names.contains(d.name())).toList();
        Checks.that(!left.isEmpty(), "no data set would be left in the plan");
        return checked(plan.withFiles(left, plan.division()));
    }

    /** What is written of a plan must be read as the same. */
    private static Plan checked(Plan plan) {
        Plan read = PlanReader.parse("the plan as it would be", PlanWriter.write(plan));
        List<String> names = new ArrayList<>();
        read.candidates().forEach(c -> names.add(c.name()));
        List<String> wanted = plan.candidates().stream().map(Candidate::name).collect(Collectors.toList());
        Checks.that(names.equals(wanted), "the plan as it would be names other candidates: %s", names);
        return plan;
    }
}
