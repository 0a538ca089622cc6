package keenfold.core.classify;

import java.util.ArrayDeque;
import java.util.Deque;
import keenfold.core.prepare.FitFailure;
import keenfold.core.prepare.Training;

/**
 * The multinomial part of {@link Logistic}: limited-memory quasi-Newton steps that start from a bound of the curvature.
 *
 * <p>Definition: L-BFGS with 12 kept pairs and step halving. The first guess of the inverse curvature is, for every class
 * alike, (½·X'WX + P)⁻¹: on coefficients that sum to 0 over classes it bounds the true curvature (Böhning 1992), which
 * makes a few dozen steps enough. Ends when no partial derivative exceeds 1e-9 of the total weight.
 *
 * <p>References: Böhning (1992), Ann. Inst. Statist. Math. 44(1), doi:10.1007/BF00048682; Liu and Nocedal (1989), Math.
 * Program. 45, doi:10.1007/BF01589116.
 */
final class Multinomial {
    private static final int PAIRS = 12;
    private static final int MOST_STEPS = 1000;
    private static final int MOST_HALVINGS = 40;
    private static final double TOLERANCE = 1e-9;
    private static final double SUFFICIENT = 1e-4;

    private final double[][] x;
    private final int[] y;
    private final double[] w;
    private final int classes;
    private final double strength;
    private final int p;
    private final Spd bound;
    private final Deque<Pair> pairs = new ArrayDeque<>();

    private record Point(Flat beta, Flat gradient, double objective) {}

    private record Pair(Flat moved, Flat turned, double product) {}

    /** Coefficients class after class. */
    private static final class Flat {
        final double[] values;

        Flat(double[] values) {
            this.values = values;
        }

        Flat plus(double share, Flat other) {
            double[] sum = values.clone();
            for (int j = 0; j < sum.length; j++) {
                sum[j] += share * other.values[j];
            }
            return new Flat(sum);
        }

        double dot(Flat other) {
            double sum = 0;
            for (int j = 0; j < values.length; j++) {
                sum += values[j] * other.values[j];
            }
            return sum;
        }
    }

    private Multinomial(Training training, double[][] x, int[] y, int classes, double strength) {
        this.x = x;
        this.y = y;
        this.w = training.weights();
        this.classes = classes;
        this.strength = strength;
        this.p = x.length;
        double[] half = new double[w.length];
        for (int i = 0; i < half.length; i++) {
            half[i] = w[i] / 2;
        }
        this.bound = Spd.factor(Logistic.hessian(x, half, strength), p);
    }

    static Logistic.Linear fit(
            Training training, double[][] x, int[] y, int[] present, double strength, double[][] start) {
        return new Multinomial(training, x, y, present.length, strength).minimise(training.classes(), present, start);
    }

    private Logistic.Linear minimise(int allClasses, int[] present, double[][] start) {
        double total = 0;
        for (double weight : w) {
            total += weight;
        }
        double[] flat = new double[classes * p];
        for (int c = 0; c < classes; c++) {
            System.arraycopy(start[c], 0, flat, c * p, p);
        }
        Point now = at(new Flat(flat));
        for (int step = 0; step < MOST_STEPS; step++) {
            FitFailure.ifInterrupted();
            if (Logistic.largest(now.gradient.values) <= TOLERANCE * total) {
                double[][] beta = rows(now.beta);
                return new Logistic.Linear(allClasses, present, beta, size(beta));
            }
            Flat direction = direction(now.gradient);
            now = descend(now, direction);
        }
        throw new FitFailure("logistic did not converge in " + MOST_STEPS
                + " quasi-Newton steps: the classes can perhaps be separated without error; raise strength");
    }

    private Point descend(Point now, Flat direction) {
        double slope = now.gradient.dot(direction);
        double share = 1;
        for (int h = 0; h < MOST_HALVINGS; h++) {
            FitFailure.ifInterrupted();
            Point next = at(now.beta.plus(share, direction));
            double slack = 1e-13 * Math.abs(now.objective);
            if (next.objective <= now.objective + SUFFICIENT * share * slope + slack) {
                remember(now, next);
                return next;
            }
            share /= 2;
        }
        throw new FitFailure("logistic found no lower point along its direction; raise strength");
    }

