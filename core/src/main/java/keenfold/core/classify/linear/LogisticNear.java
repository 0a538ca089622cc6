package keenfold.core.classify.linear;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.FullDataFit;
import keenfold.core.classify.Model;
import keenfold.core.classify.Spd;
import keenfold.core.classify.Vectors;
import keenfold.core.data.Column;
import keenfold.core.data.Exponential;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/**
 * Where {@link Logistic} ended on all rows of a data set, as the start of its fits to folds.
 *
 * <p>The curvature there serves too. For several classes or a lasso part it is the preconditioner of {@link PenalisedFit}.
 * With ridge and two classes: from β, repeat β ← β + (a·X'WX + P)⁻¹·g(β) with the gradient
 * g of the fold, X'WX of all rows at their solution and a the fold's share of them, which needs one pass over the rows a
 * step where Newton's method needs as many as there are columns. Each step must be at most a third of the one before. Where
 * it ends, one step of Newton's method with the fold's own curvature, which the size needs anyway, must be within its
 * tolerance too, or Newton's method goes on from there: rows held out can hide a direction from X'WX, never from that.
 * (Chord method; Ortega and Rheinboldt 1970, Iterative Solution of Nonlinear Equations in Several Variables, 7.1.)
 */
final class LogisticNear implements FullDataFit {
    private static final int MOST_STEPS = 30;
    private static final int MOST_VALUES = 2_000_000;
    private static final double MOST_RATE = 1.0 / 3;

    private final Logistic classifier;
    private final Logistic.Linear solution;
    private final double rows;
    private final Map<String, Integer> place = new HashMap<>();
    private final double[] curvature;
    private final Optional<ClassBlocks> blocks;

    private LogisticNear(
            Logistic classifier,
            Logistic.Linear solution,
            double rows,
            List<Column> columns,
            double[] curvature,
            Optional<ClassBlocks> blocks) {
        this.classifier = classifier;
        this.solution = solution;
        this.rows = rows;
        this.curvature = curvature;
        this.blocks = blocks;
        for (Column column : columns) {
            place.put(column.name(), place.size());
        }
    }

    static LogisticNear of(Logistic classifier, Training all) {
        Logistic.Linear solution = classifier.fit(all, Optional.empty());
        double[] curvature = new double[0];
        Optional<ClassBlocks> blocks = Optional.empty();
        double[][] x = Logistic.withIntercept(all.table());
        if (solution.beta().length == 1 && classifier.mix() == 0) {
            double[] prob = chances(x, solution.beta()[0], all.rows());
            double[] each = new double[all.rows()];
            Arrays.setAll(each, i -> prob[i] * (1 - prob[i]));
            curvature = Logistic.hessian(x, each, 0);
        } else if (x.length <= all.rows()) {
            blocks = blocks(classifier, solution, x, all.weights());
        }
        return new LogisticNear(classifier, solution, all.rows(), all.table().columns(), curvature, blocks);
    }

    private static Optional<ClassBlocks> blocks(
            Logistic classifier, Logistic.Linear solution, double[][] x, double[] weights) {
        double[] beta = Logistic.flat(solution.beta());
        boolean[] used = new boolean[beta.length];
        for (int k = 0; k < used.length; k++) {
            used[k] = classifier.mix() == 0 || beta[k] != 0 || k % x.length == x.length - 1;
        }
        Likelihood likelihood = new Likelihood(x, new int[weights.length], weights, solution.beta().length);
        return Optional.of(ClassBlocks.of(likelihood, likelihood.at(beta).prob(), used, ClassBlocks.MOST_VALUES))
                .filter(b -> b.values() <= MOST_VALUES);
    }

