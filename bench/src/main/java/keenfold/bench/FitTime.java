package keenfold.bench;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToDoubleFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.classify.AcrossFolds;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Seed;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;

/**
 * Times one fit, of whichever Keen Fold it is loaded with: what {@link Beside} runs of two of them.
 *
 * <p>A fit is written as {@code KIND[:SETTING=VALUE,...] ROWS COLUMNS CLASSES SPREAD ANSWERS}; a value of several,
 * {@code 1|2|3}, is a family, fitted together; {@code folds/KIND} stands for the mean fit of ten folds, which share what
 * they can.
 */
public final class FitTime implements ToDoubleFunction<String> {
    private static final long SEED = 5;
    private static final int FOLDS = 10;

    private final Map<String, Training> tables = new HashMap<>();

    /** Returns the milliseconds of a fit; NaN if it fails. */
    @Override
    public double applyAsDouble(String fit) {
        String[] words = fit.split(" ");
        String shape = fit.substring(words[0].length());
        Training training = tables.computeIfAbsent(shape, s -> new MadeUpTable(
                        "made-up",
                        Integer.parseInt(words[1]),
                        Integer.parseInt(words[2]),
                        Integer.parseInt(words[3]),
                        Double.parseDouble(words[4]),
                        Boolean.parseBoolean(words[5]))
                .training(SEED));
        boolean inFolds = words[0].startsWith("folds/");
        String[] kindAndSettings = words[0].replace("folds/", "").split(":");
        ClassifierKind kind = ClassifierKinds.of(kindAndSettings[0]).orElseThrow();
        List<Settings> all = List.of(Settings.none());
        for (int k = 1; k < kindAndSettings.length; k++) {
            String[] setting = kindAndSettings[k].split("=");
            List<Settings> before = all;
            all = List.of(setting[1].split("\\|")).stream()
                    .flatMap(v -> before.stream().map(s -> s.with(setting[0], v)))
                    .collect(Collectors.toList());
        }
        long begin = System.nanoTime();
        try {
            if (inFolds) {
                folds(kind.make(all.get(0)), training);
                return (System.nanoTime() - begin) / 1e6 / FOLDS;
            }
            if (all.size() == 1) {
                kind.make(all.get(0)).fit(training, new Seed(SEED).chance());
            } else if (kind.fitTogether(all, training, new Seed(SEED)::chance).isEmpty()) {
                return Double.NaN;
            }
        } catch (FitFailure e) {
            return Double.NaN;
        }
        return (System.nanoTime() - begin) / 1e6;
    }

    private static void folds(Classifier classifier, Training training) {
        Optional<FullDataFit> whole =
                classifier instanceof AcrossFolds shared ? shared.whole(training) : Optional.empty();
        for (int k = 0; k < FOLDS; k++) {
            int fold = k;
            Training part = training.select(IntStream.range(0, training.rows())
                    .filter(i -> i % FOLDS != fold)
                    .toArray());
            whole.flatMap(w -> w.near(part)).orElseGet(() -> classifier.fit(part, new Seed(SEED).chance()));
        }
    }
}
