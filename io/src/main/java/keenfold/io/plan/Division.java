package keenfold.io.plan;

import java.util.Optional;
import keenfold.core.split.Holdout;
import keenfold.core.split.KFold;
import keenfold.core.split.Scheme;

/**
 * How the rows of a plan are divided.
 *
 * @param source where the splits come from
 * @param bindEqual whether equal rows stay on one side
 * @param holdout rows set aside before, if there are any
 */
public record Division(SplitSource source, boolean bindEqual, Optional<SetAside> holdout) {
    /** Ten folds, ten repeats, stratified. */
    public static final Division DEFAULT = of(KFold.DEFAULT);

    /**
     * What is set aside: rows of the data, or those of another file.
     *
     * @param drawn which rows
     * @param file the other file; one of the two is there
     */
    public record SetAside(Optional<Holdout> drawn, Optional<String> file) {}

    /** Returns a division by a scheme and nothing else. */
    public static Division of(Scheme scheme) {
        return new Division(new SplitSource.Made(scheme), false, Optional.empty());
    }

    /** Returns the scheme, if splits are made by one. */
    public Optional<Scheme> scheme() {
        return source instanceof SplitSource.Made made ? Optional.of(made.scheme()) : Optional.empty();
    }

    /** Returns whether splits have, or were asked to have, the class shares of the whole. */
    public boolean stratified() {
        return scheme().map(Division::stratified).orElse(false);
    }

    private static boolean stratified(Scheme scheme) {
        if (scheme instanceof KFold folds) {
            return folds.stratified();
        }
        if (scheme instanceof keenfold.core.split.MonteCarlo random) {
            return random.stratified();
        }
        return scheme instanceof keenfold.core.split.OutOfBag bag && bag.stratified();
    }
}
