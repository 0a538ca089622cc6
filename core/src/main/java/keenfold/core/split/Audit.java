package keenfold.core.split;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.EqualRows;
import keenfold.core.data.Numbers;
import keenfold.core.data.Rows;
import keenfold.core.data.ValueException;

/**
 * What splits look like, and whether they are sound: recounted from the rows of both sides, whoever made them.
 *
 * @param splits one entry per split, by repeat and fold
 * @param checks what was checked
 */
public record Audit(List<Facts> splits, List<Check> checks) {
    /** Copies the lists. */
    public Audit {
        splits = List.copyOf(splits);
        checks = List.copyOf(checks);
    }

    /** What is checked. */
    public enum Question {
        /** No row is trained on and tested in one split. */
        SIDES_APART,
        /** Each repeat tests each row once. */
        TESTED_ONCE,
        /** No group has rows on both sides. */
        GROUPS_WHOLE,
        /** No row has an equal one on the other side. */
        COPIES_TOGETHER,
        /** Training rows came before tested rows. */
        IN_ORDER,
        /** Test sides have the size, and the class counts, that their share of the rows would give. */
        BALANCED,
        /** Each split tests rows of each class. */
        CLASSES_TESTED,
        /** Each split trains on rows of each class. */
        CLASSES_TRAINED
    }

    /** How a check came out. */
    public enum Outcome {
        /** As it should be. */
        PASSED,
        /** Not as asked, but perhaps as wanted. */
        NOTED,
        /** Not as it must be. */
        FAILED
    }

    /**
     * One check.
     *
     * @param question what was asked
     * @param outcome how it came out
     * @param splits in how many splits it is not so
     * @param value rows off the ideal, or rows concerned; 0 where it does not apply
     */
    public record Check(Question question, Outcome outcome, int splits, double value) {}

    /**
     * One split, counted.
     *
     * @param repeat 0-based
     * @param fold 0-based
     * @param train distinct training rows
     * @param trainCases training rows with their counts
     * @param test test rows
     * @param testClasses test rows by class
     * @param trainClasses distinct training rows by class
     * @param testGroups groups that are tested, 0 without groups
     * @param trainSpan first and last of the order of training rows, if there is an order
     * @param testSpan first and last of the order of test rows
     */
    public record Facts(
            int repeat,
            int fold,
            int train,
            long trainCases,
            int test,
            List<Integer> testClasses,
            List<Integer> trainClasses,
            int testGroups,
            Optional<Span> trainSpan,
            Optional<Span> testSpan) {}

    /**
     * From where to where.
     *
     * @param first the least
     * @param last the greatest
     */
    public record Span(double first, double last) {}

    /**
     * Looks at the splits of a data set.
     *
     * @param bindEqual whether equal rows were to be kept together
     * @param stratified whether class counts were to be balanced too
     */
    public static Audit of(DataSet data, Splits splits, boolean bindEqual, boolean stratified) {
        Recount recount = new Recount(data, splits);
        return new Audit(recount.facts, recount.checks(bindEqual, stratified));
    }

    /**
     * Refuses splits that divide a group, or bound rows.
     *
     * @throws IllegalArgumentException naming the first split that does, and a row
     */
    public static void requireWhole(DataSet data, Splits splits, boolean bindEqual) {
        if (data.groups().isEmpty() && !bindEqual) {
            return;
        }
        Blocks blocks = Blocks.of(data, bindEqual);
        for (int r = 0; r < splits.repeats(); r++) {
            for (int f = 0; f < splits.folds(r); f++) {
                int[] counts = splits.countsOf(r, f);
                boolean[] trained = new boolean[blocks.count()];
                for (int i = 0; i < counts.length; i++) {
                    trained[blocks.of(i)] |= counts[i] > 0;
                }
                for (int i = 0; i < counts.length; i++) {
                    if (counts[i] == 0 && trained[blocks.of(i)]) {
                        throw divided(data, i, r, f);
                    }
                }
            }
        }
    }

    private static ValueException divided(DataSet data, int row, int repeat, int fold) {
        String what = data.groups()
                .map(g -> "the group \"" + g.levels().get(g.code(row)) + "\" (column \"" + g.name() + "\")")
                .orElse("a row");
        return Checks.wrong("data set \"" + data.name() + "\": " + what + ", to which row "
                + data.sourceRow(row) + " belongs, stands on both sides in repeat " + (repeat + 1) + ", fold "
                + (fold + 1) + "; correct the splits, or do without "
                + (data.groups().isPresent() ? "groups" : "bind-equal"));
    }

    private static final class Recount {
        private final DataSet data;
        private final Splits splits;
        private final List<Facts> facts = new ArrayList<>();
        private final int[] firstEqual;
        private int overlapping;
        private int dividedGroups;
        private int dividedCopies;
        private final Set<Integer> copies = new HashSet<>();
        private int outOfOrder;

        Recount(DataSet data, Splits splits) {
            this.data = data;
            this.splits = splits;
            this.firstEqual = EqualRows.firsts(data.labelled());
            for (int r = 0; r < splits.repeats(); r++) {
                for (int f = 0; f < splits.folds(r); f++) {
                    facts.add(count(splits.at(r, f)));
                }
            }
        }

