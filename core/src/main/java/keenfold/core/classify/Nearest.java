package keenfold.core.classify;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.Chance;
import keenfold.core.data.Checks;
import keenfold.core.data.Selection;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Class shares among the nearest training rows, by Euclidean distance.
 *
 * <p>Definition: the k nearest cases vote alike; cases tied at the k-th distance share the places that are left among
 * them, so that the result does not depend on the order of the rows.
 *
 * <p>Cost: O(n·p) per row and O(n) to find the k nearest; once for all numbers of neighbours of a family.
 *
 * <p>Size: training rows / k, times K − 1. Reference: Cover and Hart (1967), IEEE Trans. Inf. Theory 13(1),
 * doi:10.1109/TIT.1967.1053964.
 *
 * @param neighbours k, at least 1; at most all training rows are used
 */
record Nearest(int neighbours) implements Classifier {
    Nearest {
        Checks.atLeast("neighbours", neighbours, 1);
    }

    @Override
    public Needs needs() {
        return Needs.SCALED_NUMBERS;
    }

    @Override
    public Model fit(Training training, Chance chance) {
        return joint(List.of(neighbours), training).get(0);
    }

    /** Models of several k over one search: the k nearest are the first k of more. */
    static List<Model> joint(List<Integer> ks, Training training) {
        int most = ks.stream().mapToInt(Integer::intValue).max().orElse(1);
        Search search = new Search(training, most);
        return ks.stream().<Model>map(k -> new Neighbours(search, k)).toList();
    }

    /** The nearest training rows of each row of a table, kept for the models that ask for the same table one by one. */
    private static final class Search {
        private final Training training;
        private final double[][] columns;
        private final int most;
        private Optional<Found> last = Optional.empty();

        private record Found(Table table, List<Near> rows) {
            /** The very table: comparing its values would take as long as the search. */
            @SuppressWarnings("ReferenceEquality")
            boolean of(Table other) {
                return table == other;
            }
        }

        Search(Training training, int most) {
            this.training = training;
            this.columns = Training.columns(training.table());
            this.most = most;
        }

        /** Per row of a table its nearest training rows, nearest first: at least as many as the greatest k. */
        synchronized List<Near> of(Table table) {
            if (last.isPresent() && last.get().of(table)) {
                return last.get().rows;
            }
            double[][] x = Training.columns(table);
            double[] squared = new double[training.rows()];
            List<Near> rows = new ArrayList<>();
            for (int i = 0; i < table.rows(); i++) {
                distances(x, i, squared);
                rows.add(near(squared));
            }
            last = Optional.of(new Found(table, rows));
            return rows;
        }

        private void distances(double[][] x, int row, double[] squared) {
            Arrays.fill(squared, 0);
            for (int c = 0; c < columns.length; c++) {
                double[] column = columns[c];
                double value = x[c][row];
                for (int j = 0; j < squared.length; j++) {
                    double off = column[j] - value;
                    squared[j] += off * off;
                }
            }
        }

        /** All rows no farther than the last wanted one: enough cases, since each row counts for one or more. */
        private Near near(double[] squared) {
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
                sorted[i] = found[order[i]];
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

    private static final class Neighbours implements Model {
        private final Search search;
        private final Training training;
        private final int k;

        Neighbours(Search search, int k) {
            this.search = search;
            this.training = search.training;
            this.k = k;
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
                double share = Math.min(1, places / tied);
                for (int i = from; i < to; i++) {
                    votes[training.target(near.rows[i])] += share * training.weight(near.rows[i]);
                }
                used += share * tied;
                places -= tied;
                from = to;
            }
            for (int c = 0; c < votes.length; c++) {
                votes[c] /= used;
            }
        }

        @Override
        public double size() {
            double rows = training.totalWeight();
            return rows / Math.min(k, rows) * (training.classes() - 1);
        }
    }
}