    private void remember(Point now, Point next) {
        Flat moved = next.beta.plus(-1, now.beta);
        Flat turned = next.gradient.plus(-1, now.gradient);
        double product = moved.dot(turned);
        if (product > 1e-12 * turned.dot(turned) * 1e-6) {
            pairs.addLast(new Pair(moved, turned, product));
            if (pairs.size() > PAIRS) {
                pairs.removeFirst();
            }
        }
    }

    /** The two-loop recursion, with the bound in the middle. */
    private Flat direction(Flat gradient) {
        Flat q = new Flat(gradient.values.clone());
        double[] alpha = new double[pairs.size()];
        int k = pairs.size();
        for (var backwards = pairs.descendingIterator(); backwards.hasNext(); ) {
            Pair pair = backwards.next();
            alpha[--k] = pair.moved.dot(q) / pair.product;
            q = q.plus(-alpha[k], pair.turned);
        }
        q = preconditioned(q);
        for (Pair pair : pairs) {
            double beta = pair.turned.dot(q) / pair.product;
            q = q.plus(alpha[k++] - beta, pair.moved);
        }
        return new Flat(new double[q.values.length]).plus(-1, q);
    }

    private Flat preconditioned(Flat q) {
        double[] out = new double[q.values.length];
        double[] part = new double[p];
        for (int c = 0; c < classes; c++) {
            System.arraycopy(q.values, c * p, part, 0, p);
            System.arraycopy(bound.solve(part), 0, out, c * p, p);
        }
        return new Flat(out);
    }

    private Point at(Flat beta) {
        int n = w.length;
        double[][] rows = rows(beta);
        double[][] eta = new double[classes][];
        for (int c = 0; c < classes; c++) {
            eta[c] = Logistic.scores(x, rows[c], n);
        }
        double objective = 0;
        for (int i = 0; i < n; i++) {
            double own = eta[y[i]][i];
            double log = normalise(eta, i);
            objective += w[i] * (log - own);
        }
        double[] gradient = new double[classes * p];
        double[] residual = new double[n];
        for (int c = 0; c < classes; c++) {
            for (int i = 0; i < n; i++) {
                residual[i] = w[i] * (eta[c][i] - (y[i] == c ? 1 : 0));
            }
            for (int j = 0; j < p; j++) {
                double sum = 0;
                for (int i = 0; i < n; i++) {
                    sum += residual[i] * x[j][i];
                }
                double b = rows[c][j];
                double penalty = Logistic.penalty(j, p, strength);
                gradient[c * p + j] = sum + penalty * b;
                objective += penalty / 2 * b * b;
            }
        }
        return new Point(beta, new Flat(gradient), objective);
    }

    /** Turns column i of the scores into probabilities; returns ln Σ exp(score). */
    private static double normalise(double[][] eta, int i) {
        double most = Double.NEGATIVE_INFINITY;
        for (double[] scores : eta) {
            most = Math.max(most, scores[i]);
        }
        double sum = 0;
        for (double[] scores : eta) {
            scores[i] = StrictMath.exp(scores[i] - most);
            sum += scores[i];
        }
        for (double[] scores : eta) {
            scores[i] /= sum;
        }
        return most + StrictMath.log(sum);
    }

    /** Class probabilities of n rows, class after class. */
    static double[][] softmax(double[][] x, double[][] beta, int n) {
        double[][] eta = new double[beta.length][];
        for (int c = 0; c < beta.length; c++) {
            eta[c] = Logistic.scores(x, beta[c], n);
        }
        for (int i = 0; i < n; i++) {
            normalise(eta, i);
        }
        return eta;
    }

    private double[][] rows(Flat beta) {
        double[][] rows = new double[classes][p];
        for (int c = 0; c < classes; c++) {
            System.arraycopy(beta.values, c * p, rows[c], 0, p);
        }
        return rows;
    }

    private double size(double[][] beta) {
        double[][] prob = softmax(x, beta, w.length);
        double sum = 0;
        double[] curvature = new double[w.length];
        for (double[] own : prob) {
            for (int i = 0; i < curvature.length; i++) {
                curvature[i] = w[i] * own[i] * (1 - own[i]);
            }
            sum += Logistic.hatTrace(x, curvature, strength);
        }
        return sum * (classes - 1) / classes;
    }
}
