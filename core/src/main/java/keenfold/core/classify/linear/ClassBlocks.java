package keenfold.core.classify.linear;

import java.util.Arrays;
import java.util.stream.IntStream;
import keenfold.core.classify.Products;
import keenfold.core.classify.Spd;

/**
 * The second derivatives of a {@link Likelihood} by the coefficients of one class each, X'W_cX: its Hessian matrix without the
 * blocks of two classes. Where they would have too many numbers, as of many more columns than rows, only the diagonals are
 * kept.
 */
final class ClassBlocks {
    /** Of the trace, added to the diagonal: a class that is predicted with certainty has no curvature of its own. */
    private static final double LEAST = 1e-8;

    /** How many numbers blocks may have. */
    static final long MOST_VALUES = 1 << 22;

    /** Factors of nothing. */
    static final Factors NO_FACTORS = new Factors(new int[0][], new Spd[0], new double[0][]);

    private final int p;
    private final int[][] columns;
    private final double[][] blocks;
    private final boolean diagonal;

    private ClassBlocks(int p, int[][] columns, double[][] blocks, boolean diagonal) {
        this.p = p;
        this.diagonal = diagonal;
        this.columns = columns;
        this.blocks = blocks;
    }

    /**
     * Computes the blocks.
     *
     * @param wanted of m·p coefficients, those that the blocks are to have
     * @param most how many numbers the blocks may have
     */
    static ClassBlocks of(Likelihood likelihood, double[][] prob, boolean[] wanted, long most) {
        int p = likelihood.p;
        int[][] columns = new int[prob.length][];
        long values = 0;
        for (int c = 0; c < prob.length; c++) {
            int first = c * p;
            columns[c] = IntStream.range(0, p).filter(j -> wanted[first + j]).toArray();
            values += (long) columns[c].length * columns[c].length;
        }
        return values > most
                ? new ClassBlocks(p, columns, diagonals(likelihood, prob, columns), true)
                : new ClassBlocks(p, columns, blocks(likelihood, prob, columns), false);
    }

    private static double[][] diagonals(Likelihood likelihood, double[][] prob, int[][] columns) {
        double[][] diagonals = new double[prob.length][];
        for (int c = 0; c < prob.length; c++) {
            double[] curvature = likelihood.curvature(prob[c]);
            diagonals[c] = IntStream.of(columns[c])
                    .mapToDouble(j -> {
                        double[] x = likelihood.x[j];
                        double sum = 0;
                        for (int i = 0; i < x.length; i++) {
                            sum += curvature[i] * x[i] * x[i];
                        }
                        return sum;
                    })
                    .toArray();
        }
        return diagonals;
    }

    private static double[][] blocks(Likelihood likelihood, double[][] prob, int[][] columns) {
        double[][] blocks = new double[prob.length][];
        for (int c = 0; c < prob.length; c++) {
            double[][] x =
                    IntStream.of(columns[c]).mapToObj(j -> likelihood.x[j]).toArray(double[][]::new);
            blocks[c] = new double[x.length * x.length];
            int before = c - 1;
            if (c > 0 && constant(prob[c]) && constant(prob[before]) && Arrays.equals(columns[c], columns[before])) {
                // Where all rows have the same probabilities, as at the start, the classes differ by a factor.
                double by = prob[c][0] * (1 - prob[c][0]) / (prob[before][0] * (1 - prob[before][0]));
                Arrays.setAll(blocks[c], k -> blocks[before][k] * by);
            } else if (x.length > 0) {
                Products.add(x, likelihood.curvature(prob[c]), blocks[c]);
                Products.mirror(blocks[c], x.length);
            }
        }
        return blocks;
    }

    private static boolean constant(double[] values) {
        for (double v : values) {
            if (v != values[0]) {
                return false;
            }
        }
        return values[0] > 0 && values[0] < 1;
    }

    /** Whether the blocks have all of some coefficients. */
    boolean have(boolean[] some) {
        boolean[] had = new boolean[some.length];
        for (int c = 0; c < columns.length; c++) {
            for (int j : columns[c]) {
                had[c * p + j] = true;
            }
        }
        return IntStream.range(0, some.length).allMatch(k -> had[k] || !some[k]);
    }

    /** How many numbers the blocks have in all. */
    long values() {
        return Arrays.stream(blocks).mapToLong(b -> b.length).sum();
    }

