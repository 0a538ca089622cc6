package keenfold.core.classify.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.Samples;
import keenfold.core.classify.bayes.NaiveBayes;
import keenfold.core.classify.boosting.Boosting;
import keenfold.core.classify.boosting.Growth;
import keenfold.core.classify.discriminant.Discriminant;
import keenfold.core.classify.linear.Logistic;
import keenfold.core.classify.neighbours.NearestNeighbours;
import keenfold.core.classify.network.Network;
import keenfold.core.classify.svm.Svm;
import keenfold.core.classify.tree.Tree;
import keenfold.core.data.Categories;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.MemberVotes;
import keenfold.core.learned.NearestRows;
import keenfold.core.learned.OutsideModel;
import keenfold.core.learned.SupportVectors;
import keenfold.core.prepare.Training;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Trained classifiers, kept and made again. */
class ModelsTest {
    static Stream<Classifier> all() {
        return Stream.concat(ContractTest.classifiers(), ContractTest.drawing());
    }

    /** Of two classes, of three, and of three of which one has no row: the same probabilities of other rows, bit for bit. */
    @ParameterizedTest
    @MethodSource("all")
    void whatIsMadeAgainPredictsTheSame(Classifier classifier) {
        Table other = Samples.normal(77, 50, 3, 3).table();
        Training three = Samples.normal(3, 60, 3, 3);
        int[] without = IntStream.range(0, 60).filter(i -> three.target(i) != 1).toArray();
        int[] one = IntStream.range(0, 60).filter(i -> three.target(i) == 2).toArray();
        for (Training training : List.of(
                Samples.normal(2, 60, 3, 2), three, Samples.select(three, without), Samples.select(three, one))) {
            Model model = classifier.fit(training, Samples.chance());
            LearnedModel learned = model.learned().orElseThrow();
            assertThat(LearnedModel.of(learned.state(), 3).state()).isEqualTo(learned.state());
            Model again = Models.restored(LearnedModel.of(learned.state(), 3));
            assertThat(again.probabilities(other)).containsExactly(model.probabilities(other));
            assertThat(again.size()).isEqualTo(model.size());
            assertThat(again.columnWeights(3)).containsExactly(model.columnWeights(3));
            assertThat(again.learned().orElseThrow().state()).isEqualTo(learned.state());
        }
    }

    /** Categories and gaps, where a classifier takes them; a level behind all that were trained on is one that tells nothing. */
    @Test
    void categoriesAndGapsToo() {
        List<Column> columns = new ArrayList<>();
        double[] x = IntStream.range(0, 40)
                .mapToDouble(i -> i % 7 == 0 ? Double.NaN : i % 5)
                .toArray();
        String[] hue = IntStream.range(0, 40)
                .mapToObj(i ->
                        i % 6 == 0 ? null : List.of("amber", "gold", "pale").get(i % 3))
                .toArray(String[]::new);
        columns.add(Numbers.owning("x", x));
        columns.add(Categories.of("hue", hue));
        Table table = new Table(40, columns);
        int[] y = IntStream.range(0, 40).map(i -> i % 3 == 0 ? 1 : 0).toArray();
        Training training = Training.of(table, y, Samples.ones(40), 2);
        Table more = new Table(
                2,
                List.of(
                        Numbers.owning("x", new double[] {2, Double.NaN}),
                        Categories.ofCodes("hue", List.of("amber", "gold", "pale", "\uDBFF\uDFFF"), new int[] {3, 3})));
        for (Classifier classifier : List.of(
                new NaiveBayes(1, false, 1e-3),
                new NaiveBayes(0, true, 1e-3),
                new NearestNeighbours(3, NearestRows.Distance.MIXED, false))) {
            Model model = classifier.fit(training, Samples.chance());
            Model again = Models.restored(
                    LearnedModel.of(model.learned().orElseThrow().state(), 2));
            assertThat(again.probabilities(table)).containsExactly(model.probabilities(table));
            double[] p = again.probabilities(more);
            assertThat(p[0] + p[1]).isBetween(1 - 1e-12, 1 + 1e-12);
            assertThat(p[2] + p[3]).isBetween(1 - 1e-12, 1 + 1e-12);
        }
    }

