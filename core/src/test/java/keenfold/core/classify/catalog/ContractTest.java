package keenfold.core.classify.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Samples;
import keenfold.core.classify.baseline.Majority;
import keenfold.core.classify.bayes.NaiveBayes;
import keenfold.core.classify.boosting.Boosting;
import keenfold.core.classify.boosting.Growth;
import keenfold.core.classify.discriminant.Discriminant;
import keenfold.core.classify.linear.Logistic;
import keenfold.core.classify.neighbours.NearestNeighbours;
import keenfold.core.classify.network.Network;
import keenfold.core.classify.svm.Svm;
import keenfold.core.classify.tree.Forest;
import keenfold.core.classify.tree.Pruning;
import keenfold.core.classify.tree.Tree;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.NearestRows;
import keenfold.core.learned.SupportVectors;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** What every classifier promises. */
class ContractTest {
    static Stream<Classifier> classifiers() {
        List<Classifier> named = List.of(
                new Majority(),
                new Logistic(1, 0),
                new Logistic(2, 1),
                new Logistic(1, 0.5),
                new Discriminant(1, 0),
                new Discriminant(0.5, 0.2),
                new NearestNeighbours(4, NearestRows.Distance.EUCLIDEAN, false),
                new NearestNeighbours(5, NearestRows.Distance.MANHATTAN, true),
                new NearestNeighbours(5, NearestRows.Distance.MIXED, true),
                new NaiveBayes(1, false, 1e-3),
                new NaiveBayes(1, true, 1e-3),
                new Tree(Tree.Impurity.GINI, 4, 2, 0.001, 256),
                new Tree(Tree.Impurity.ENTROPY, 6, 1, 0, 256),
                new Forest(15, 3, 4, 2, Tree.Impurity.GINI, false, false, 256),
                new Boosting(15, new Growth(3, 99, 3, 1, 0.2), 1, 1, 0, 0.2, 256));
        // Whatever else is in the catalog is held to these promises with its presets.
        Set<Class<?>> known =
                Stream.concat(named.stream(), drawing()).map(Object::getClass).collect(Collectors.toSet());
        Stream<Classifier> others = ClassifierKinds.all().stream()
                .filter(k -> k.input() == ClassifierKind.Input.COLUMNS)
                .map(k -> k.make(Settings.none()))
                .filter(c -> !known.contains(c.getClass()));
        return Stream.concat(named.stream(), others);
    }

    /** Those in which chance plays a part, for which only what chance leaves alone is promised. */
    static Stream<Classifier> drawing() {
        return Stream.of(
                new Forest(9, 0, 9, 1, Tree.Impurity.GINI, true, false, 256),
                new Forest(9, 0, 9, 1, Tree.Impurity.ENTROPY, false, true, 256),
                new Tree(Tree.Impurity.GINI, Integer.MAX_VALUE, 1, Pruning.ONE_SE, 5, 256),
                new Tree(Tree.Impurity.ENTROPY, 6, 2, Pruning.LEAST_ERROR, 2, 256),
                new Svm(0.5, SupportVectors.Shape.RADIAL, 0, 1, 3),
                new Svm(2, SupportVectors.Shape.LINEAR, 0, 1, 2),
                new Svm(5, SupportVectors.Shape.POLYNOMIAL, 2, 3, 3),
                new Network(1, 3, 0.5, 60, 0, 0.2, true),
                new Network(2, 4, 0.1, 60, 5, 0.3, false),
                new Boosting(9, new Growth(3, 6, 1, 1, 0.2), 0.6, 0.5, 3, 0.2, 256));
    }

    @ParameterizedTest
    @MethodSource("drawing")
    void whatChanceDrawsComesFromItsSeedAlone(Classifier classifier) {
        Training training = Samples.normal(12, 80, 4, 3);
        double[] p = fitted(classifier, training, training.table());
        assertThat(fitted(classifier, training, training.table())).containsExactly(p);
        if (!(classifier instanceof Tree)) {
            // Other inner folds may well choose the same tree.
            assertThat(classifier.fit(training, new Seed(2).chance()).probabilities(training.table()))
                    .isNotEqualTo(p);
        }
        probabilitiesSumToOneAndAnAbsentClassHasNone(classifier);
        oneRowAConstantColumnAndMoreColumnsThanRowsAreNoFault(classifier);
        separableClassesAreNoFault(classifier);
    }

