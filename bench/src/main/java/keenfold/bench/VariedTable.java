package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;

/**
 * Made-up tables of one shape, from which as many rows as wanted can be drawn: some to train on, others to test on.
 *
 * @param name what it is called in the tables of the benchmarks
 * @param shape how classes and columns go together
 * @param rows to train on
 * @param columns how many, at least 3
 * @param classes how many, at least 2
 * @param apart how far apart the classes lie, in standard deviations of a column's chance; no part of rules and rings
 * @param mislabelled share of rows that have a class by chance
 */
public record VariedTable(
        String name, Shape shape, int rows, int columns, int classes, double apart, double mislabelled) {
    /** Tables as people bring them: small and large, of two and many classes, smooth, stepped and noisy. */
    public static final List<VariedTable> ALL = List.of(
            new VariedTable("queens", Shape.CENTRES, 150, 4, 3, 1.2, 0),
            new VariedTable("hum", Shape.CENTRES, 200, 60, 2, 0.35, 0),
            new VariedTable("honey", Shape.CLUSTERS, 210, 9, 6, 1.3, 0),
            new VariedTable("mites", Shape.FEW_CENTRES, 300, 100, 3, 1, 0),
            new VariedTable("pollen", Shape.RINGS, 600, 6, 2, 0, 0.05),
            new VariedTable("disease", Shape.ANSWERS, 680, 35, 19, 0.9, 0),
            new VariedTable("colonies", Shape.CENTRES, 770, 8, 2, 0.45, 0),
            new VariedTable("crossings", Shape.PRODUCTS, 800, 10, 2, 1, 0.1),
            new VariedTable("dances", Shape.CLUSTERS, 990, 10, 11, 1.6, 0),
            new VariedTable("swarms", Shape.RARE, 1000, 12, 2, 0.5, 0),
            new VariedTable("forage", Shape.RULES, 1500, 20, 3, 0, 0.1),
            new VariedTable("hives", Shape.CLUSTERS, 2500, 16, 26, 1.4, 0),
            new VariedTable("weather", Shape.RULES, 3000, 8, 5, 0, 0));

    private static final int CLUSTERS = 3;
    private static final int INFORMATIVE = 5;
    private static final int RULE_DEPTH = 6;
    private static final double RARE_SHARE = 0.1;

    /** How classes and columns go together. */
    public enum Shape {
        /** Each class about one centre: what straight boundaries serve. */
        CENTRES,
        /** Each class about three centres. */
        CLUSTERS,
        /** Each class about one centre, which differ in five columns alone. */
        FEW_CENTRES,
        /** Two classes about one centre each, of which one has a tenth of the rows. */
        RARE,
        /** Answers, yes or no, each as probable as the class makes it. */
        ANSWERS,
        /** The distance from the middle, in three columns, decides. */
        RINGS,
        /** The signs of products of two columns decide. */
        PRODUCTS,
        /** A tree of thresholds decides. */
        RULES
    }

    /** Returns rows to train on. */
    public Training training(long draw) {
        return rows(rows, new Seed(draw).with(name).with("training"));
    }

    /** Returns other rows of the same kind. */
    public Training test(int count) {
        return rows(count, new Seed(0).with(name).with("test"));
    }

    private Training rows(int count, Seed seed) {
        RandomSource chance = seed.chance();
        Structure structure = new Structure();
        double[][] x = new double[columns][count];
        int[] y = new int[count];
        for (int i = 0; i < count; i++) {
            double[] row = new double[columns];
            y[i] = structure.draw(row, chance, i);
            if (chance.uniform() < mislabelled) {
                y[i] = chance.below(classes);
            }
            for (int j = 0; j < columns; j++) {
                x[j][i] = row[j];
            }
        }
        List<Column> made = new ArrayList<>();
        for (int j = 0; j < columns; j++) {
            made.add(Numbers.of("x" + j, x[j]));
        }
        double[] ones = new double[count];
        Arrays.fill(ones, 1);
        return Training.of(new Table(count, made), y, ones, classes);
    }

    /** What all rows of the table share. */
    private final class Structure {
        private final double[][] centres;
        private final int[] ruleColumns;
        private final double[] ruleThresholds;
        private final int[] ruleClasses;

        Structure() {
            RandomSource chance = new Seed(0).with(name).chance();
            centres = new double[classes * CLUSTERS][columns];
            for (double[] centre : centres) {
                Arrays.setAll(
                        centre, j -> shape == Shape.FEW_CENTRES && j >= INFORMATIVE ? 0 : apart * chance.normal());
            }
            int inner = (1 << RULE_DEPTH) - 1;
            ruleColumns = new int[inner];
            ruleThresholds = new double[inner];
            ruleClasses = new int[inner + 1];
            Arrays.setAll(ruleColumns, k -> chance.below(Math.min(columns, INFORMATIVE)));
            Arrays.setAll(ruleThresholds, k -> 0.6 * chance.normal());
            Arrays.setAll(ruleClasses, k -> k < classes ? k : chance.below(classes));
        }

        /** Draws the columns of a row and returns its class. */
        int draw(double[] row, RandomSource chance, int i) {
            for (int j = 0; j < columns; j++) {
                row[j] = chance.normal();
            }
            int any = i < classes ? i : chance.below(classes);
            return switch (shape) {
                case CENTRES, FEW_CENTRES -> about(any, any * CLUSTERS, row);
                case CLUSTERS -> about(any, any * CLUSTERS + chance.below(CLUSTERS), row);
                case RARE -> {
                    int own = i < classes ? i : chance.uniform() < RARE_SHARE ? 1 : 0;
                    yield about(own, own * CLUSTERS, row);
                }
                case ANSWERS -> {
                    for (int j = 0; j < columns; j++) {
                        row[j] = row[j] + centres[any * CLUSTERS][j] > 0 ? 1 : 0;
                    }
                    yield any;
                }
                case RINGS -> {
                    double square = row[0] * row[0] + row[1] * row[1] + row[2] * row[2];
                    yield square < 2.4 ? 0 : 1 % classes;
                }
                case PRODUCTS -> row[0] * row[1] + row[2] * row[3] + 0.5 * row[4] > 0 ? 1 : 0;
                case RULES -> {
                    int at = 0;
                    while (at < ruleColumns.length) {
                        at = 2 * at + (row[ruleColumns[at]] <= ruleThresholds[at] ? 1 : 2);
                    }
                    yield ruleClasses[at - ruleColumns.length];
                }
            };
        }

        private int about(int own, int centre, double[] row) {
            for (int j = 0; j < columns; j++) {
                row[j] += centres[centre][j];
            }
            return own;
        }
    }
}
