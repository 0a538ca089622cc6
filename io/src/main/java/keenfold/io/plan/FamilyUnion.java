package keenfold.io.plan;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import keenfold.core.data.Checks;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Family;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.run.candidate.StepLists;

/**
 * Members of families, some of them new or gone, as one plan can name them: a family is one entry there, with one grid of
 * values.
 */
public final class FamilyUnion {
    private FamilyUnion() {}

    /**
     * Returns candidates of which the members of a family stand together, all with the grid that they make.
     *
     * @throws IllegalArgumentException if members of a family make no grid
     */
    public static List<Candidate> of(List<Candidate> candidates) {
        List<Candidate> all = new ArrayList<>();
        for (Family family : Family.of(candidates)) {
            all.addAll(members(family));
        }
        return all;
    }

    private static List<Candidate> members(Family family) {
        Candidate first = family.members().get(0);
        boolean alike = family.members().stream()
                .allMatch(m -> m.grid().equals(first.grid()) && m.sample().equals(first.sample()));
        if (alike
                && family.members().size()
                        == first.sample().orElseGet(() -> points(first.grid()).size())) {
            return family.members();
        }
        Map<String, Set<String>> values = new LinkedHashMap<>();
        Map<Map<String, String>, Candidate> byPoint = new HashMap<>();
        boolean sampled = false;
        for (Candidate member : family.members()) {
            Map<String, String> point = new LinkedHashMap<>();
            for (String setting : member.grid().keySet()) {
                String value = member.settings().values().getOrDefault(setting, "");
                values.computeIfAbsent(setting, k -> new LinkedHashSet<>()).add(value);
                point.put(setting, value);
            }
            byPoint.put(point, member);
            sampled |= member.sample().isPresent();
        }
        Map<String, List<String>> grid = new LinkedHashMap<>();
        values.forEach((setting, some) -> grid.put(setting, List.copyOf(some)));
        List<Map<String, String>> points = points(grid);
        Checks.that(
                !sampled
                        && points.size() == family.members().size()
                        && byPoint.keySet().containsAll(points),
                "what is left of the family %s is not all combinations of what is varied, as an entry of a plan is",
                family.name());
        List<Candidate> members =
                points.stream().map(p -> withGrid(byPoint, p, grid)).toList();
        return grid.containsKey(StepLists.SETTING) ? withAllLists(members) : members;
    }

    /** Members each of which knows the lists of steps that any of them has. */
    private static List<Candidate> withAllLists(List<Candidate> members) {
        Map<String, List<StepKind>> kinds = new LinkedHashMap<>();
        Map<String, Settings> settings = new HashMap<>();
        for (Candidate member : members) {
            String name = member.settings().values().getOrDefault(StepLists.SETTING, "");
            StepLists lists = member.recipe().prepare().orElseThrow();
            kinds.putIfAbsent(
                    name,
                    lists.inForce(member.settings()).stream().map(StepUse::kind).toList());
            settings.putIfAbsent(name, lists.settingsAlone(member.settings()));
        }
        StepLists all = StepLists.of(kinds);
        return members.stream()
                .map(member -> {
                    String name = member.settings().values().getOrDefault(StepLists.SETTING, "");
                    Map<String, Settings> others = new HashMap<>(settings);
                    others.put(name, member.recipe().inForce(member.settings()));
                    return with(member, member.recipe().withLists(all), all.settings(name, others), member.grid());
                })
                .toList();
    }

    /** All combinations, the last setting changing fastest. */
    private static List<Map<String, String>> points(Map<String, List<String>> grid) {
        List<Map<String, String>> points = List.of(Map.of());
        for (Map.Entry<String, List<String>> setting : grid.entrySet()) {
            List<Map<String, String>> longer = new ArrayList<>();
            for (Map<String, String> point : points) {
                for (String value : setting.getValue()) {
                    Map<String, String> more = new LinkedHashMap<>(point);
                    more.put(setting.getKey(), value);
                    longer.add(more);
                }
            }
            points = longer;
        }
        return points;
    }

    private static Candidate withGrid(
            Map<Map<String, String>, Candidate> byValues, Map<String, String> point, Map<String, List<String>> grid) {
        Candidate member = byValues.get(point);
        if (member == null) {
            throw new IllegalStateException("a point of the grid without a member");
        }
        return with(member, member.recipe(), member.settings(), grid);
    }

    private static Candidate with(Candidate member, Recipe recipe, Settings settings, Map<String, List<String>> grid) {
        return new Candidate(
                member.name(),
                member.family(),
                recipe,
                settings,
                grid,
                member.sample(),
                member.tuning(),
                member.timeLimit(),
                member.rank(),
                member.seedName());
    }
}
