package keenfold.core.classify.boosting;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.WatchedRows;
import keenfold.core.classify.tree.Binned;
import keenfold.core.data.Checks;
import keenfold.core.data.Exponential;
import keenfold.core.data.Lists;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.BoostedTrees;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * A sum of small trees, each lowering the log-loss that those before it left.
 *
 * <p>Definition: F starts at the log-odds of the class shares (of several classes at the log of each one's). Each round
 * grows, for two classes one tree and for more one per class, on the derivatives of the log-loss at F, g = w(p − y) and
 * h = w·p(1 − p): a split gains G_L²/(H_L + ridge) + G_R²/(H_R + ridge) − G²/(H + ridge), a leaf adds −rate·G/(H + ridge).
 * Probabilities are the logistic (softmax) of F. Columns are binned once. Derivatives are kept to 2⁻⁴⁰ (of more than 4096 rows to 2⁻⁵² of their weight), and their sums are
 * exact. Each round has a seed of its own, from which its share of the rows and of the columns is drawn without
 * replacement, so that fewer rounds are the beginning of more.
 *
 * <p>With {@code patience}, a share of the training rows (of the groups, where rows belong to groups; drawn by class
 * otherwise) is watched and not trained on; it stops when their log-loss has not fallen for so many rounds, and keeps the
 * rounds up to the best.
 *
 * <p>Size: rate · leaves of all trees, of several classes times (K − 1)/K.
 *
 * <p>References: Friedman (2001), Ann. Statist. 29(5), doi:10.1214/aos/1013203451; Newton steps: Friedman, Hastie and
 * Tibshirani (2000), Ann. Statist. 28(2), doi:10.1214/aos/1016218223; shares of rows: Friedman (2002), Comput. Statist. Data
 * Anal. 38(4), doi:10.1016/S0167-9473(01)00065-2.
 *
 * @param rounds most rounds, at least 1
 * @param tree how its trees grow
 * @param rowShare of the training rows that a round sees, above 0, at most 1
 * @param columnShare of the columns that a round sees, above 0, at most 1
 * @param patience rounds without gain after which it stops; 0 never
 * @param watched share of the training rows that is watched, between 0 and 1
 * @param bins most bins of a column, 2 … 256
 */
public record Boosting(
        int rounds, Growth tree, double rowShare, double columnShare, int patience, double watched, int bins)
        implements Classifier {
    private static final double SCALE = 0x1p40;

    /** Checks the settings. */
    public Boosting {
        Checks.atLeast("rounds", rounds, 1);
        Checks.atLeast("depth", tree.depth(), 1);
        Checks.atLeast("leaves", tree.leaves(), 2);
        Checks.atLeast("leaf-rows", tree.leafRows(), 1);
        Checks.atLeast("ridge", tree.ridge(), 0);
        Binned.check(bins);
    }

    @Override
    public Needs needs() {
        return Needs.NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return new Run(this, training, chance).model(rounds);
    }

    /** Settings that differ in the number of rounds alone are beginnings of one run. */
    static List<Model> joint(List<Boosting> all, Training training, Supplier<RandomSource> fresh) {
        Map<Boosting, Run> runs = new HashMap<>();
        List<Model> models = new ArrayList<>();
        for (Boosting one : all) {
            int most = all.stream()
                    .filter(b -> b.of(1).equals(one.of(1)))
                    .mapToInt(Boosting::rounds)
                    .max()
                    .orElse(one.rounds);
            models.add(runs.computeIfAbsent(one.of(most), b -> new Run(b, training, fresh.get()))
                    .model(one.rounds));
        }
        return models;
    }

    private Boosting of(int count) {
        return new Boosting(count, tree, rowShare, columnShare, patience, watched, bins);
    }

    /** The classes that the training rows have; with two, one tree a round tells them apart. */
    private static int[] present(Training training) {
        double[] weights = training.classWeights();
        return IntStream.range(0, weights.length).filter(c -> weights[c] > 0).toArray();
    }

    /** Probabilities of the present classes from their F; for two classes {@code f} has one value. */
    private static void probabilities(double[] f, double[] p) {
        if (f.length == 1) {
            p[1] = 1 / (1 + Exponential.of(-f[0]));
            p[0] = 1 - p[1];
            return;
        }
        double most = Arrays.stream(f).max().orElse(0);
        double sum = 0;
        for (int k = 0; k < f.length; k++) {
            p[k] = Exponential.of(f[k] - most);
            sum += p[k];
        }
        for (int k = 0; k < f.length; k++) {
            p[k] /= sum;
        }
    }

    /** One run of rounds. */
    private static final class Run {
        private final Boosting settings;
        private final Training training;
        private final int[] present;
        private final double[] start;
        private final List<ValueTree[]> rounds = new ArrayList<>();
        private final List<Double> losses = new ArrayList<>();

        Run(Boosting settings, Training training, RandomSource chance) {
            this.settings = settings;
            this.training = training;
            int[] watch = settings.patience == 0
                    ? new int[0]
                    : WatchedRows.draw(training, settings.watched, new Seed(chance.word()).chance());
            Training own = watch.length == 0 ? training : training.without(watch);
            this.present = present(own);
            this.start = start(own);
            if (present.length > 1) {
                run(own, watch.length == 0 ? training : training.select(watch), watch.length > 0, chance);
            }
        }

        private double[] start(Training own) {
            double[] weights = own.classWeights();
            if (present.length == 2) {
                return new double[] {StrictMath.log(weights[present[1]] / weights[present[0]])};
            }
            return IntStream.of(present)
                    .mapToDouble(c -> StrictMath.log(weights[c]))
                    .toArray();
        }

        private void run(Training own, Training watch, boolean watches, RandomSource chance) {
            int n = own.rows();
            int trees = start.length;
            int[] y = new int[n];
            for (int i = 0; i < n; i++) {
                y[i] = Arrays.binarySearch(present, own.target(i));
            }
            double[] weights = own.weights();
            Binned binned = Binned.of(own, settings.bins);
            // No sum of derivatives may exceed 2⁵³: up to there whole numbers are exact.
            double scale = Math.min(SCALE, Math.scalb(1.0, 52 - Math.getExponent(Math.max(1, own.totalWeight()))));
            GradientGrower grower = new GradientGrower(binned, weights, settings.tree, 1 / scale);
            double[] f = new double[n * trees];
            for (int i = 0; i < n; i++) {
                System.arraycopy(start, 0, f, i * trees, trees);
            }
            double[][] watchX = Training.columns(watch.table());
            double[] watchF = new double[watches ? watch.rows() * trees : 0];
            for (int i = 0; i < watchF.length; i++) {
                watchF[i] = start[i % trees];
            }
            int[] all = IntStream.range(0, n).toArray();
            int[] columns = IntStream.range(0, binned.columns()).toArray();
            double[][] slope = new double[trees][n];
            double[][] bend = new double[trees][n];
            while (rounds.size() < settings.rounds && !(watches && stopsAt(rounds.size()) < rounds.size())) {
                FitFailure.ifInterrupted();
                RandomSource round = new Seed(chance.word()).chance();
                derivatives(f, y, weights, scale, slope, bend);
                int[] some = drawn(all, settings.rowShare, round);
                int[] looked = drawn(columns, settings.columnShare, round);
                ValueTree[] grown = new ValueTree[trees];
                for (int k = 0; k < trees; k++) {
                    grown[k] = grower.grow(slope[k], bend[k], some, looked);
                    grower.add(grown[k], f, trees, k);
                    for (int i = 0; i < watchF.length / trees; i++) {
                        watchF[i * trees + k] += grown[k].of(watchX, i);
                    }
                }
                rounds.add(grown);
                if (watches) {
                    losses.add(loss(watchF, watch));
                }
            }
        }

        private void derivatives(
                double[] f, int[] y, double[] weights, double scale, double[][] slope, double[][] bend) {
            int trees = slope.length;
            double[] own = new double[trees];
            double[] p = new double[present.length];
            for (int i = 0; i < y.length; i++) {
                if (trees == 1) {
                    double later = 1 / (1 + Exponential.of(-f[i]));
                    put(later, y[i], weights[i], scale, slope[0], bend[0], i);
                    continue;
                }
                System.arraycopy(f, i * trees, own, 0, trees);
                probabilities(own, p);
                for (int k = 0; k < trees; k++) {
                    put(p[k], y[i] == k ? 1 : 0, weights[i], scale, slope[k], bend[k], i);
                }
            }
        }

        private static void put(double p, int is, double weight, double scale, double[] slope, double[] bend, int i) {
            // Rounded before the weight comes in, so that a row of weight two is the row twice.
            slope[i] = times(weight, Math.rint((p - is) * scale));
            bend[i] = times(weight, Math.rint(p * (1 - p) * scale));
        }

        private static double times(double weight, double value) {
            return weight == Math.rint(weight) ? weight * value : Math.rint(weight * value);
        }

        private double loss(double[] f, Training watch) {
            double sum = 0;
            double[] own = new double[start.length];
            double[] p = new double[present.length];
            for (int i = 0; i < watch.rows(); i++) {
                System.arraycopy(f, i * own.length, own, 0, own.length);
                probabilities(own, p);
                int c = Arrays.binarySearch(present, watch.target(i));
                sum -= watch.weight(i) * StrictMath.log(Math.max(1e-15, c < 0 ? 0 : p[c]));
            }
            return sum;
        }

        private static int[] drawn(int[] all, double share, RandomSource chance) {
            if (share >= 1 || all.length == 0) {
                return all;
            }
            int[] shuffled = all.clone();
            chance.shuffle(shuffled);
            int[] some = Arrays.copyOf(shuffled, (int) Math.max(1, Math.rint(share * all.length)));
            Arrays.sort(some);
            return some;
        }

        /** How many rounds would be kept of the first {@code limit}: up to the best before patience ran out. */
        private int bestOf(int limit) {
            int best = 0;
            for (int r = 0; r < limit; r++) {
                if (best == 0 || losses.get(r) < losses.get(best - 1)) {
                    best = r + 1;
                } else if (r + 1 - best >= settings.patience) {
                    return best;
                }
            }
            return best;
        }

        /** The number of rounds after which patience ran out, or more than {@code limit}. */
        private int stopsAt(int limit) {
            int best = bestOf(limit);
            return limit - best >= settings.patience ? best + settings.patience - 1 : limit;
        }

        Model model(int limit) {
            if (present.length == 1) {
                return new OneClass(training.classes(), present[0]);
            }
            int kept = Math.min(limit, rounds.size());
            if (!losses.isEmpty()) {
                kept = bestOf(kept);
            }
            return new Sum(rounds.subList(0, kept), present, start, training.classes(), settings.tree.rate());
        }
    }

    /** Makes the model again of what it learned. */
    public static Model restored(BoostedTrees learned) {
        return new Sum(
                learned.rounds().stream()
                        .map(r -> r.stream().map(ValueTree::restored).toArray(ValueTree[]::new))
                        .toList(),
                Lists.ints(learned.present()),
                learned.start().toArray(),
                learned.classes(),
                learned.rate());
    }

    private static final class Sum implements Model {
        private final List<ValueTree[]> rounds;
        private final int[] present;
        private final double[] start;
        private final int classes;
        private final double rate;

        Sum(List<ValueTree[]> rounds, int[] present, double[] start, int classes, double rate) {
            this.rounds = rounds;
            this.present = present;
            this.start = start;
            this.classes = classes;
            this.rate = rate;
        }

        @Override
        public double[] probabilities(Table table) {
            int n = table.rows();
            double[] all = new double[n * classes];
            double[][] x = Training.columns(table);
            double[] f = new double[n * start.length];
            for (int i = 0; i < f.length; i++) {
                f[i] = start[i % start.length];
            }
            for (ValueTree[] round : rounds) {
                FitFailure.ifInterrupted();
                for (int k = 0; k < round.length; k++) {
                    for (int i = 0; i < n; i++) {
                        f[i * start.length + k] += round[k].of(x, i);
                    }
                }
            }
            double[] own = new double[start.length];
            double[] p = new double[present.length];
            for (int i = 0; i < n; i++) {
                System.arraycopy(f, i * own.length, own, 0, own.length);
                Boosting.probabilities(own, p);
                for (int k = 0; k < p.length; k++) {
                    all[i * classes + present[k]] = p[k];
                }
            }
            return all;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new BoostedTrees(
                    classes,
                    Lists.of(present),
                    Vector.of(start),
                    rate,
                    rounds.stream()
                            .map(r -> Arrays.stream(r).map(ValueTree::learned).toList())
                            .toList()));
        }

        @Override
        public double size() {
            double leaves = 0;
            for (ValueTree[] round : rounds) {
                for (ValueTree one : round) {
                    leaves += one.leaves();
                }
            }
            return Math.max(1, rate * leaves * (classes > 2 ? (classes - 1.0) / classes : 1));
        }
    }
}
