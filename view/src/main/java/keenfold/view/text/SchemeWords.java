package keenfold.view.text;

import java.util.Locale;
import java.util.Optional;
import keenfold.core.data.DataSet;
import keenfold.core.data.Plural;
import keenfold.core.infer.resample.AlignedPredictions;
import keenfold.core.split.KFold;
import keenfold.core.split.LeaveGroupOut;
import keenfold.core.split.LeaveOneOut;
import keenfold.core.split.MonteCarlo;
import keenfold.core.split.OutOfBag;
import keenfold.core.split.RollingOrigin;
import keenfold.core.split.Scheme;
import keenfold.core.split.Splits;
import keenfold.results.table.NumberFormats;

/** How rows are divided, in words. */
public final class SchemeWords {
    private SchemeWords() {}

    /** Returns a phrase for what was scored; of adopted scores, how many there are. */
    public static String of(AlignedPredictions panel, Optional<Scheme> scheme) {
        if (!panel.scoresOnly()) {
            return of(panel.task().data(), panel.task().splits(), scheme);
        }
        Splits splits = panel.task().splits();
        return panel.common() == 1
                ? "one adopted score each"
                : splits.mostFolds() == 1
                        ? Plural.of(panel.common(), "adopted score") + " each"
                        : splits.repeats() + " x " + splits.mostFolds() + " adopted fold scores each";
    }

    /** Returns a phrase; {@code scheme} is empty for splits that were made elsewhere. */
    public static String of(DataSet data, Splits splits, Optional<Scheme> scheme) {
        String groups = data.groups()
                .filter(g -> scheme.filter(s -> s instanceof LeaveGroupOut).isEmpty())
                .map(g -> String.format(
                        Locale.ROOT, "; %d groups (%s) kept whole", g.levels().size(), g.name()))
                .orElse("");
        return scheme.map(s -> made(s, data, splits)).orElseGet(() -> given(splits)) + groups;
    }

    private static String made(Scheme scheme, DataSet data, Splits splits) {
        if (scheme instanceof KFold folds) {
            return folds.repeats() + " x " + folds.folds() + " folds" + stratified(folds.stratified());
        }
        if (scheme instanceof LeaveOneOut) {
            return "leave-one-out: " + splits.count() + " splits, each row tested alone";
        }
        if (scheme instanceof LeaveGroupOut) {
            return "leave-group-out: " + splits.count() + " splits, each group ("
                    + data.groups().map(g -> g.name()).orElse("group") + ") tested alone";
        }
        if (scheme instanceof MonteCarlo random) {
            return random.repeats() + " random splits (monte-carlo) that test " + NumberFormats.percent(random.share())
                    + " of the rows" + stratified(random.stratified());
        }
        if (scheme instanceof OutOfBag bag) {
            return bag.repeats() + " out-of-bag splits, trained on rows drawn with replacement"
                    + stratified(bag.stratified());
        }
        if (scheme instanceof RollingOrigin rolling) {
            return splits.count() + " splits in time (rolling-origin) after the first "
                    + NumberFormats.percent(rolling.first()) + " of the rows, each trained on what came before";
        }
        return scheme.label();
    }

    private static String stratified(boolean is) {
        return is ? ", stratified" : "";
    }

    private static String given(Splits splits) {
        return switch (splits.form()) {
            case PARTITIONS -> "given folds: " + splits.repeats() + " x " + splits.mostFolds();
            case RANDOM -> splits.count() + " given splits";
            case IN_ORDER -> splits.count() + " given splits, each trained on what came before";
            case SINGLE ->
                splits.at(0, 0).train().size() == 0
                        ? splits.at(0, 0).test().size() + " rows tested once"
                        : String.format(
                                Locale.ROOT,
                                "one split: %d rows trained on, %d tested",
                                splits.at(0, 0).train().size(),
                                splits.at(0, 0).test().size());
        };
    }
}