    private static State state(Classifier classifier) {
        return classifier
                .fit(Samples.normal(3, 60, 3, 3), Samples.chance())
                .learned()
                .orElseThrow()
                .state();
    }

    /** A copy with one value made another. */
    private static State with(State state, String key, Object other) {
        State[] made = {State.of(state.kind())};
        state.read(new State.Reader() {
            private boolean replaced(String name) {
                if (name.equals(key)) {
                    made[0] = other instanceof double[] numbers
                            ? made[0].with(key, numbers)
                            : other instanceof State part ? made[0].with(key, part) : made[0].with(key, (Double) other);
                }
                return name.equals(key);
            }

            @Override
            public void number(String name, double number) {
                made[0] = replaced(name) ? made[0] : made[0].with(name, number);
            }

            @Override
            public void numbers(String name, double[] numbers) {
                made[0] = replaced(name) ? made[0] : made[0].with(name, numbers);
            }

            @Override
            public void text(String name, String text) {
                made[0] = replaced(name) ? made[0] : made[0].with(name, text);
            }

            @Override
            public void texts(String name, List<String> texts) {
                made[0] = replaced(name) ? made[0] : made[0].withTexts(name, texts);
            }

            @Override
            public void part(String name, State part) {
                made[0] = replaced(name) ? made[0] : made[0].with(name, part);
            }

            @Override
            public void parts(String name, List<State> parts) {
                made[0] = replaced(name) ? made[0] : made[0].withParts(name, parts);
            }
        });
        return made[0];
    }

    private static void refused(State state, int columns, String says) {
        assertThatThrownBy(() -> Models.restored(LearnedModel.of(state, columns)))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining(says);
    }

    @Test
    void partsThatDoNotFitAreRefused() {
        State logistic = state(new Logistic(1, 0));
        refused(logistic, 2, "expected rows of 3 numbers, not of 4");
        refused(with(logistic, "present", new double[] {0, 1}), 3, "3 rows for 2 classes");
        refused(with(logistic, "present", new double[] {1, 0, 2}), 3, "expected rising numbers");
        refused(with(logistic, "present", new double[] {0, 1, 7}), 3, "whole numbers from 0 to 2");
        refused(with(logistic, "classes", 1.0), 3, "whole number from 2");
        refused(state(new NaiveBayes(1, false, 1e-3)), 4, "naive-bayes of 3 columns, where there are 4");
        refused(state(new NearestNeighbours(4, NearestRows.Distance.EUCLIDEAN, false)), 1, "nearest of 3 columns");
        refused(state(new Discriminant(1, 0)), 1, "whole numbers from 0 to 0");
        State tree = state(new Tree(Tree.Impurity.GINI, 4, 2, 0.001, 256));
        refused(tree, 1, "whole numbers from -1 to 0");
        State root = tree.part("root");
        double[] columns = root.numbers("columns").toArray();
        double[] leaf = columns.clone();
        Arrays.fill(leaf, -1);
        refused(with(tree, "root", with(root, "columns", leaf)), 3, "trees instead of one");
        double[] inner = columns.clone();
        Arrays.fill(inner, 0);
        refused(with(tree, "root", with(root, "columns", inner)), 3, "lacks a side");
        refused(with(tree, "root", with(root, "impurities", new double[1])), 3, "impurities");
        refused(state(new Network(1, 3, 0.5, 60, 0, 0.2, true)), 5, "weights for");
        refused(
                with(state(new Svm(2, SupportVectors.Shape.LINEAR, 0, 1, 2)), "present", new double[] {0, 1}),
                3,
                "expected a whole number from 1 to 1");
        State vote = State.of("vote")
                .with("classes", 2)
                .with("members", 3)
                .with("by-label", true)
                .with("weights", new double[0]);
        assertThat(Models.restored(LearnedModel.of(vote, 6))).isNotNull();
        refused(vote, 4, "vote of 6 columns, where there are 4");
        refused(with(vote, "weights", new double[] {1, 2}), 6, "2 weights");
        refused(State.of("oracle"), 3, "no classifier is called \"oracle\"");
    }

