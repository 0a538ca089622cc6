package keenfold.core.classify;

import java.util.List;
import java.util.function.Supplier;
import keenfold.core.data.RandomSource;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;

/**
 * Fits several settings of one kind to the same rows at once, sharing work, with the very models that fitting each alone
 * would give.
 */
@FunctionalInterface
public interface Joint {
    /**
     * Returns one model per settings, in order; for one thread.
     *
     * @param fresh gives the random numbers that each would start with alone
     */
    List<Model> fit(List<Settings> all, Training training, Supplier<RandomSource> fresh);
}
