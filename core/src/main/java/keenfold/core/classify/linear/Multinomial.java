package keenfold.core.classify.linear;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import keenfold.core.classify.Spd;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Training;

/**
 * The multinomial part of {@link Logistic}: limited-memory quasi-Newton steps that start from a bound of the curvature.
 *
 * <p>Definition: L-BFGS with 12 kept pairs and step halving. The first guess of the inverse curvature is, for every class
 * alike, (½·X'WX + P)⁻¹: on coefficients that sum to 0 over classes it bounds the true curvature (Böhning 1992), which
 * makes a few dozen steps enough. Where the penalty is so weak that the bound is far off, and 200 steps are not enough,
 * Newton's method goes on, whose systems are solved by conjugate gradients on products with the true curvature, each class's
 * own curvature as preconditioner; the objective is convex, so that both end in the one solution there is. Ends when no
 * partial derivative exceeds 1e-9 of the total weight.
 *
 * <p>Without a penalty, classes that can be separated have no solution: the coefficients grow without end while the
 * derivatives vanish. So there the end is believed only if the next step of Newton's method would be small.
 *
 * <p>References: Böhning (1992), Ann. Inst. Statist. Math. 44(1), doi:10.1007/BF00048682; Liu and Nocedal (1989), Math.
 * Program. 45, doi:10.1007/BF01589116; Nocedal and Wright (2006), Numerical Optimization, algorithm 7.1 (Newton-CG); Albert
 * and Anderson (1984), Biometrika 71(1), doi:10.1093/biomet/71.1.1 (separation).
 */
final class Multinomial {
    private static final int PAIRS = 12;
    private static final int MOST_QUASI_STEPS = 200;
    private static final int MOST_NEWTON_STEPS = 200;
    private static final int MOST_PRODUCTS = 5000;
    private static final int MOST_HALVINGS = 40;
    private static final double TOLERANCE = 1e-9;
    private static final double SUFFICIENT = 1e-4;

    /** A step of Newton's method that moves coefficients by more than this, relative to their size, is not an end. */
    private static final double STILL_GROWING = 1e-4;

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
        double least = TOLERANCE * total;
        for (int step = 0; step < MOST_QUASI_STEPS && !(largest(now) <= least); step++) {
            FitFailure.ifInterrupted();
            now = descend(now, direction(now.gradient));
        }
        for (int step = 0; step < MOST_NEWTON_STEPS && !(largest(now) <= least); step++) {
            now = descend(now, newton(now));
        }
        boolean ended = largest(now) <= least;
        if (ended && strength == 0) {
            double move = Vectors.largest(newton(now).values);
            ended = move <= STILL_GROWING * (1 + Vectors.largest(now.beta.values));
        }
        if (!ended) {
            throw strength > 0
                    ? new FitFailure("logistic did not converge in " + MOST_NEWTON_STEPS + " Newton steps: strength "
                            + strength + " is too small for these columns; raise it")
                    : new FitFailure(Logistic.SEPARATED);
        }
        double[][] beta = centred(rows(now.beta));
        return new Logistic.Linear(allClasses, present, beta, size(beta));
    }

    private static double largest(Point point) {
        return Vectors.largest(point.gradient.values);
    }

    /** What is not penalised is determined up to what all classes have in common, which is taken away. */
    private double[][] centred(double[][] beta) {
        for (int j = 0; j < p; j++) {
            double mean = 0;
            for (double[] own : beta) {
                mean += own[j] / classes;
            }
            for (double[] own : beta) {
                own[j] -= mean;
            }
        }
        return beta;
    }

    /** −H⁻¹·gradient with the true curvature H, to a tenth of the gradient's length and closer as that becomes small. */
    private Flat newton(Point now) {
        double[][] prob = softmax(x, rows(now.beta), w.length);
        Spd[] own = new Spd[classes];
        for (int c = 0; c < classes; c++) {
            own[c] = preconditioner(prob[c]);
        }
        Flat zero = new Flat(new double[now.gradient.values.length]);
        Flat solution = zero;
        Flat residual = zero.plus(-1, now.gradient);
        Flat z = preconditioned(residual, own);
        Flat along = z;
        double product = residual.dot(z);
        double first = residual.dot(residual);
        double total = 0;
        for (double weight : w) {
            total += weight;
        }
        double share = Math.min(0.1, Math.sqrt(Math.sqrt(first) / total));
        for (int k = 0; k < MOST_PRODUCTS && residual.dot(residual) > share * share * first; k++) {
            FitFailure.ifInterrupted();
            Flat turned = curved(along, prob);
            double bend = along.dot(turned);
            if (!(bend > 0)) {
                break;
            }
            double far = product / bend;
            solution = solution.plus(far, along);
            residual = residual.plus(-far, turned);
            z = preconditioned(residual, own);
            double next = residual.dot(z);
            along = z.plus(next / product, along);
            product = next;
        }
        return solution;
    }

    /** A class's own curvature, with enough on the diagonal to be positive where the class is predicted with certainty. */
    private Spd preconditioner(double[] prob) {
        double[] curvature = new double[w.length];
        for (int i = 0; i < curvature.length; i++) {
            curvature[i] = w[i] * prob[i] * (1 - prob[i]);
        }
        double[] h = Logistic.hessian(x, curvature, strength);
        double trace = 0;
        for (int j = 0; j < p; j++) {
            trace += h[j * p + j];
        }
        for (int j = 0; j < p; j++) {
            h[j * p + j] += 1e-8 * trace / p + Double.MIN_NORMAL;
        }
        return Spd.factor(h, p);
    }

    /** H·v: of class c, X'r_c + P·v_c with r_c = w·p_c·(x·v_c − Σ_k p_k x·v_k). */
    private Flat curved(Flat v, double[][] prob) {
        int n = w.length;
        double[][] rows = rows(v);
        double[][] moved = new double[classes][];
        double[] mean = new double[n];
        for (int c = 0; c < classes; c++) {
            moved[c] = Logistic.scores(x, rows[c], n);
            for (int i = 0; i < n; i++) {
                mean[i] += prob[c][i] * moved[c][i];
            }
        }
        double[] out = new double[classes * p];
        double[] r = new double[n];
        for (int c = 0; c < classes; c++) {
            for (int i = 0; i < n; i++) {
                r[i] = w[i] * prob[c][i] * (moved[c][i] - mean[i]);
            }
            for (int j = 0; j < p; j++) {
                out[c * p + j] = Vectors.dot(r, x[j]) + Logistic.penalty(j, p, strength) * rows[c][j];
            }
        }
        return new Flat(out);
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
        Spd[] all = new Spd[classes];
        Arrays.fill(all, bound);
        q = preconditioned(q, all);
        for (Pair pair : pairs) {
            double beta = pair.turned.dot(q) / pair.product;
            q = q.plus(alpha[k++] - beta, pair.moved);
        }
        return new Flat(new double[q.values.length]).plus(-1, q);
    }

    private Flat preconditioned(Flat q, Spd[] ofClass) {
        double[] out = new double[q.values.length];
        double[] part = new double[p];
        for (int c = 0; c < classes; c++) {
            System.arraycopy(q.values, c * p, part, 0, p);
            System.arraycopy(ofClass[c].solve(part), 0, out, c * p, p);
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
