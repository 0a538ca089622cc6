package keenfold.core.classify;

import java.util.List;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;

/**
 * Fits several settings of one kind to the same rows at once, sharing work, with the very models that fitting each alone
 * would give. Only for kinds without randomness.
 */
@FunctionalInterface
public interface Joint {
    /** Returns one model per settings, in order; for one thread. */
    List<Model> fit(List<Settings> all, Training training);
}