    @Override
    public Optional<Model> near(Training training) {
        double[] weights = training.classWeights();
        int[] present =
                IntStream.range(0, weights.length).filter(c -> weights[c] > 0).toArray();
        List<Column> columns = training.table().columns();
        boolean inRowSpace = classifier.mix() == 0 && columns.size() > training.rows();
        if (inRowSpace || present.length < 2 || !Arrays.equals(present, solution.present())) {
            return Optional.empty();
        }
        // Columns by their names: a level that all rows show may be missing from a fold.
        int[] from = new int[columns.size() + 1];
        Arrays.setAll(
                from,
                j -> j < columns.size() ? place.getOrDefault(columns.get(j).name(), -1) : place.size());
        double[][] start = Arrays.stream(solution.beta())
                .map(own ->
                        IntStream.of(from).mapToDouble(j -> j < 0 ? 0 : own[j]).toArray())
                .toArray(double[][]::new);
        if (Arrays.stream(start).flatMapToDouble(Arrays::stream).anyMatch(b -> !Double.isFinite(b))) {
            return Optional.empty();
        }
        try {
            boolean known = curvature.length > 0 && IntStream.of(from).allMatch(j -> j >= 0);
            return Optional.of(
                    known
                            ? chord(training, present, from, start[0])
                            : classifier.fit(
                                    training,
                                    Optional.of(PenalisedFit.Start.near(
                                            Logistic.flat(start), blocks.map(b -> b.of(from))))));
        } catch (FitFailure e) {
            return Optional.empty();
        }
    }

    private Model chord(Training training, int[] present, int[] from, double[] start) {
        double[][] x = Logistic.withIntercept(training.table());
        int n = training.rows();
        int p = x.length;
        double[] w = training.weights();
        double[] residual = new double[n];
        int positive = present[1];
        int[] y = IntStream.range(0, n)
                .map(i -> training.target(i) == positive ? 1 : 0)
                .toArray();
        Spd metric = Spd.factor(metric(from, training.totalWeight() / rows), p);
        double[] beta = start.clone();
        double before = Double.POSITIVE_INFINITY;
        for (int step = 0; step < MOST_STEPS; step++) {
            FitFailure.ifInterrupted();
            double[] prob = chances(x, beta, n);
            for (int i = 0; i < n; i++) {
                residual[i] = w[i] * (y[i] - prob[i]);
            }
            double[] gradient = new double[p];
            for (int j = 0; j < p; j++) {
                gradient[j] = Vectors.dot(residual, x[j]) - Logistic.penalty(j, p, classifier.strength()) * beta[j];
            }
            double[] move = metric.solve(gradient);
            double length = Vectors.largest(move);
            double tolerance = Logistic.TOLERANCE * (1 + Vectors.largest(beta));
            if (!(length <= MOST_RATE * before)) {
                break;
            }
            if (length <= tolerance) {
                double[] own = new double[n];
                Arrays.setAll(own, i -> w[i] * prob[i] * (1 - prob[i]));
                Spd newton = Spd.factor(Logistic.hessian(x, own, classifier.strength()), p);
                move = newton.solve(gradient);
                if (!(Vectors.largest(move) <= tolerance)) {
                    break;
                }
                for (int j = 0; j < p; j++) {
                    beta[j] += move[j];
                }
                double[] penalties = new double[p];
                Arrays.setAll(penalties, j -> Logistic.penalty(j, p, classifier.strength()));
                return new Logistic.Linear(
                        training.classes(), present, new double[][] {beta}, p - newton.traceOfInverseTimes(penalties));
            }
            for (int j = 0; j < p; j++) {
                beta[j] += move[j];
            }
            before = length;
        }
        return classifier.binary(training, x, y, present, beta);
    }

    private double[] metric(int[] from, double share) {
        int p = from.length;
        int all = place.size() + 1;
        double[] metric = new double[p * p];
        for (int a = 0; a < p; a++) {
            for (int b = 0; b < p; b++) {
                metric[a * p + b] = share * curvature[from[a] * all + from[b]];
            }
            metric[a * p + a] += Logistic.penalty(a, p, classifier.strength());
        }
        return metric;
    }

    /** The probability of the later class, per row. */
    private static double[] chances(double[][] x, double[] beta, int n) {
        double[] prob = Logistic.scores(x, beta, n);
        for (int i = 0; i < n; i++) {
            double e = Exponential.of(-Math.abs(prob[i]));
            prob[i] = prob[i] >= 0 ? 1 / (1 + e) : e / (1 + e);
        }
        return prob;
    }
}
