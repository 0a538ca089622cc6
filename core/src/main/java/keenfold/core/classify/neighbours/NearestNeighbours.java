package keenfold.core.classify.neighbours;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.Checks;
import keenfold.core.data.Lists;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Selection;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.data.WeightedSort;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.NearestRows;
import keenfold.core.learned.NearestRows.Distance;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Class shares among the nearest training rows.
 *
 * <p>Definition: the k nearest cases vote, alike or by 1/distance (cases at distance 0 then vote alone); cases tied at the
 * k-th distance share the places that are left among them, so that the result does not depend on the order of the rows.
 * Distances: Euclidean √Σ(x − y)²; Manhattan Σ|x − y|; Chebyshev max|x − y|; mixed, for numbers, categories and gaps, the mean
 * over the columns where both rows have a value of |x − y|/range (the training rows' range; at most 1; a column that is
 * constant there is left out) for numbers, and of 0 or 1 for equal or other levels (Gower 1971, Biometrics 27(4),
 * doi:10.2307/2528823); rows that share no value are at distance 1.
 *
 * <p>Cost: O(n·p) per row and O(n) to find the k nearest; once for all numbers of neighbours of a family. Euclidean distances
 * are measured in single precision first, and exactly where a row may be among the nearest ({@link CloseRows}).
 *
 * <p>Size: training rows / k, times K − 1. Reference: Cover and Hart (1967), IEEE Trans. Inf. Theory 13(1),
 * doi:10.1109/TIT.1967.1053964.
 *
 * @param neighbours k, at least 1; at most all training rows are used
 * @param byDistance whether votes count 1/distance
 */
public record NearestNeighbours(int neighbours, Distance distance, boolean byDistance) implements Classifier {
    /** A rough search pays where the nearest are a small part of the rows. */
    private static final int FEW = 4;

    private static final int TOGETHER = 32;

    /** Checks the settings. */
    public NearestNeighbours {
        Checks.atLeast("neighbours", neighbours, 1);
    }

    @Override
    public Needs needs() {
        return distance == Distance.MIXED ? Needs.NOTHING : Needs.SCALED_NUMBERS;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        return joint(List.of(this), training).get(0);
    }

    /** Models of several k over one search a distance: the k nearest are the first k of more. */
    static List<Model> joint(List<NearestNeighbours> all, Training training) {
        Map<Distance, Search> searches = new EnumMap<>(Distance.class);
        List<Model> models = new ArrayList<>();
        for (NearestNeighbours one : all) {
            int most = all.stream()
                    .filter(n -> n.distance == one.distance)
                    .mapToInt(NearestNeighbours::neighbours)
                    .max()
                    .orElse(1);
            Search search = searches.computeIfAbsent(one.distance, d -> new Search(training, d, most));
            models.add(new Neighbours(search, one.neighbours, one.byDistance));
        }
        return models;
    }

    /** Numbers as they are, categories as codes, NaN for a gap. */
    private static double[][] columns(Table table) {
        return table.columns().stream()
                .map(c -> c.match(Numbers::toArray, k -> {
                    double[] codes = new double[k.rows()];
                    Arrays.setAll(codes, i -> k.missing(i) ? Double.NaN : k.code(i));
                    return codes;
                }))
                .toArray(double[][]::new);
    }

    /** The nearest training rows of each row of a table, kept for the models that ask for the same table one by one. */
    private static final class Search {
        private final Training training;
        private final Distance distance;
        private final int[] everyRow;
        private final double[][] columns;
        private final double[] range;
        private final int most;
        private final Optional<CloseRows> close;
        private Optional<Found> last = Optional.empty();
        private Optional<Found> before = Optional.empty();

        private record Found(Table table, List<Near> rows) {
            /** The very table: comparing its values would take as long as the search. */
            @SuppressWarnings("ReferenceEquality")
            boolean of(Table other) {
                return table == other;
            }
        }