    /**
     * Returns the blocks of other columns.
     *
     * @param from for each of them which one it is among those that the blocks were made of; −1 where there is none
     */
    ClassBlocks of(int[] from) {
        int[][] chosen = new int[blocks.length][];
        double[][] parts = new double[blocks.length][];
        for (int c = 0; c < blocks.length; c++) {
            int[] place = new int[p];
            Arrays.fill(place, -1);
            for (int k = 0; k < columns[c].length; k++) {
                place[columns[c][k]] = k;
            }
            int[] own = IntStream.range(0, from.length)
                    .filter(j -> from[j] >= 0 && place[from[j]] >= 0)
                    .toArray();
            chosen[c] = own;
            if (diagonal) {
                double[] old = blocks[c];
                parts[c] =
                        IntStream.of(own).mapToDouble(j -> old[place[from[j]]]).toArray();
                continue;
            }
            parts[c] = new double[own.length * own.length];
            for (int a = 0; a < own.length; a++) {
                for (int b = 0; b < own.length; b++) {
                    parts[c][a * own.length + b] =
                            blocks[c][place[from[own[a]]] * columns[c].length + place[from[own[b]]]];
                }
            }
        }
        return new ClassBlocks(from.length, chosen, parts, diagonal);
    }

    /** The columns of a class's block. */
    int[] columns(int c) {
        return columns[c];
    }

    /** Whether a block is its diagonal alone. */
    boolean diagonal() {
        return diagonal;
    }

    /** The block of a class, row after row, or its diagonal. */
    double[] block(int c) {
        return blocks[c];
    }

    /**
     * Factors the blocks of some coefficients, with the penalty.
     *
     * @param free of m·p coefficients, those to solve for; all others' are 0
     */
    Factors factored(boolean[] free, double ridge) {
        Spd[] factors = new Spd[blocks.length];
        double[][] inverses = new double[blocks.length][];
        int[][] places = new int[blocks.length][];
        for (int c = 0; c < blocks.length; c++) {
            int[] own = columns[c];
            int first = c * p;
            int[] kept = IntStream.range(0, own.length)
                    .filter(k -> free[first + own[k]])
                    .toArray();
            places[c] = IntStream.of(kept).map(k -> first + own[k]).toArray();
            if (diagonal) {
                double[] curved = blocks[c];
                double mean = Arrays.stream(curved).average().orElse(0);
                inverses[c] = IntStream.of(kept)
                        .mapToDouble(k ->
                                1 / (curved[k] + Logistic.penalty(own[k], p, ridge) + LEAST * mean + Double.MIN_NORMAL))
                        .toArray();
                continue;
            }
            double[] square = new double[kept.length * kept.length];
            double trace = 0;
            for (int a = 0; a < kept.length; a++) {
                for (int b = 0; b < kept.length; b++) {
                    square[a * kept.length + b] = blocks[c][kept[a] * own.length + kept[b]];
                }
                square[a * kept.length + a] += Logistic.penalty(own[kept[a]], p, ridge);
                trace += square[a * kept.length + a];
            }
            for (int a = 0; a < kept.length; a++) {
                square[a * kept.length + a] += LEAST * trace / kept.length + Double.MIN_NORMAL;
            }
            if (kept.length > 0) {
                factors[c] = Spd.factor(square, kept.length);
            }
        }
        return new Factors(places, factors, inverses);
    }

    /** Solves for the coefficients of one class after the other. */
    static final class Factors {
        private final int[][] places;
        private final Spd[] factors;
        private final double[][] inverses;

        /**
         * @param factors of each class's block
         * @param inverses of its diagonal, where only that is kept
         */
        private Factors(int[][] places, Spd[] factors, double[][] inverses) {
            this.inverses = inverses;
            this.places = places;
            this.factors = factors;
        }

        /** Returns the solution for a right side. */
        double[] solve(double[] right) {
            double[] solution = new double[right.length];
            for (int c = 0; c < factors.length; c++) {
                int[] own = places[c];
                double[] inverse = inverses[c];
                for (int k = 0; inverse != null && k < own.length; k++) {
                    solution[own[k]] = right[own[k]] * inverse[k];
                }
                if (inverse == null && own.length > 0) {
                    double[] part = factors[c].solve(
                            Arrays.stream(own).mapToDouble(k -> right[k]).toArray());
                    for (int k = 0; k < own.length; k++) {
                        solution[own[k]] = part[k];
                    }
                }
            }
            return solution;
        }
    }
}
