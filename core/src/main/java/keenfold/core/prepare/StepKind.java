package keenfold.core.prepare;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * A kind of step, as plans name it.
 *
 * @param name as plans write it
 * @param meaning one line
 * @param about definition and source
 * @param fromTarget whether it looks at the classes of the training rows
 * @param settings what can be set; the first is the one that a plan may give alone, as in {@code {strongest: 6}}
 * @param maker makes the step from checked settings
 */
public record StepKind(
        String name,
        String meaning,
        About about,
        boolean fromTarget,
        List<Setting> settings,
        Function<Settings, Step> maker) {
    /** Copies the settings. */
    public StepKind {
        settings = List.copyOf(settings);
    }

    /** Returns the setting of a name. */
    public Optional<Setting> setting(String wanted) {
        return settings.stream().filter(s -> s.name().equals(wanted)).findFirst();
    }

    /**
     * Makes a step.
     *
     * @throws IllegalArgumentException if a setting is unknown, out of its range or missing
     */
    public Step make(Settings given) {
        Setting.checkAll(name, settings, given);
        return maker.apply(given);
    }

    @Override
    public String toString() {
        return name;
    }
}