    /** A chain of nodes deeper than any that is grown would end in an overflow elsewhere. */
    @Test
    void treesDeeperThanAnyAreRefused() {
        int depth = 6000;
        double[] columns = new double[2 * depth + 1];
        for (int i = 0; i < depth; i++) {
            columns[2 * i] = 0;
            columns[2 * i + 1] = -1;
        }
        columns[2 * depth] = -1;
        State nodes = State.of("nodes")
                .with("columns", columns)
                .with("thresholds", new double[columns.length])
                .with("impurities", new double[columns.length])
                .with("weights", new double[columns.length])
                .with("shares", new double[2 * columns.length]);
        refused(State.of("tree").with("classes", 2).with("root", nodes), 1, "deeper than 5000");
    }

    @Test
    void roundsOfBoostingLeadForward() {
        State boosting = state(new Boosting(5, new Growth(3, 99, 3, 1, 0.2), 1, 1, 0, 0.2, 256));
        State round = boosting.parts("rounds").get(0);
        State nodes = round.parts("trees").get(0);
        double[] left = nodes.numbers("left").toArray();
        int inner = IntStream.range(0, left.length)
                .filter(i -> left[i] >= 0)
                .findFirst()
                .orElseThrow();
        double[] back = left.clone();
        back[inner] = inner;
        refused(boosting(with(nodes, "left", back)), 3, "nodes: node " + inner + " has no sides");
        refused(boosting(with(nodes, "values", new double[1])), 3, "\"values\"");
    }

    private static State boosting(State nodes) {
        return State.of("boosting")
                .with("classes", 2)
                .with("present", new int[] {0, 1})
                .with("start", new double[1])
                .with("rate", 0.1)
                .withParts("rounds", List.of(State.of("round").withParts("trees", List.of(nodes))));
    }

    /** What only a kind from outside understands is read as it was written, and made again by that kind alone. */
    @Test
    void modelsFromOutsideAreMadeAgainByTheirOwnKind() {
        LearnedModel read =
                LearnedModel.of(new OutsideModel("bees", 2, State.of("own").with("x", 0.1)).state(), 3);
        Model made = new OneClass(2, 1);
        assertThat(Models.restored(read, o -> {
                    assertThat(o.of()).isEqualTo("bees");
                    assertThat(o.learned().number("x")).isEqualTo(0.1);
                    return made;
                }))
                .isSameAs(made);
        assertThatThrownBy(() -> Models.restored(read))
                .hasMessageContaining("it is of a classifier \"bees\", which is not there");
    }

    /** Each kind of learned model can be read from a file; whatever else is forgotten of one does not compile. */
    @Test
    void everyKindOfModelIsReadAgain() {
        Set<Class<?>> read = new HashSet<>();
        Training three = Samples.normal(3, 60, 3, 3);
        all().forEach(c -> read.add(LearnedModel.of(
                        c.fit(three, Samples.chance()).learned().orElseThrow().state(), 3)
                .getClass()));
        read.add(LearnedModel.of(new OneClass(3, 1).learned().orElseThrow().state(), 3)
                .getClass());
        State vote = new MemberVotes(2, 3, true, Vector.of()).state();
        read.add(LearnedModel.of(vote, 6).getClass());
        read.add(LearnedModel.of(new OutsideModel("bees", 3, State.of("own")).state(), 3)
                .getClass());
        assertThat(read).containsExactlyInAnyOrder(LearnedModel.class.getPermittedSubclasses());
    }
}
