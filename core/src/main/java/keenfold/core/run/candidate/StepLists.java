package keenfold.core.run.candidate;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.StepUse;

/**
 * The steps that a plan names for a candidate: one list, or several of which a setting says which one is in force.
 *
 * @param byName the lists in plan order; one alone has no name. No two steps of any of them have the same key
 */
public record StepLists(Map<String, List<StepUse>> byName) {
    /** The setting that names the list in force, where there are several. */
    public static final String SETTING = Settings.STEPS;

    /** Keeps the order. */
    public StepLists {
        Map<String, List<StepUse>> copy = new LinkedHashMap<>();
        byName.forEach((name, uses) -> copy.put(name, List.copyOf(uses)));
        byName = Collections.unmodifiableMap(copy);
    }

    /** Returns one list. */
    public static StepLists single(List<StepUse> uses) {
        return new StepLists(Map.of("", uses));
    }

    /** Returns several lists by their names. */
    public static StepLists of(Map<String, List<StepKind>> kinds) {
        List<StepUse> all =
                StepUse.of(kinds.values().stream().flatMap(List::stream).toList());
        Map<String, List<StepUse>> byName = new LinkedHashMap<>();
        int from = 0;
        for (Map.Entry<String, List<StepKind>> list : kinds.entrySet()) {
            int to = from + list.getValue().size();
            byName.put(list.getKey(), all.subList(from, to));
            from = to;
        }
        return new StepLists(byName);
    }

    /** Returns whether a setting says which list is in force. */
    public boolean several() {
        return !byName.containsKey("");
    }

    /** Returns the steps of all lists. */
    public List<StepUse> all() {
        return byName.values().stream().flatMap(List::stream).toList();
    }

    /** Returns the list in force; the first where no setting says it. */
    public List<StepUse> inForce(Settings settings) {
        List<StepUse> first = byName.values().iterator().next();
        String name = settings.values().get(SETTING);
        return name == null ? first : byName.getOrDefault(name, first);
    }

    /** Returns the list in force alone, as if the plan had named no other; itself where tuning chooses the list. */
    public StepLists alone(Settings settings) {
        return decided(settings)
                ? single(
                        StepUse.of(inForce(settings).stream().map(StepUse::kind).toList()))
                : this;
    }

    /** Returns settings as they would be if the plan had named no other list than the one in force. */
    public Settings settingsAlone(Settings settings) {
        if (!decided(settings)) {
            return settings;
        }
        List<StepUse> own = inForce(settings);
        List<StepUse> renamed = alone(settings).all();
        Map<String, String> keys = new LinkedHashMap<>();
        all().forEach(use -> keys.put(use.key(), ""));
        for (int i = 0; i < own.size(); i++) {
            keys.put(own.get(i).key(), renamed.get(i).key());
        }
        Map<String, String> alone = new LinkedHashMap<>();
        settings.values().forEach((name, value) -> {
            int dot = name.lastIndexOf('.');
            String key = dot < 0 ? name : keys.getOrDefault(name.substring(0, dot), name.substring(0, dot));
            if (!key.isEmpty() && !name.equals(SETTING)) {
                alone.put(dot < 0 ? name : key + name.substring(dot), value);
            }
        });
        return new Settings(alone);
    }

    /**
     * Returns settings with those of these lists in the place of those of one of them, read by itself.
     *
     * @param others settings as {@link #settingsAlone} gives them, by the name of the list
     */
    public Settings settings(String name, Map<String, Settings> others) {
        Map<String, String> settings = new LinkedHashMap<>();
        settings.put(SETTING, name);
        byName.forEach((list, uses) -> {
            Settings alone = others.getOrDefault(list, Settings.none());
            List<StepUse> canonical =
                    StepUse.of(uses.stream().map(StepUse::kind).toList());
            for (int i = 0; i < uses.size(); i++) {
                String key = uses.get(i).key();
                alone.of(canonical.get(i).key()).values().forEach((own, value) -> settings.put(key + "." + own, value));
            }
            if (list.equals(name)) {
                List<String> steps = canonical.stream().map(StepUse::key).toList();
                alone.values().forEach((setting, value) -> {
                    int dot = setting.lastIndexOf('.');
                    if (dot < 0 || !steps.contains(setting.substring(0, dot))) {
                        settings.put(setting, value);
                    }
                });
            }
        });
        return new Settings(settings);
    }

    private boolean decided(Settings settings) {
        return several() && settings.values().containsKey(SETTING);
    }
}