        Search(Training training, Distance distance, int most) {
            this.training = training;
            this.distance = distance;
            this.columns = columns(training.table());
            this.range = new double[columns.length];
            this.most = most;
            this.everyRow = new int[training.rows()];
            Arrays.setAll(everyRow, i -> i);
            boolean few = most <= training.rows() / FEW;
            this.close = distance == Distance.EUCLIDEAN && few && columns.length > 0
                    ? CloseRows.of(columns, training.rows())
                    : Optional.empty();
            for (int c = 0; c < columns.length; c++) {
                // Levels are told apart by a range of −1.
                range[c] = training.table().columns().get(c).match(n -> range(n.toArray()), k -> -1.0);
            }
        }

        private static double range(double[] values) {
            double low = Double.POSITIVE_INFINITY;
            double high = Double.NEGATIVE_INFINITY;
            for (double v : values) {
                low = v < low ? v : low;
                high = v > high ? v : high;
            }
            return high > low ? high - low : 0;
        }

        /** Per row of a table its nearest training rows, nearest first: at least as many as the greatest k. */
        synchronized List<Near> of(Table table) {
            if (last.isPresent() && last.get().of(table)) {
                return last.get().rows;
            }
            // Two are kept: members of a family may each ask for test rows, then for training rows.
            if (before.isPresent() && before.get().of(table)) {
                return before.get().rows;
            }
            double[][] x = columns(table);
            double[] squared = new double[training.rows()];
            List<Near> rows = new ArrayList<>();
            for (int from = 0; from < table.rows(); from += TOGETHER) {
                int first = from;
                double[][] some = new double[Math.min(TOGETHER, table.rows() - from)][columns.length];
                for (int i = 0; i < some.length; i++) {
                    double[] row = some[i];
                    int at = first + i;
                    Arrays.setAll(row, c -> x[c][at]);
                }
                List<Optional<int[]>> found = close.isPresent() ? close.get().near(some, most) : List.of();
                for (int i = 0; i < some.length; i++) {
                    FitFailure.ifInterrupted();
                    if (!found.isEmpty() && found.get(i).isPresent()) {
                        rows.add(measured(found.get(i).get(), some[i]));
                    } else {
                        distances(x, first + i, squared);
                        rows.add(near(everyRow, squared));
                    }
                }
            }
            before = last;
            last = Optional.of(new Found(table, rows));
            return rows;
        }

        /** The same as from all distances: those of the rows that may be near are summed in the same order. */
        private Near measured(int[] rows, double[] row) {
            double[] squared = new double[rows.length];
            Arrays.setAll(squared, j -> close.orElseThrow().squared(rows[j], row));
            return near(rows, squared);
        }

        /** Distances of all training rows to a row; squared ones if they are Euclidean, which have the same order. */
        private void distances(double[][] x, int row, double[] squared) {
            if (distance == Distance.MIXED) {
                mixed(x, row, squared);
                return;
            }
            Arrays.fill(squared, 0);
            for (int c = 0; c < columns.length; c++) {
                double[] column = columns[c];
                double value = x[c][row];
                if (distance == Distance.MANHATTAN) {
                    for (int j = 0; j < squared.length; j++) {
                        squared[j] += Math.abs(column[j] - value);
                    }
                } else if (distance == Distance.CHEBYSHEV) {
                    for (int j = 0; j < squared.length; j++) {
                        squared[j] = Math.max(squared[j], Math.abs(column[j] - value));
                    }
                } else {
                    for (int j = 0; j < squared.length; j++) {
                        double off = column[j] - value;
                        squared[j] += off * off;
                    }
                }
            }
        }

        private void mixed(double[][] x, int row, double[] far) {
            double[] counted = new double[far.length];
            Arrays.fill(far, 0);
            for (int c = 0; c < columns.length; c++) {
                double value = x[c][row];
                if (range[c] == 0 || Double.isNaN(value)) {
                    continue;
                }
                double[] column = columns[c];
                for (int j = 0; j < far.length; j++) {
                    if (!Double.isNaN(column[j])) {
                        counted[j]++;
                        far[j] += range[c] < 0
                                ? (column[j] == value ? 0 : 1)
                                : Math.min(1, Math.abs(column[j] - value) / range[c]);
                    }
                }
            }
            for (int j = 0; j < far.length; j++) {
                far[j] = counted[j] > 0 ? far[j] / counted[j] : 1;
            }
        }