        private Facts count(Split split) {
            boolean[] tested = new boolean[data.rows()];
            for (int i = 0; i < split.test().size(); i++) {
                tested[split.test().row(i)] = true;
            }
            boolean overlaps = false;
            long cases = 0;
            for (int i = 0; i < split.train().size(); i++) {
                overlaps |= tested[split.train().row(i)];
                cases += split.train().count(i);
            }
            overlapping += overlaps ? 1 : 0;
            boolean[] testGroups = groups(split.test());
            boolean[] trainGroups = groups(split.train());
            int groupsTested = 0;
            boolean divided = false;
            for (int g = 0; g < testGroups.length; g++) {
                groupsTested += testGroups[g] ? 1 : 0;
                divided |= testGroups[g] && trainGroups[g];
            }
            dividedGroups += divided ? 1 : 0;
            countCopies(split);
            Optional<Span> train = span(split.train());
            Optional<Span> test = span(split.test());
            boolean late = train.isPresent()
                    && train.get().last() >= test.orElseThrow().first();
            outOfOrder += late ? 1 : 0;
            return new Facts(
                    split.repeat(),
                    split.fold(),
                    split.train().size(),
                    cases,
                    split.test().size(),
                    classes(split.test()),
                    classes(split.train()),
                    groupsTested,
                    train,
                    test);
        }

        /** Which groups a side has rows of. */
        private boolean[] groups(Rows side) {
            boolean[] has =
                    new boolean[data.groups().map(g -> g.levels().size()).orElse(0)];
            data.groups().ifPresent(g -> {
                for (int i = 0; i < side.size(); i++) {
                    has[g.code(side.row(i))] = true;
                }
            });
            return has;
        }

        private void countCopies(Split split) {
            boolean[] trained = new boolean[data.rows()];
            for (int i = 0; i < split.train().size(); i++) {
                trained[firstEqual[split.train().row(i)]] = true;
            }
            boolean any = false;
            for (int i = 0; i < split.test().size(); i++) {
                if (trained[firstEqual[split.test().row(i)]]) {
                    copies.add(split.test().row(i));
                    any = true;
                }
            }
            dividedCopies += any ? 1 : 0;
        }

        private Optional<Span> span(Rows side) {
            return data.order().map(when -> span(when, side));
        }

        private static Span span(Numbers when, Rows side) {
            double first = Double.POSITIVE_INFINITY;
            double last = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < side.size(); i++) {
                first = Math.min(first, when.get(side.row(i)));
                last = Math.max(last, when.get(side.row(i)));
            }
            return new Span(first, last);
        }

        private List<Integer> classes(Rows side) {
            Integer[] counts = new Integer[data.classes().count()];
            java.util.Arrays.fill(counts, 0);
            for (int i = 0; i < side.size(); i++) {
                counts[data.target(side.row(i))]++;
            }
            return List.of(counts);
        }

        private List<Check> checks(boolean bindEqual, boolean stratified) {
            List<Check> checks = new ArrayList<>();
            checks.add(must(Question.SIDES_APART, overlapping, 0));
            if (splits.form() == Splits.Form.PARTITIONS) {
                int untested = untested();
                Outcome outcome = untested > 0 ? Outcome.NOTED : Outcome.PASSED;
                checks.add(new Check(Question.TESTED_ONCE, outcome, 0, untested));
            }
            if (data.groups().isPresent()) {
                checks.add(must(Question.GROUPS_WHOLE, dividedGroups, 0));
            }
            if (bindEqual) {
                checks.add(must(Question.COPIES_TOGETHER, dividedCopies, copies.size()));
            } else if (dividedCopies > 0) {
                checks.add(new Check(Question.COPIES_TOGETHER, Outcome.NOTED, dividedCopies, copies.size()));
            }
            if (splits.form() == Splits.Form.IN_ORDER) {
                checks.add(must(Question.IN_ORDER, outOfOrder, 0));
            }
            if (splits.form() == Splits.Form.PARTITIONS && splits.mostFolds() < units()) {
                checks.add(balance(stratified));
            }
            // A row that is tested alone is of one class.
            if (facts.stream().anyMatch(f -> f.test() > 1)) {
                checks.add(eachClass(
                        Question.CLASSES_TESTED,
                        facts.stream().map(Facts::testClasses).toList()));
            }
            checks.add(eachClass(
                    Question.CLASSES_TRAINED,
                    facts.stream().map(Facts::trainClasses).toList()));
            return checks;
        }

        private static Check must(Question question, int splits, double value) {
            return new Check(question, splits > 0 ? Outcome.FAILED : Outcome.PASSED, splits, value);
        }

        /** Rows, or groups: where each is a fold of its own, there is no ideal to compare with. */
        private int units() {
            return data.groups().map(g -> g.levels().size()).orElse(data.rows());
        }

        private int untested() {
            int untested = 0;
            for (int r = 0; r < splits.repeats(); r++) {
                for (int f : splits.foldsOf(r)) {
                    untested += f < 0 ? 1 : 0;
                }
            }
            return untested;
        }

        private Check balance(boolean stratified) {
            double worst = 0;
            int off = 0;
            int[] classes = data.classCounts();
            for (Facts split : facts) {
                double k = splits.folds(split.repeat());
                double own = Math.abs(split.test() - data.rows() / k);
                for (int c = 0; stratified && c < classes.length; c++) {
                    own = Math.max(own, Math.abs(split.testClasses().get(c) - classes[c] / k));
                }
                off += own >= 1 ? 1 : 0;
                worst = Math.max(worst, own);
            }
            return new Check(Question.BALANCED, off > 0 ? Outcome.NOTED : Outcome.PASSED, off, worst);
        }

        private static Check eachClass(Question question, List<List<Integer>> counts) {
            int lacking = (int) counts.stream().filter(c -> c.contains(0)).count();
            return new Check(question, lacking > 0 ? Outcome.NOTED : Outcome.PASSED, lacking, 0);
        }
    }
}
