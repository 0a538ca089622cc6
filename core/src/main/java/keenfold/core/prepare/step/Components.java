package keenfold.core.prepare.step;

import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Lists;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.interfaces.decomposition.EigenDecomposition_F64;

/**
 * Puts the first principal components of the number columns in their place; categories stay.
 *
 * <p>Definition (Pearson 1901; Hotelling 1933): the columns, less their weighted training means, are projected onto the
 * eigenvectors of their covariance matrix (divisor W) with the greatest eigenvalues. With fewer rows than columns the
 * eigenvectors come from the matrix of the rows' products, which has the same eigenvalues. Columns are taken on the scale
 * they have: put standardise before where scales differ. Each eigenvector is turned so that its entry of the greatest
 * size, the first among equals, is positive. Directions without variance (1e-12 of the greatest) are never kept.
 *
 * @param keep how many, from 1; or, below 1, the least share of the total variance that is kept
 */
record Components(double keep) implements Step {
    private static final Setting KEEP = Setting.countOrShare(
            "keep", "0.95", Simpler.LOWER, "how many components, or the least share of the variance that they hold");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            "components",
            "replaces number columns by their principal components",
            new About(
                    "the eigenvectors of the training rows' covariance matrix with the greatest eigenvalues, on the scale that"
                            + " columns have (put standardise before)",
                    "",
                    "Hotelling (1933), J. Educ. Psychol. 24(6), doi:10.1037/h0071325"),
            false,
            List.of(KEEP),
            s -> new Components(s.number(KEEP)));

    private static final double NOTHING = 1e-12;

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public LearnedStep fit(Training training) {
        Table table = training.table();
        List<Integer> numbers = numbers(table);
        for (int j : numbers) {
            if (table.columns().get(j).countMissing() > 0) {
                throw new FitFailure("components needs columns without gaps: \""
                        + table.columns().get(j).name() + "\" has some; put fill before it");
            }
        }
        if (numbers.isEmpty()) {
            return new LearnedStep.ColumnChoice(
                    IntStream.range(0, table.columns().size()).boxed().toList());
        }
        int p = numbers.size();
        int n = table.rows();
        double total = training.totalWeight();
        double[] mean = new double[p];
        double[][] centred = new double[p][n];
        for (int j = 0; j < p; j++) {
            Numbers column = (Numbers) table.columns().get(numbers.get(j));
            mean[j] = Moments.of(column, training).mean();
            for (int i = 0; i < n; i++) {
                centred[j][i] = (column.get(i) - mean[j]) * Math.sqrt(training.weight(i) / total);
            }
        }
        double[][] directions = p <= n ? ofColumns(centred) : ofRows(centred);
        return new LearnedStep.Projection(numbers, Vector.of(mean), Lists.of(directions));
    }

    private static List<Integer> numbers(Table table) {
        return IntStream.range(0, table.columns().size())
                .filter(j -> table.columns().get(j) instanceof Numbers)
                .boxed()
                .toList();
    }

    private double[][] ofColumns(double[][] centred) {
        EigenDecomposition_F64<DMatrixRMaj> eigen = eigen(centred);
        int[] order = falling(eigen, centred.length);
        double[][] directions = new double[kept(eigen, order)][];
        for (int k = 0; k < directions.length; k++) {
            directions[k] = turned(eigen.getEigenVector(order[k]).getData().clone());
        }
        return directions;
    }

    /** From the products of rows: an eigenvector u of XXᵀ gives Xᵀu/√λ. */
    private double[][] ofRows(double[][] centred) {
        int n = centred[0].length;
        double[][] rows = new double[n][centred.length];
        for (int j = 0; j < centred.length; j++) {
            for (int i = 0; i < n; i++) {
                rows[i][j] = centred[j][i];
            }
        }
        EigenDecomposition_F64<DMatrixRMaj> eigen = eigen(rows);
        int[] order = falling(eigen, n);
        double[][] directions = new double[kept(eigen, order)][];
        for (int k = 0; k < directions.length; k++) {
            double[] u = eigen.getEigenVector(order[k]).getData();
            double root = Math.sqrt(value(eigen, order[k]));
            double[] direction = new double[centred.length];
            for (int j = 0; j < direction.length; j++) {
                direction[j] = dot(centred[j], u) / root;
            }
            directions[k] = turned(direction);
        }
        return directions;
    }

    private static EigenDecomposition_F64<DMatrixRMaj> eigen(double[][] vectors) {
        int p = vectors.length;
        DMatrixRMaj products = new DMatrixRMaj(p, p);
        for (int a = 0; a < p; a++) {
            FitFailure.ifInterrupted();
            for (int b = 0; b <= a; b++) {
                double product = dot(vectors[a], vectors[b]);
                products.set(a, b, product);
                products.set(b, a, product);
            }
        }
        EigenDecomposition_F64<DMatrixRMaj> eigen = DecompositionFactory_DDRM.eig(p, true, true);
        if (!eigen.decompose(products)) {
            throw new FitFailure("components: the eigenvectors of the columns' covariance were not found");
        }
        return eigen;
    }

    private static double dot(double[] a, double[] b) {
        double sum = 0;
        for (int i = 0; i < a.length; i++) {
            sum += a[i] * b[i];
        }
        return sum;
    }

    private static double value(EigenDecomposition_F64<DMatrixRMaj> eigen, int k) {
        return eigen.getEigenvalue(k).getReal();
    }

    private static int[] falling(EigenDecomposition_F64<DMatrixRMaj> eigen, int count) {
        return IntStream.range(0, count)
                .boxed()
                .sorted((a, b) -> Double.compare(value(eigen, b), value(eigen, a)))
                .mapToInt(Integer::intValue)
                .toArray();
    }

    private int kept(EigenDecomposition_F64<DMatrixRMaj> eigen, int[] order) {
        double all = 0;
        int some = 0;
        for (int k : order) {
            if (value(eigen, k) > NOTHING * value(eigen, order[0])) {
                all += value(eigen, k);
                some++;
            }
        }
        if (keep >= 1) {
            return (int) Math.min(keep, some);
        }
        double sum = 0;
        int count = 0;
        while (count < some && sum < keep * all) {
            sum += value(eigen, order[count++]);
        }
        return count;
    }

    private static double[] turned(double[] direction) {
        int greatest = 0;
        for (int j = 1; j < direction.length; j++) {
            // Equal but for rounding counts as equal, so that the sign depends on no last bit.
            if (Math.abs(direction[j]) > Math.abs(direction[greatest]) * (1 + 1e-9)) {
                greatest = j;
            }
        }
        if (direction[greatest] < 0) {
            for (int j = 0; j < direction.length; j++) {
                direction[j] = -direction[j];
            }
        }
        return direction;
    }
}
