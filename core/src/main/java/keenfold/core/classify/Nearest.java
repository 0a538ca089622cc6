package keenfold.core.classify;

import java.util.Arrays;
import keenfold.core.data.Chance;
import keenfold.core.data.Checks;
import keenfold.core.data.Selection;
import keenfold.core.data.Table;
import keenfold.core.data.WeightedSort;
import keenfold.core.prepare.Needs;

/**
 * Class shares among the nearest training rows, by Euclidean distance.
 *
 * <p>Definition: the k nearest cases vote alike; cases tied at the k-th distance share the places that are left among
 * them, so that the result does not depend on the order of the rows.
 *
 * <p>Cost: O(n·p) per row and O(n) to find the k nearest.
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
        return new Neighbours(training, Training.columns(training.table()), neighbours);
    }

    private static final class Neighbours implements Model {
        private final Training training;
        private final double[][] columns;
        private final int k;

        Neighbours(Training training, double[][] columns, int k) {
            this.training = training;
            this.columns = columns;
            this.k = k;
        }

        @Override
        public double[] probabilities(Table table) {
            double[][] x = Training.columns(table);
            int classes = training.classes();
            double[] all = new double[table.rows() * classes];
            double[] squared = new double[training.rows()];
            double[] votes = new double[classes];
            for (int i = 0; i < table.rows(); i++) {
                distances(x, i, squared);
                vote(squared, votes);
                System.arraycopy(votes, 0, all, i * classes, classes);
            }
            return all;
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

        private void vote(double[] squared, double[] votes) {
            Arrays.fill(votes, 0);
            int[] near = candidates(squared);
            double[] distance = new double[near.length];
            Arrays.setAll(distance, i -> squared[near[i]]);
            int[] order = WeightedSort.order(distance);
            double places = k;
            double used = 0;
            int from = 0;
            while (from < order.length && places > 0) {
                int to = from;
                double tied = 0;
                while (to < order.length && distance[order[to]] == distance[order[from]]) {
                    tied += training.weight(near[order[to++]]);
                }
                double share = Math.min(1, places / tied);
                for (int i = from; i < to; i++) {
                    int j = near[order[i]];
                    votes[training.target(j)] += share * training.weight(j);
                }
                used += share * tied;
                places -= tied;
                from = to;
            }
            for (int c = 0; c < votes.length; c++) {
                votes[c] /= used;
            }
        }

        /** All rows no farther than the k-th nearest: enough cases, since each row counts for one or more. */
        private int[] candidates(double[] squared) {
            int n = squared.length;
            double limit = k >= n ? Double.POSITIVE_INFINITY : Selection.smallest(squared.clone(), k - 1);
            int[] near = new int[n];
            int count = 0;
            for (int j = 0; j < n; j++) {
                if (squared[j] <= limit) {
                    near[count++] = j;
                }
            }
            return Arrays.copyOf(near, count);
        }

        @Override
        public double size() {
            double rows = training.totalWeight();
            return rows / Math.min(k, rows) * (training.classes() - 1);
        }
    }
}
