package keenfold.core.classify.linear;

import java.util.Arrays;
import keenfold.core.learned.FitFailure;

/**
 * Columns that outnumber the rows, written in coordinates of the space that the rows span: X = L·Q with orthonormal rows of
 * Q. A ridge penalty sees no difference, since no coefficient outside that space helps, so that L, which has no more columns
 * than rows, can stand for X.
 */
final class RowSpace {
    private static final double NOTHING = 1e-10;

    private final double[][] basis;
    private final double[][] coordinates;

    private RowSpace(double[][] basis, double[][] coordinates) {
        this.basis = basis;
        this.coordinates = coordinates;
    }

    /**
     * Finds the space by Gram and Schmidt's method, each row put through it twice.
     *
     * @param x p columns of n rows
     */
    static RowSpace of(double[][] x, int n) {
        int p = x.length;
        double[][] basis = new double[Math.min(n, p)][];
        double[][] coordinates = new double[basis.length][n];
        int rank = 0;
        for (int i = 0; i < n; i++) {
            FitFailure.ifInterrupted();
            double[] row = new double[p];
            for (int j = 0; j < p; j++) {
                row[j] = x[j][i];
            }
            double whole = norm(row);
            for (int time = 0; time < 2; time++) {
                for (int r = 0; r < rank; r++) {
                    double along = dot(row, basis[r]);
                    coordinates[r][i] += along;
                    for (int j = 0; j < p; j++) {
                        row[j] -= along * basis[r][j];
                    }
                }
            }
            double left = norm(row);
            if (rank < basis.length && left > NOTHING * whole) {
                for (int j = 0; j < p; j++) {
                    row[j] /= left;
                }
                coordinates[rank][i] = left;
                basis[rank++] = row;
            }
        }
        return new RowSpace(Arrays.copyOf(basis, rank), Arrays.copyOf(coordinates, rank));
    }

    private static double dot(double[] a, double[] b) {
        double sum = 0;
        for (int j = 0; j < a.length; j++) {
            sum += a[j] * b[j];
        }
        return sum;
    }

    private static double norm(double[] a) {
        return Math.sqrt(dot(a, a));
    }

    /** The columns of L, and last the intercept's. */
    double[][] withIntercept() {
        int rows = coordinates.length == 0 ? 0 : coordinates[0].length;
        double[][] x = Arrays.copyOf(coordinates, coordinates.length + 1);
        x[coordinates.length] = new double[rows];
        Arrays.fill(x[coordinates.length], 1);
        return x;
    }

    /** Coefficients of the columns of X, from those of L; the intercept last in both. */
    double[] back(double[] own, int p) {
        double[] beta = new double[p + 1];
        for (int r = 0; r < basis.length; r++) {
            for (int j = 0; j < p; j++) {
                beta[j] += own[r] * basis[r][j];
            }
        }
        beta[p] = own[basis.length];
        return beta;
    }
}
