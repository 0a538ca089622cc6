package keenfold.core.prepare.step;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.LevelMeans;
import keenfold.core.prepare.About;
import keenfold.core.prepare.InnerFolds;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Turns categories into the shares of the classes among the training rows of their level.
 *
 * <p>A training row gets the shares of other training rows alone, so that the classifier behind does not see the row's own class
 * in its columns: rows are dealt to inner folds, stratified or by whole groups, and each fold gets the shares that the other
 * folds have. Rows to predict get the shares of all training rows.
 *
 * @param prior rows that the overall shares count for
 * @param folds inner folds
 */
record TargetMeans(double prior, int folds, Some some) implements StepOnSome {
    private static final String NAME = "target-means";
    private static final Setting PRIOR = Setting.number(
            "prior",
            "10",
            Bounds.above(0).to(Setting.MOST),
            Simpler.HIGHER,
            "how many rows the shares of all training rows count for, beside those of the level");
    private static final Setting FOLDS =
            Setting.whole("folds", 5, 2, Simpler.NEITHER, "inner folds by which training rows get their shares");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            NAME,
            "turns categories into the shares of the classes among their rows",
            new About(
                    "(n_lc + m p_c)/(n_l + m) for each class c but the first: n_l training rows of the level, n_lc of them of"
                            + " the class, p_c its share of all, m = prior. A level that they do not show has p_c; missing"
                            + " values are a level of their own. Training rows get what the other inner folds give",
                    "",
                    "Micci-Barreca (2001), SIGKDD Explorations 3(1), 27-32; folds as for stacking, Wolpert (1992)"),
            true,
            List.of(PRIOR, FOLDS, Some.COLUMNS),
            s -> new TargetMeans(s.number(PRIOR), s.whole(FOLDS), Some.of(s)));

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public boolean leaves(Table table) {
        return EachColumn.numbersAlone(table);
    }

    @Override
    public LearnedStep fit(Training training) {
        return EachColumn.fit(training, some, n -> ColumnTransform.KEEP, k -> means(k, training));
    }

    private ColumnTransform means(Categories column, Training training) {
        int levels = column.levels().size();
        // The missing ones come behind the levels.
        double[] ofLevel = new double[levels + 1];
        double[][] ofClass = new double[training.classes()][levels + 1];
        for (int i = 0; i < column.rows(); i++) {
            int level = column.missing(i) ? levels : column.code(i);
            ofLevel[level] += training.weight(i);
            ofClass[training.target(i)][level] += training.weight(i);
        }
        double[] overall = training.classWeights();
        double all = training.totalWeight();
        List<Vector> byCode = new ArrayList<>();
        double[] unseen = new double[training.classes() - 1];
        double[] missing = new double[training.classes() - 1];
        for (int c = 1; c < training.classes(); c++) {
            double share = overall[c] / all;
            double[] own = ofClass[c];
            double[] means = IntStream.rangeClosed(0, levels)
                    .mapToDouble(l -> (own[l] + prior * share) / (ofLevel[l] + prior))
                    .toArray();
            byCode.add(Vector.of(java.util.Arrays.copyOf(means, levels)));
            missing[c - 1] = means[levels];
            unseen[c - 1] = share;
        }
        return new LevelMeans(
                training.labels().subList(1, training.classes()), byCode, Vector.of(unseen), Vector.of(missing));
    }

    @Override
    public Table ofTraining(LearnedStep learned, Training training, Seed seed) {
        Table plain = learned.apply(training.table());
        if (leaves(training.table())) {
            return plain;
        }
        int[] fold = InnerFolds.deal(training, folds, seed.with(NAME).chance());
        double[][] values = new double[plain.columns().size()][training.rows()];
        for (int f = 0; f < folds; f++) {
            int wanted = f;
            int[] own = IntStream.range(0, fold.length)
                    .filter(i -> fold[i] == wanted)
                    .toArray();
            if (own.length == fold.length) {
                throw new FitFailure(NAME + ": the training rows are all of one group, or one alone;"
                        + " it needs others to find the shares of each");
            }
            if (own.length > 0) {
                fill(values, fit(training.without(own)).apply(training.table().select(own)), own);
            }
        }
        List<Column> columns = new ArrayList<>();
        for (int j = 0; j < values.length; j++) {
            double[] made = values[j];
            columns.add(plain.columns().get(j).<Column>match(n -> Numbers.owning(n.name(), made), k -> k));
        }
        return new Table(training.rows(), columns);
    }

    private static void fill(double[][] values, Table part, int[] rows) {
        for (int j = 0; j < values.length; j++) {
            if (part.columns().get(j) instanceof Numbers numbers) {
                for (int i = 0; i < rows.length; i++) {
                    values[j][rows[i]] = numbers.get(i);
                }
            }
        }
    }
}
