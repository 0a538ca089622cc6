package keenfold.core.classify.bayes;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.prepare.Training;

/**
 * The sums of {@link NaiveBayes} over all rows, from which those of some rows are taken away.
 *
 * <p>Numbers are summed about each class's mean over all rows, where their squares are least, so that a difference keeps
 * its digits unless the rows taken away hold nearly all of the spread.
 */
final class BayesSums implements FullDataFit {
    private final NaiveBayes classifier;
    private final Training all;
    private final List<Sums> sums = new ArrayList<>();

    /** What one column adds up to. */
    private interface Sums {
        /** Returns what is left without some rows, if its digits are. */
        Optional<NaiveBayes.Likelihood> without(int[] rows);
    }

    BayesSums(NaiveBayes classifier, Training all) {
        this.classifier = classifier;
        this.all = all;
        for (Column column : all.table().columns()) {
            sums.add(column.<Sums>match(NumberSums::new, LevelSums::new));
        }
    }

    @Override
    public Optional<Model> without(int[] rows) {
        List<NaiveBayes.Likelihood> columns = new ArrayList<>();
        for (Sums one : sums) {
            Optional<NaiveBayes.Likelihood> left = one.without(rows);
            if (left.isEmpty()) {
                return Optional.empty();
            }
            columns.add(left.get());
        }
        double[] classWeights = all.classWeights();
        for (int row : rows) {
            classWeights[all.target(row)]--;
        }
        double total = all.rows() - rows.length;
        return Optional.of(new NaiveBayes.Bayes(NaiveBayes.logShares(classWeights, total), columns));
    }

    private final class NumberSums implements Sums {
        private final Numbers column;
        private final double[] weight = new double[all.classes()];
        private final double[] center = new double[all.classes()];
        private final double[] sum = new double[all.classes()];
        private final double[] squares = new double[all.classes()];

        NumberSums(Numbers column) {
            this.column = column;
            for (int i = 0; i < column.rows(); i++) {
                if (!column.missing(i)) {
                    weight[all.target(i)]++;
                    center[all.target(i)] += column.get(i);
                }
            }
            for (int c = 0; c < center.length; c++) {
                center[c] /= weight[c];
            }
            for (int i = 0; i < column.rows(); i++) {
                if (!column.missing(i)) {
                    int c = all.target(i);
                    double off = column.get(i) - center[c];
                    sum[c] += off;
                    squares[c] += off * off;
                }
            }
        }

        @Override
        public Optional<NaiveBayes.Likelihood> without(int[] rows) {
            double[] leftWeight = weight.clone();
            double[] leftSum = sum.clone();
            double[] leftSquares = squares.clone();
            for (int row : rows) {
                double x = column.get(row);
                if (!Double.isNaN(x)) {
                    int c = all.target(row);
                    double off = x - center[c];
                    leftWeight[c]--;
                    leftSum[c] -= off;
                    leftSquares[c] -= off * off;
                }
            }
            double[] mean = new double[center.length];
            for (int c = 0; c < mean.length; c++) {
                double shift = leftSum[c] / leftWeight[c];
                mean[c] = center[c] + shift;
                leftSquares[c] -= leftWeight[c] * shift * shift;
                // Not so for what is not a number either; a class without values in any row has nothing to lose.
                if (weight[c] > 0 && !(leftSquares[c] > LEAST_LEFT * squares[c])) {
                    return Optional.empty();
                }
            }
            return Optional.of(classifier.normal(leftWeight, mean, leftSquares, true));
        }
    }

    private final class LevelSums implements Sums {
        private final Categories column;
        private final double[][] weight;
        private final double[] total = new double[all.classes()];
        private final int[] counts;

        LevelSums(Categories column) {
            this.column = column;
            this.counts = column.counts();
            this.weight = new double[counts.length][all.classes()];
            for (int i = 0; i < column.rows(); i++) {
                if (!column.missing(i)) {
                    weight[column.code(i)][all.target(i)]++;
                    total[all.target(i)]++;
                }
            }
        }

        @Override
        public Optional<NaiveBayes.Likelihood> without(int[] rows) {
            double[][] left = Arrays.stream(weight).map(double[]::clone).toArray(double[][]::new);
            double[] leftTotal = total.clone();
            int[] leftCounts = counts.clone();
            for (int row : rows) {
                if (!column.missing(row)) {
                    left[column.code(row)][all.target(row)]--;
                    leftTotal[all.target(row)]--;
                    leftCounts[column.code(row)]--;
                }
            }
            return Optional.of(classifier.levels(left, leftTotal, leftCounts));
        }
    }
}
