package keenfold.core.classify.svm;

import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.LinearSolverFactory_DDRM;
import org.ejml.interfaces.linsol.LinearSolverDense;

/**
 * Class probabilities from the probabilities of pairs: p minimises Σᵢ Σⱼ (rⱼᵢpᵢ − rᵢⱼpⱼ)² under Σp = 1.
 *
 * <p>The solution satisfies Qp = −b·1 with Qᵢᵢ = Σⱼ rⱼᵢ² and Qᵢⱼ = −rⱼᵢrᵢⱼ, and is not negative (Wu, Lin and Weng 2004, J. Mach.
 * Learn. Res. 5, their second method).
 */
final class Coupling {
    private Coupling() {}

    /**
     * Returns the probabilities.
     *
     * @param r the probability of class i where it is i or j, for i ≠ j; strictly between 0 and 1
     */
    static double[] of(double[][] r) {
        int k = r.length;
        DMatrixRMaj system = new DMatrixRMaj(k + 1, k + 1);
        for (int i = 0; i < k; i++) {
            double own = 0;
            for (int j = 0; j < k; j++) {
                if (i != j) {
                    own += r[j][i] * r[j][i];
                    system.set(i, j, -r[j][i] * r[i][j]);
                }
            }
            system.set(i, i, own);
            system.set(i, k, 1);
            system.set(k, i, 1);
        }
        DMatrixRMaj right = new DMatrixRMaj(k + 1, 1);
        right.set(k, 0, 1);
        DMatrixRMaj solved = new DMatrixRMaj(k + 1, 1);
        LinearSolverDense<DMatrixRMaj> solver = LinearSolverFactory_DDRM.lu(k + 1);
        double[] p = new double[k];
        if (solver.setA(system)) {
            solver.solve(right, solved);
        }
        double sum = 0;
        for (int i = 0; i < k; i++) {
            // Rounding may leave a little less than nothing.
            p[i] = Math.max(0, solved.get(i, 0));
            sum += p[i];
        }
        for (int i = 0; i < k; i++) {
            p[i] = sum > 0 ? p[i] / sum : 1.0 / k;
        }
        return p;
    }
}