        /**
         * All rows no farther than the last wanted one: enough cases, since each row counts for one or more.
         *
         * @param candidates the rows that are looked at
         * @param squared their distances
         */
        private Near near(int[] candidates, double[] squared) {
            int n = squared.length;
            double limit = most >= n ? Double.POSITIVE_INFINITY : Selection.smallest(squared.clone(), most - 1);
            int[] rows = new int[n];
            int count = 0;
            for (int j = 0; j < n; j++) {
                if (squared[j] <= limit) {
                    rows[count++] = j;
                }
            }
            int[] found = Arrays.copyOf(rows, count);
            double[] distance = new double[count];
            Arrays.setAll(distance, i -> squared[found[i]]);
            int[] order = WeightedSort.order(distance);
            int[] sorted = new int[count];
            double[] sortedDistance = new double[count];
            for (int i = 0; i < count; i++) {
                sorted[i] = candidates[found[order[i]]];
                sortedDistance[i] = distance[order[i]];
            }
            return new Near(sorted, sortedDistance);
        }
    }

    /** Training rows by rising distance. */
    private static final class Near {
        private final int[] rows;
        private final double[] distance;

        Near(int[] rows, double[] distance) {
            this.rows = rows;
            this.distance = distance;
        }
    }

    /** Makes the model again of what it learned. */
    public static Model restored(NearestRows learned) {
        Training training = Training.of(
                learned.rows(), Lists.ints(learned.targets()), learned.weights().toArray(), learned.classes());
        return new Neighbours(
                new Search(training, learned.distance(), learned.neighbours()),
                learned.neighbours(),
                learned.byDistance());
    }

    private static final class Neighbours implements Model {
        private final Search search;
        private final Training training;
        private final int k;
        private final boolean byDistance;

        Neighbours(Search search, int k, boolean byDistance) {
            this.search = search;
            this.training = search.training;
            this.k = k;
            this.byDistance = byDistance;
        }

        @Override
        public double[] probabilities(Table table) {
            List<Near> near = search.of(table);
            int classes = training.classes();
            double[] all = new double[table.rows() * classes];
            double[] votes = new double[classes];
            for (int i = 0; i < table.rows(); i++) {
                vote(near.get(i), votes);
                System.arraycopy(votes, 0, all, i * classes, classes);
            }
            return all;
        }

        @Override
        public Optional<LearnedModel> learned() {
            return Optional.of(new NearestRows(
                    training.classes(),
                    k,
                    search.distance,
                    byDistance,
                    Lists.of(training.targets()),
                    Vector.of(training.weights()),
                    training.table()));
        }

        @Override
        public boolean predictsForOthers() {
            return true;
        }

        private void vote(Near near, double[] votes) {
            Arrays.fill(votes, 0);
            double places = k;
            double used = 0;
            int from = 0;
            while (from < near.rows.length && places > 0) {
                int to = from;
                double tied = 0;
                while (to < near.rows.length && near.distance[to] == near.distance[from]) {
                    tied += training.weight(near.rows[to++]);
                }
                double share = Math.min(1, places / tied) * voice(near.distance[from]);
                for (int i = from; i < to; i++) {
                    votes[training.target(near.rows[i])] += share * training.weight(near.rows[i]);
                }
                used += share * tied;
                // Beside cases at distance 0 all others count nothing.
                places = byDistance && near.distance[from] == 0 ? 0 : places - tied;
                from = to;
            }
            for (int c = 0; c < votes.length; c++) {
                votes[c] /= used;
            }
        }

        private double voice(double far) {
            return !byDistance || far == 0 ? 1 : 1 / (search.distance == Distance.EUCLIDEAN ? Math.sqrt(far) : far);
        }

        @Override
        public double size() {
            double rows = training.totalWeight();
            return rows / Math.min(k, rows) * (training.classes() - 1);
        }
    }
}