    private static double[] fitted(Classifier classifier, Training training, Table test) {
        return classifier.fit(training, Samples.chance()).probabilities(test);
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void probabilitiesSumToOneAndAnAbsentClassHasNone(Classifier classifier) {
        Training three = Samples.normal(3, 40, 3, 3);
        int[] without = IntStream.range(0, 40).filter(i -> three.target(i) != 1).toArray();
        double[] p = fitted(classifier, Samples.select(three, without), three.table());
        for (int i = 0; i < 40; i++) {
            assertThat(p[3 * i + 1]).isZero();
            assertThat(p[3 * i] + p[3 * i + 2]).isCloseTo(1, within(1e-12));
            assertThat(p[3 * i]).isBetween(0.0, 1.0);
        }
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void weightTwoIsTheRowTwice(Classifier classifier) {
        Training once = Samples.normal(4, 30, 2, 3);
        double[] weights = IntStream.range(0, 30).mapToDouble(i -> 1 + i % 3).toArray();
        Training weighted = Training.of(once.table(), Samples.targets(once), weights, 3);
        int[] repeated = IntStream.range(0, 30)
                .flatMap(i -> IntStream.generate(() -> i).limit((long) weights[i]))
                .toArray();
        Table test = Samples.normal(5, 25, 2, 3).table();
        assertThat(fitted(classifier, weighted, test))
                .containsExactly(fitted(classifier, Samples.select(once, repeated), test), within(1e-8));
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void theOrderOfRowsDoesNotMatter(Classifier classifier) {
        Training training = Samples.normal(6, 50, 3, 2);
        int[] order = IntStream.range(0, 50).toArray();
        Samples.chance().shuffle(order);
        Table test = Samples.normal(7, 20, 3, 2).table();
        assertThat(fitted(classifier, Samples.select(training, order), test))
                .containsExactly(fitted(classifier, training, test), within(1e-8));
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void theOrderOfColumnsDoesNotMatter(Classifier classifier) {
        Training training = Samples.normal(8, 60, 3, 2);
        Table test = Samples.normal(9, 20, 3, 2).table();
        Training turned = Training.of(
                reversed(training.table()), Samples.targets(training), training.weights(), training.classes());
        assertThat(fitted(classifier, turned, reversed(test)))
                .containsExactly(fitted(classifier, training, test), within(1e-8));
    }

    private static Table reversed(Table table) {
        return new Table(
                table.rows(),
                List.of(
                        table.columns().get(2),
                        table.columns().get(1),
                        table.columns().get(0)));
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void oneRowAConstantColumnAndMoreColumnsThanRowsAreNoFault(Classifier classifier) {
        Training one = Samples.training(new double[][] {{3}, {1}}, new int[] {1}, 2);
        assertThat(fitted(classifier, one, one.table())).containsExactly(0, 1);
        Training constant = Samples.training(new double[][] {{2, 2, 2, 2}}, new int[] {0, 1, 0, 0}, 2);
        boolean draws = drawing().anyMatch(classifier::equals);
        assertThat(fitted(classifier, constant, constant.table())[0]).isCloseTo(0.75, within(draws ? 0.25 : 1e-6));
        Training wide = Samples.normal(10, 6, 20, 2);
        assertThat(Arrays.stream(fitted(classifier, wide, wide.table()))).allMatch(p -> p >= 0 && p <= 1);
    }

    @ParameterizedTest
    @MethodSource("classifiers")
    void separableClassesAreNoFault(Classifier classifier) {
        double[] x = {-3, -2.5, -2, 2, 2.5, 3};
        Training apart = Samples.training(new double[][] {x}, new int[] {0, 0, 0, 1, 1, 1}, 2);
        double[] p = fitted(classifier, apart, Samples.table(new double[] {-2.2, 2.2}));
        boolean looks = classifier.fit(apart, Samples.chance()).size() > 1;
        assertThat(p[0]).matches(v -> !looks || v > 0.5);
        assertThat(p[3]).matches(v -> !looks || v > 0.5);
    }

    @ParameterizedTest
    @MethodSource({"classifiers", "drawing"})
    void withoutAnyColumnOnlyTheClassSharesAreLeft(Classifier classifier) {
        Training none = Training.of(new Table(8, List.of()), new int[] {0, 1, 1, 0, 1, 1, 1, 0}, Samples.ones(8), 2);
        double[] p = fitted(classifier, none, none.table());
        for (int i = 2; i < p.length; i++) {
            assertThat(p[i]).isBetween(0.0, 1.0).isEqualTo(p[i - 2]);
        }
    }

    @Test
    void everyKindIsMadeFromItsPresetsAndRefusesWrongSettings() {
        for (ClassifierKind kind : ClassifierKinds.all()) {
            assertThat(kind.make(Settings.none())).isNotNull();
        }
        ClassifierKind nearest = ClassifierKinds.of("nearest").orElseThrow();
        assertThatThrownBy(() -> nearest.make(Settings.none().with("neighbours", "0")))
                .hasMessage("neighbours = 0: expected a whole number from 1 to 1000000");
        assertThatThrownBy(() -> nearest.make(Settings.none().with("neighbours", "3.5")))
                .hasMessageContaining("expected a whole number");
        assertThatThrownBy(() -> nearest.make(Settings.none().with("neighbors", "3")))
                .hasMessage("nearest has no setting \"neighbors\"; it has neighbours, distance, votes");
        ClassifierKind tree = ClassifierKinds.of("tree").orElseThrow();
        assertThatThrownBy(() -> tree.make(Settings.none().with("impurity", "misc")))
                .hasMessage("impurity = misc: expected gini or entropy");
        ClassifierKind svm = ClassifierKinds.of("svm").orElseThrow();
        assertThatThrownBy(() -> svm.make(Settings.none().with("degree", "2")))
                .hasMessage("degree says nothing to kernel radial: it is for polynomial");
        assertThatThrownBy(
                        () -> svm.make(Settings.none().with("kernel", "linear").with("width", "2")))
                .hasMessage("width says nothing to kernel linear: it is for radial and polynomial");
        assertThatThrownBy(() -> tree.make(Settings.none().with("pruning", "-1")))
                .hasMessage("pruning = -1: expected a number of at least 0, or least-error or one-se");
    }
}
