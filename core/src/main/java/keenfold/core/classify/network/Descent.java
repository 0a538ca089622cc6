package keenfold.core.classify.network;

import java.util.ArrayDeque;
import java.util.Deque;
import keenfold.core.classify.Vectors;
import keenfold.core.learned.FitFailure;

/**
 * Minimises a smooth function step by step: limited-memory BFGS with halved steps (Nocedal and Wright 2006, Numerical
 * Optimization, algorithms 3.1 and 7.5).
 */
final class Descent {
    private static final int MEMORY = 10;
    private static final int MOST_HALVINGS = 40;
    private static final double SLOPE_SHARE = 1e-4;

    private final Function function;
    private final Deque<Pair> pairs = new ArrayDeque<>();
    private double[] at;
    private double[] gradient;
    private double value;

    /** A function with its derivatives. */
    interface Function {
        /** Returns the value at a point, and writes the derivatives there. */
        double at(double[] point, double[] gradient);
    }

    private static final class Pair {
        private final double[] moved;
        private final double[] turned;
        private final double inner;

        Pair(double[] moved, double[] turned, double inner) {
            this.moved = moved;
            this.turned = turned;
            this.inner = inner;
        }
    }

    Descent(Function function, double[] start) {
        this.function = function;
        this.at = start.clone();
        this.gradient = new double[start.length];
        this.value = function.at(at, gradient);
    }

    /** Takes one step; false, and none taken, if no step lowers the function. */
    boolean step() {
        FitFailure.ifInterrupted();
        double[] way = direction();
        double slope = dot(way, gradient);
        if (!(slope < 0)) {
            pairs.clear();
            way = negative(gradient);
            slope = dot(way, gradient);
        }
        if (!(slope < 0)) {
            return false;
        }
        // Nothing is known of the scale at first: a step of length one at most.
        double share = pairs.isEmpty() ? Math.min(1, 1 / Math.sqrt(-slope)) : 1;
        for (int h = 0; h < MOST_HALVINGS; h++, share /= 2) {
            double[] next = new double[at.length];
            for (int k = 0; k < next.length; k++) {
                next[k] = at[k] + share * way[k];
            }
            double[] there = new double[at.length];
            double lower = function.at(next, there);
            if (lower <= value + SLOPE_SHARE * share * slope) {
                remember(next, there);
                at = next;
                gradient = there;
                value = lower;
                return true;
            }
        }
        return false;
    }

    private void remember(double[] next, double[] there) {
        double[] moved = new double[at.length];
        double[] turned = new double[at.length];
        for (int k = 0; k < moved.length; k++) {
            moved[k] = next[k] - at[k];
            turned[k] = there[k] - gradient[k];
        }
        double inner = dot(moved, turned);
        if (inner > 1e-12 * Math.sqrt(dot(moved, moved) * dot(turned, turned))) {
            pairs.addLast(new Pair(moved, turned, inner));
            if (pairs.size() > MEMORY) {
                pairs.removeFirst();
            }
        }
    }

    private double[] direction() {
        double[] way = negative(gradient);
        double[] shares = new double[pairs.size()];
        int k = shares.length;
        for (var backwards = pairs.descendingIterator(); backwards.hasNext(); ) {
            Pair pair = backwards.next();
            shares[--k] = dot(pair.moved, way) / pair.inner;
            add(way, -shares[k], pair.turned);
        }
        if (!pairs.isEmpty()) {
            Pair last = pairs.getLast();
            double scale = last.inner / dot(last.turned, last.turned);
            for (int i = 0; i < way.length; i++) {
                way[i] *= scale;
            }
        }
        for (Pair pair : pairs) {
            add(way, shares[k++] - dot(pair.turned, way) / pair.inner, pair.moved);
        }
        return way;
    }

    private static double[] negative(double[] v) {
        double[] negative = new double[v.length];
        add(negative, -1, v);
        return negative;
    }

    private static void add(double[] to, double share, double[] v) {
        for (int k = 0; k < to.length; k++) {
            to[k] += share * v[k];
        }
    }

    private static double dot(double[] a, double[] b) {
        return Vectors.dot(a, b);
    }

    double[] at() {
        return at.clone();
    }

    double value() {
        return value;
    }

    /** The largest derivative, in absolute value. */
    double steepness() {
        return Vectors.largest(gradient);
    }
}
