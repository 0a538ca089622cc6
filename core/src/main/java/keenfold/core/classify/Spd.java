package keenfold.core.classify;

import keenfold.core.learned.FitFailure;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.LinearSolverFactory_DDRM;
import org.ejml.interfaces.decomposition.CholeskyDecomposition_F64;
import org.ejml.interfaces.linsol.LinearSolverDense;

/** A symmetric positive definite matrix, factored once (Cholesky), for the small systems of linear classifiers. */
public final class Spd {
    private static final double ROUNDING = 1e-13;

    private final int order;
    private final LinearSolverDense<DMatrixRMaj> solver;

    private Spd(int order, LinearSolverDense<DMatrixRMaj> solver) {
        this.order = order;
        this.solver = solver;
    }

    /**
     * Factors a matrix, which is overwritten.
     *
     * @param matrix order·order values, row after row, both triangles filled
     * @throws FitFailure if it is not positive definite up to rounding
     */
    public static Spd factor(double[] matrix, int order) {
        LinearSolverDense<DMatrixRMaj> solver = LinearSolverFactory_DDRM.chol(order);
        double[] diagonal = new double[order];
        for (int i = 0; i < order; i++) {
            diagonal[i] = matrix[i * order + i];
        }
        if (!solver.setA(DMatrixRMaj.wrap(order, order, matrix)) || dependent(solver, diagonal)) {
            throw new FitFailure("the columns are linearly dependent in the training rows, so that without a penalty"
                    + " the coefficients are not determined; set strength above 0");
        }
        return new Spd(order, solver);
    }

    /** Whether what a column has of its own, beyond the columns before it, is lost in the rounding of its square. */
    private static boolean dependent(LinearSolverDense<DMatrixRMaj> solver, double[] diagonal) {
        CholeskyDecomposition_F64<DMatrixRMaj> factored = solver.getDecomposition();
        DMatrixRMaj lower = factored.getT(null);
        for (int i = 0; i < diagonal.length; i++) {
            double own = lower.get(i, i);
            if (!(own * own > ROUNDING * diagonal[i])) {
                return true;
            }
        }
        return false;
    }

    /** Returns x with A·x = b. */
    public double[] solve(double[] b) {
        DMatrixRMaj x = new DMatrixRMaj(order, 1);
        solver.solve(DMatrixRMaj.wrap(order, 1, b.clone()), x);
        return x.getData();
    }

    /**
     * Returns the trace of A⁻¹·D for a diagonal matrix D: with A = L·L', Σ_k Σ_i dᵢ·(L⁻¹)²_ki, column after column of L⁻¹.
     */
    public double traceOfInverseTimes(double[] diagonal) {
        double[] lower = lower();
        double trace = 0;
        double[] column = new double[order];
        for (int i = 0; i < order; i++) {
            if (diagonal[i] == 0) {
                continue;
            }
            column[i] = 1 / lower[i * order + i];
            double squares = column[i] * column[i];
            for (int k = i + 1; k < order; k++) {
                double sum = 0;
                for (int l = i; l < k; l++) {
                    sum += lower[k * order + l] * column[l];
                }
                column[k] = -sum / lower[k * order + k];
                squares += column[k] * column[k];
            }
            trace += squares * diagonal[i];
        }
        return trace;
    }

    private double[] lower() {
        CholeskyDecomposition_F64<DMatrixRMaj> factored = solver.getDecomposition();
        return factored.getT(null).getData();
    }
}
