package keenfold.core.metric;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import keenfold.core.data.Classes;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.metric.catalog.MetricName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class MetricTest {
    private static final Classes TWO = new Classes(List.of("a", "b"), 1);
    private static final Classes THREE = new Classes(List.of("a", "b", "c"), 0);
    private static final List<String> NAMES = List.of(
            "accuracy",
            "error",
            "balanced-accuracy",
            "auc",
            "auc:shares",
            "auc:class=a",
            "auc-pairs",
            "partial-auc=0.3",
            "partial-auc=1:shares",
            "brier-skill",
            "calibration-error",
            "calibration-error:shares",
            "true-positives",
            "false-positives:class=a",
            "true-negatives",
            "false-negatives:shares",
            "average-precision",
            "average-precision:shares",
            "log-loss",
            "brier",
            "f1",
            "f1:shares",
            "recall",
            "precision:class=a",
            "specificity",
            "specificity:shares",
            "npv",
            "npv:class=a",
            "g-mean",
            "kappa",
            "mcc",
            "f-beta=0.5",
            "f-beta=2:class=a",
            "top-k=1");

    private static Metric metric(String name, Classes classes) {
        int[] counts = IntStream.range(0, classes.count()).map(c -> 3 + c).toArray();
        return MetricName.parse(name).bind(classes, counts);
    }

    /** Two classes from the actual classes and the probabilities of class b, all in one fold. */
    private static Outcomes two(int[] actual, double... b) {
        double[] p = new double[2 * b.length];
        for (int i = 0; i < b.length; i++) {
            p[2 * i] = 1 - b[i];
            p[2 * i + 1] = b[i];
        }
        return Outcomes.of(2, 0, IntStream.range(0, b.length).toArray(), actual, p);
    }

    /** Worked by hand: TP 2 (b as b), FN 1, FP 1, TN 2. */
    @ParameterizedTest
    @CsvSource({
        "accuracy,0.66666666666666667",
        "error,0.33333333333333333",
        "balanced-accuracy,0.66666666666666667",
        "recall,0.66666666666666667",
        "precision,0.66666666666666667",
        "specificity,0.66666666666666667",
        "f1,0.66666666666666667",
        "auc,0.83333333333333333",
        "brier,0.18833333333333333",
        "npv,0.66666666666666667",
        "g-mean,0.66666666666666667",
        "kappa,0.33333333333333333",
        "average-precision,0.86666666666666667",
        "mcc,0.33333333333333333"
    })
    void twoClassesByHand(String name, double expected) {
        Outcomes o = two(new int[] {1, 1, 1, 0, 0, 0}, 0.9, 0.8, 0.3, 0.7, 0.3, 0.1);
        // auc: .9 and .8 each beat .7, .3, .1; .3 beats .1 and ties with .3: 7.5 of 9 pairs.
        // average-precision: .9 and .8 are found with precision 1, .3 among five called: (1 + 1 + 3/5)/3.
        // brier: (.01 + .04 + .49 + .49 + .09 + .01)/6.
        assertThat(metric(name, TWO).score(o)).isCloseTo(expected, within(1e-15));
    }

    @Test
    void logLossIsClippedAndNotRenormalised() {
        Outcomes o = two(new int[] {1, 0}, 0.25, 1);
        double expected = (-Math.log(0.25) - Math.log(1e-15)) / 2;
        assertThat(metric("log-loss", TWO).score(o)).isCloseTo(expected, within(1e-12));
    }

    /** A probability that rounding carried above 1 is no gain. */
    @Test
    void noLogLossIsNegative() {
        Outcomes o = two(new int[] {1, 1}, Math.nextUp(1.0), 1 + 1e-7);
        assertThat(metric("log-loss", TWO).score(o)).isZero();
    }

    @Test
    void brierOfThreeClassesIsTheSumOverClasses() {
        Outcomes o = Outcomes.of(3, 0, new int[] {0}, new int[] {2}, new double[] {0.5, 0.3, 0.2});
        assertThat(metric("brier", THREE).score(o)).isCloseTo(0.25 + 0.09 + 0.64, within(1e-15));
    }

    @Test
    void severalClassesByHand() {
        // Predicted: a a b | b b | c a; recall a 2/3, b 2/2, c 1/2.
        double[] p = {
            .8, .1, .1, /**/ .7, .2, .1, /**/ .2, .6, .2, /**/ .1, .8, .1, /**/ .1, .7, .2, /**/ .1, .1, .8, /**/ .9, 0,
            .1
        };
        Outcomes o = Outcomes.of(3, 0, IntStream.range(0, 7).toArray(), new int[] {0, 0, 0, 1, 1, 2, 2}, p);
        assertThat(metric("recall", THREE).score(o)).isCloseTo((2.0 / 3 + 1 + 0.5) / 3, within(1e-15));
        assertThat(metric("recall:shares", THREE).score(o)).isCloseTo(5.0 / 7, within(1e-15));
        assertThat(metric("recall:class=c", THREE).score(o)).isEqualTo(0.5);
        assertThat(metric("precision", THREE).score(o)).isCloseTo((2.0 / 3 + 2.0 / 3 + 1) / 3, within(1e-15));
        assertThat(metric("specificity:class=a", THREE).score(o)).isEqualTo(0.75);
        // Not called a: four rows, one of them an a. Not called b: four, none a b. Not called c: six, one of them a c.
        assertThat(metric("npv", THREE).score(o)).isCloseTo((3.0 / 4 + 1 + 5.0 / 6) / 3, within(1e-15));
        assertThat(metric("g-mean", THREE).score(o)).isCloseTo(Math.cbrt(2.0 / 3 * 1 * 0.5), within(1e-15));
        // Rows 3, 2, 2, predictions 3, 3, 1, five of seven right: by chance (9 + 6 + 2)/49.
        assertThat(metric("kappa", THREE).score(o)).isCloseTo((5.0 / 7 - 17.0 / 49) / (1 - 17.0 / 49), within(1e-15));
        // (35 - 17)/sqrt((49 - 17)(49 - 19)).
        assertThat(metric("mcc", THREE).score(o)).isCloseTo(18 / Math.sqrt(32 * 30), within(1e-15));
        // Class a: TP 2, FN 1, FP 1; b: 2, 0, 1; c: 1, 1, 0.
        assertThat(metric("f-beta=2", THREE).score(o)).isCloseTo((10.0 / 15 + 10.0 / 11 + 5.0 / 9) / 3, within(1e-15));
        assertThat(metric("f-beta=1:class=c", THREE).score(o))
                .isEqualTo(metric("f1:class=c", THREE).score(o));
        // Of the two misses, the third row has a third (tied with c, which comes later), the last one c second.
        assertThat(metric("top-k=2", THREE).score(o)).isEqualTo(1);
        assertThat(metric("top-k=1", THREE).score(o))
                .isEqualTo(metric("accuracy", THREE).score(o));
        assertThat(metric("balanced-accuracy", THREE).score(o))
                .isEqualTo(metric("recall", THREE).score(o));
    }

    /** Cohen (1960): of 200 cases a = 0.70, e = 0.60 0.50 + 0.30 0.30 + 0.10 0.20 = 0.41; and a plain correlation. */
    @Test
    void agreementAndCorrelationOfPublishedTables() {
        int[][] cells = {{88, 14, 18}, {10, 40, 10}, {2, 6, 12}};
        assertThat(metric("kappa", THREE).score(counted(cells))).isCloseTo(0.29 / 0.59, within(1e-15));
        int[][] yesNo = {{45, 5}, {10, 40}};
        Outcomes o = counted(yesNo);
        double[] a = IntStream.range(0, 100).mapToDouble(o::actual).toArray();
        double[] p = IntStream.range(0, 100).mapToDouble(o::predicted).toArray();
        assertThat(metric("mcc", TWO).score(o)).isCloseTo(pearson(a, p), within(1e-14));
        assertThat(metric("mcc", TWO).least()).isEqualTo(-1);
        // Everything turned round.
        assertThat(metric("mcc", TWO).score(counted(new int[][] {{0, 7}, {3, 0}})))
                .isEqualTo(-1);
    }

    /** Outcomes with so many rows in each cell, class after class. */
    private static Outcomes counted(int[][] cells) {
        List<Integer> actual = new ArrayList<>();
        List<Integer> predicted = new ArrayList<>();
        for (int a = 0; a < cells.length; a++) {
            for (int p = 0; p < cells.length; p++) {
                for (int i = 0; i < cells[a][p]; i++) {
                    actual.add(a);
                    predicted.add(p);
                }
            }
        }
        double[] p = new double[actual.size() * cells.length];
        for (int i = 0; i < actual.size(); i++) {
            p[i * cells.length + predicted.get(i)] = 1;
        }
        int[] y = actual.stream().mapToInt(Integer::intValue).toArray();
        return Outcomes.of(cells.length, 0, IntStream.range(0, y.length).toArray(), y, p);
    }

    private static double pearson(double[] a, double[] b) {
        double ma = java.util.Arrays.stream(a).average().orElseThrow();
        double mb = java.util.Arrays.stream(b).average().orElseThrow();
        double ab = 0;
        double aa = 0;
        double bb = 0;
        for (int i = 0; i < a.length; i++) {
            ab += (a[i] - ma) * (b[i] - mb);
            aa += (a[i] - ma) * (a[i] - ma);
            bb += (b[i] - mb) * (b[i] - mb);
        }
        return ab / Math.sqrt(aa * bb);
    }

    @Test
    void amongTheMostProbableEqualsCountInTheirOrder() {
        double[] p = {.4, .3, .3, /**/ .4, .3, .3, /**/ .2, .2, .6};
        Outcomes o = Outcomes.of(3, 0, new int[] {0, 1, 2}, new int[] {1, 2, 1}, p);
        assertThat(metric("top-k=2", THREE).score(o)).isCloseTo(1.0 / 3, within(1e-15));
        assertThat(metric("top-k=2", THREE).share(o).orElseThrow()).isEqualTo(new Metric.Share(1, 3));
        // The threshold moves labels, not what is most probable.
        Outcomes moved = two(new int[] {1, 0}, 0.6, 0.6).withThreshold(1, 0.7);
        assertThat(metric("top-k=1", TWO).score(moved)).isEqualTo(0.5);
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "f-beta|expected f-beta=B, a number above 0, such as f-beta=2",
                "f-beta=x|expected f-beta=B, a number above 0, such as f-beta=2",
                "f-beta=0|expected f-beta=B, a number above 0, such as f-beta=2",
                "top-k=1.5|expected top-k=K, a whole number of at least 1, such as top-k=2",
                "top-k=3|every row's class is among the 3 most probable of 3; ask for fewer",
                "top-k=2:shares|has no such form",
                "accuracy=2|accuracy takes no number",
            })
    void numbersInNamesAreChecked(String name, String complaint) {
        assertThatThrownBy(() -> metric(name, THREE)).hasMessageContaining(complaint);
    }

    @Test
    void undefinedIsNotANumberAndNeverZero() {
        Outcomes allOfA = two(new int[] {0, 0}, 0.1, 0.2);
        assertThat(metric("recall", TWO).score(allOfA)).isNaN();
        assertThat(metric("precision", TWO).score(allOfA)).isNaN();
        assertThat(metric("f1", TWO).score(allOfA)).isNaN();
        assertThat(metric("auc", TWO).score(allOfA)).isNaN();
        assertThat(metric("balanced-accuracy", TWO).score(allOfA)).isNaN();
        assertThat(metric("g-mean", TWO).score(allOfA)).isNaN();
        assertThat(metric("kappa", TWO).score(allOfA)).isNaN();
        assertThat(metric("mcc", TWO).score(two(new int[] {1, 0}, 0.1, 0.2))).isNaN();
        assertThat(metric("kappa", TWO).score(two(new int[] {1, 0}, 0.1, 0.2))).isZero();
        assertThat(metric("npv", TWO).score(two(new int[] {1, 0}, 0.9, 0.8))).isNaN();
        assertThat(metric("accuracy", TWO).score(allOfA)).isEqualTo(1);
        // f1 is 0/2, defined, where the positive class is there but never found.
        assertThat(metric("f1", TWO).score(two(new int[] {1, 0}, 0.1, 0.2))).isZero();
    }

    @Test
    void tiesOfProbabilityGoToTheFirstClass() {
        Outcomes o = Outcomes.of(3, 0, new int[] {0}, new int[] {1}, new double[] {0.2, 0.4, 0.4});
        assertThat(o.predicted(0)).isEqualTo(1);
        assertThat(two(new int[] {1}, 0.5).predicted(0)).isZero();
    }

    private static Outcomes random(RandomSource chance, int classes, int folds, int perFold, int rows) {
        List<Outcomes> parts = new ArrayList<>();
        for (int f = 0; f < folds; f++) {
            int[] row = new int[perFold];
            int[] actual = new int[perFold];
            double[] p = new double[perFold * classes];
            for (int i = 0; i < perFold; i++) {
                row[i] = (f * perFold + i) % rows;
                actual[i] = i < classes ? i : chance.below(classes);
                double left = 1;
                for (int c = 0; c < classes - 1; c++) {
                    p[i * classes + c] = left * chance.below(5) / 5.0;
                    left -= p[i * classes + c];
                }
                p[i * classes + classes - 1] = left;
            }
            parts.add(Outcomes.of(classes, f, row, actual, p));
        }
        return Outcomes.join(parts);
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 3})
    void averagePrecisionAgreesWithSteppingThroughAllThresholds(int classes) {
        for (int round = 0; round < 30; round++) {
            Outcomes o = random(new Seed(round).with(classes).chance(), classes, 3, 12, 36);
            for (int c = 0; c < classes; c++) {
                double sum = 0;
                double cases = 0;
                for (int f = 0; f < 3; f++) {
                    int fold = f;
                    int of = c;
                    int[] rows = IntStream.range(0, o.size())
                            .filter(i -> o.fold(i) == fold)
                            .toArray();
                    double own =
                            IntStream.of(rows).filter(i -> o.actual(i) == of).count();
                    double[] thresholds = IntStream.of(rows)
                            .mapToDouble(i -> -o.probability(i, of))
                            .distinct()
                            .sorted()
                            .toArray();
                    double recallBefore = 0;
                    double average = 0;
                    for (double t : thresholds) {
                        int[] called = IntStream.of(rows)
                                .filter(i -> o.probability(i, of) >= -t)
                                .toArray();
                        double found = IntStream.of(called)
                                .filter(i -> o.actual(i) == of)
                                .count();
                        average += (found / own - recallBefore) * found / called.length;
                        recallBefore = found / own;
                    }
                    sum += own * average;
                    cases += own;
                }
                String name = "average-precision:class=" + (char) ('a' + c);
                assertThat(metric(name, classes == 2 ? TWO : THREE).score(o)).isCloseTo(sum / cases, within(1e-12));
            }
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 3})
    void aucAgreesWithCountingPairsOfEachFold(int classes) {
        for (int round = 0; round < 30; round++) {
            Outcomes o = random(new Seed(round).with(classes).chance(), classes, 3, 12, 36);
            double sum = 0;
            for (int c = 0; c < classes; c++) {
                double concordant = 0;
                double pairs = 0;
                for (int i = 0; i < o.size(); i++) {
                    for (int j = 0; j < o.size(); j++) {
                        if (o.fold(i) == o.fold(j) && o.actual(i) == c && o.actual(j) != c) {
                            pairs++;
                            int sign = Double.compare(o.probability(i, c), o.probability(j, c));
                            concordant += sign > 0 ? 1 : sign == 0 ? 0.5 : 0;
                        }
                    }
                }
                sum += concordant / pairs;
                assertThat(metric("auc:class=" + (char) ('a' + c), classes == 2 ? TWO : THREE)
                                .score(o))
                        .isCloseTo(concordant / pairs, within(1e-14));
            }
            if (classes == 3) {
                assertThat(metric("auc", THREE).score(o)).isCloseTo(sum / 3, within(1e-14));
            }
        }
    }

    /**
     * Of a class that is rare, most rows of other classes stand together, below, between or above its own, or tied with
     * them: wherever they stand, weighted pairs are those that counting one by one finds.
     */
    @ParameterizedTest
    @ValueSource(ints = {0, 1, 2, 3, 4, 5})
    void aucOfRareClassesAgreesWithCountingWeightedPairs(int shape) {
        RandomSource chance = new Seed(79).with(shape).chance();
        Metric auc = MetricName.parse("auc:class=a").bind(TWO, new int[] {6, 300});
        for (int round = 0; round < 30; round++) {
            int n = 306;
            int[] fold = IntStream.range(0, n).map(i -> chance.below(3)).toArray();
            int[] actual = IntStream.range(0, n).map(i -> i < 6 ? 0 : 1).toArray();
            double[] p = IntStream.range(0, n)
                    .mapToDouble(i -> rare(shape, actual[i] == 0, chance))
                    .toArray();
            int[][] weights = new int[n][3];
            for (int[] ofRow : weights) {
                Arrays.setAll(ofRow, lane -> chance.below(4));
            }
            double[] scores = new double[3];
            Outcomes outcomes = inFolds(fold, actual, p);
            // Otherwise the pairs would be counted in the plain way.
            assertThat(Ranked.of(outcomes, 0, FoldRows.of(outcomes)).passed).hasSize(3);
            auc.scorer(outcomes).score(CaseWeights.of(weights, 3), scores);
            assertThat(scores)
                    .containsExactly(IntStream.range(0, 3)
                            .mapToDouble(lane -> counted(fold, actual, p, weights, lane))
                            .toArray());
        }
    }

    private static double rare(int shape, boolean own, RandomSource chance) {
        double any = chance.below(8) / 8.0;
        return switch (shape) {
            case 0 -> own ? 0.5 + any / 2 : any / 2;
            case 1 -> own ? any / 2 : 0.5 + any / 2;
            case 2 -> chance.below(4) > 0 && !own ? 0 : any;
            case 3 -> chance.below(4) > 0 && !own ? 1 : any;
            case 4 -> 0.5;
            default -> own ? chance.below(2) : 0.1 + any / 2;
        };
    }

    private static Outcomes inFolds(int[] fold, int[] actual, double[] p) {
        return Outcomes.join(IntStream.range(0, 3)
                .mapToObj(f -> {
                    int[] rows = IntStream.range(0, fold.length)
                            .filter(i -> fold[i] == f)
                            .toArray();
                    double[] both = Arrays.stream(rows)
                            .boxed()
                            .flatMapToDouble(i -> DoubleStream.of(p[i], 1 - p[i]))
                            .toArray();
                    return Outcomes.of(
                            2, f, rows, Arrays.stream(rows).map(i -> actual[i]).toArray(), both);
                })
                .toList());
    }

    private static double counted(int[] fold, int[] actual, double[] p, int[][] weights, int lane) {
        double twice = 0;
        double pairs = 0;
        for (int i = 0; i < p.length; i++) {
            for (int j = 0; j < p.length; j++) {
                if (fold[i] == fold[j] && actual[i] == 0 && actual[j] == 1) {
                    double both = (double) weights[i][lane] * weights[j][lane];
                    pairs += both;
                    twice += both * (1 + Math.signum(p[i] - p[j]));
                }
            }
        }
        return twice / (2 * pairs);
    }

    /** Weight w is the row w times, weight 0 the row not at all: the law by which draws are scored. */
    @ParameterizedTest
    @ValueSource(ints = {2, 3})
    void weightsCountCases(int classes) {
        Classes of = classes == 2 ? TWO : THREE;
        RandomSource chance = new Seed(77).with(classes).chance();
        Outcomes o = random(chance, classes, 2, 15, 30);
        int lanes = 5;
        int[][] weights = new int[30][lanes];
        for (int[] ofRow : weights) {
            Arrays.setAll(ofRow, lane -> chance.below(4));
        }
        for (String name : NAMES) {
            double[] scores = new double[lanes];
            metric(name, of).scorer(o).score(CaseWeights.of(weights, lanes), scores);
            for (int lane = 0; lane < lanes; lane++) {
                List<Integer> entries = new ArrayList<>();
                for (int i = 0; i < o.size(); i++) {
                    for (int w = 0; w < weights[o.row(i)][lane]; w++) {
                        entries.add(i);
                    }
                }
                assertThat(scores[lane]).as(name).isCloseTo(metric(name, of).score(chosen(o, entries)), within(1e-12));
            }
        }
    }

    /** Numbers of pairs beyond 32 bits are counted otherwise: the score of weights and of a large multiple of them is one. */
    @Test
    void pairsOfManyRowsAreCountedToo() {
        RandomSource chance = new Seed(78).chance();
        Outcomes o = random(chance, 2, 3, 20, 60);
        int[][] few = new int[60][2];
        int[][] many = new int[60][2];
        for (int row = 0; row < few.length; row++) {
            for (int lane = 0; lane < 2; lane++) {
                few[row][lane] = chance.below(4);
                many[row][lane] = few[row][lane] * 1_000_000;
            }
        }
        for (String name : List.of("auc", "auc-pairs", "auc:class=a")) {
            double[] ofFew = new double[2];
            double[] ofMany = new double[2];
            metric(name, TWO).scorer(o).score(CaseWeights.of(few, 2), ofFew);
            metric(name, TWO).scorer(o).score(CaseWeights.of(many, 2), ofMany);
            assertThat(ofMany).as(name).containsExactly(ofFew, within(1e-12));
            assertThat(ofFew[0]).isBetween(0.01, 0.99);
        }
    }

    @ParameterizedTest
    @ValueSource(ints = {2, 3})
    void withoutEachIsTheScoreOfTheOthers(int classes) {
        Classes of = classes == 2 ? TWO : THREE;
        Outcomes o = random(new Seed(5).with(classes).chance(), classes, 2, 11, 22);
        for (String name : NAMES) {
            double[] without = metric(name, of).scorer(o).withoutEach();
            for (int left = 0; left < o.size(); left++) {
                int out = left;
                List<Integer> others = IntStream.range(0, o.size())
                        .filter(i -> i != out)
                        .boxed()
                        .toList();
                assertThat(without[left])
                        .as(name + " without " + left)
                        .isCloseTo(metric(name, of).score(chosen(o, others)), within(1e-12));
            }
        }
    }

    private static Outcomes chosen(Outcomes o, List<Integer> entries) {
        List<Outcomes> parts = new ArrayList<>();
        for (int i : entries) {
            double[] p = new double[o.classes()];
            for (int c = 0; c < p.length; c++) {
                p[c] = o.probability(i, c);
            }
            parts.add(Outcomes.of(o.classes(), o.fold(i), new int[] {parts.size()}, new int[] {o.actual(i)}, p));
        }
        return Outcomes.join(parts);
    }

    @Test
    void namesAreChecked() {
        assertThatThrownBy(() -> MetricName.parse("acuracy")).hasMessageContaining("metric \"acuracy\" is not known");
        assertThatThrownBy(() -> MetricName.parse("accuracy:shares")).hasMessageContaining("write accuracy alone");
        assertThatThrownBy(() -> MetricName.parse("f1:x")).hasMessageContaining("expected f1:shares or f1:class=LABEL");
        assertThatThrownBy(() -> metric("f1:class=z", TWO)).hasMessageContaining("no class is called \"z\"");
    }

    @Test
    void sharesOfRowsSayTheirCounts() {
        Outcomes o = two(new int[] {1, 1, 1, 0, 0, 0}, 0.9, 0.8, 0.3, 0.7, 0.3, 0.1);
        assertThat(metric("recall", TWO).share(o)).contains(new Metric.Share(2, 3));
        assertThat(metric("error", TWO).share(o)).contains(new Metric.Share(2, 6));
        assertThat(metric("precision", TWO).share(o)).contains(new Metric.Share(2, 3));
        assertThat(metric("specificity", TWO).share(o)).contains(new Metric.Share(2, 3));
        assertThat(metric("recall", THREE).share(random(new Seed(1).chance(), 3, 1, 9, 9)))
                .isEmpty();
        assertThat(metric("auc", TWO).share(o)).isEmpty();
    }
}
