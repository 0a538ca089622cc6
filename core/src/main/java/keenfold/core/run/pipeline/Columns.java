package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.classify.ClassifierKind.Input;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;
import keenfold.core.split.Split;
import keenfold.core.split.Splits;

/** What a recipe's steps start from: the columns of the data set, or the predictions of other candidates. */
final class Columns {
    private final Training training;
    private final List<Candidate> members;
    private final List<Pipeline> trained;
    private final int classes;

    private Columns(Training training, List<Candidate> members, List<Pipeline> trained, int classes) {
        this.training = training;
        this.members = members;
        this.trained = trained;
        this.classes = classes;
    }

    /**
     * Finds the columns of training rows; members are trained first.
     *
     * @param scope the seed of everything that is fitted to these rows; members have their own, as if they stood alone
     */
    static Columns of(Recipe recipe, Settings settings, TrainingRows rows, Seed scope) {
        Training own = Training.of(rows.rows(), rows.weights());
        int classes = rows.classes();
        if (recipe.kind().input() == Input.COLUMNS) {
            return new Columns(own, List.of(), List.of(), classes);
        }
        List<Candidate> members = recipe.members();
        List<Pipeline> trained =
                members.stream().map(m -> Pipeline.of(m, rows, scope)).toList();
        if (recipe.kind().input() == Input.MEMBERS) {
            // Nothing is learned from them, so that in-sample predictions need not be made.
            Training none = own.with(new Table(own.rows(), blank(members, own.rows(), classes)));
            return new Columns(none, members, trained, classes);
        }
        return new Columns(outOfFold(recipe, settings, rows, scope), members, trained, classes);
    }

    private static List<Column> blank(List<Candidate> members, int rows, int classes) {
        List<Column> columns = new ArrayList<>();
        for (Candidate member : members) {
            for (int c = 1; c < classes; c++) {
                columns.add(Numbers.owning(name(member.name(), c), new double[rows]));
            }
        }
        return columns;
    }

    private static String name(String member, int c) {
        return member + " " + (c + 1);
    }

    private static Training outOfFold(Recipe recipe, Settings settings, TrainingRows rows, Seed scope) {
        Seed inner = scope.with("stack");
        int folds =
                Integer.parseInt(settings.text(recipe.kind().setting("folds").orElseThrow()));
        Splits splits = InnerSplits.divide(rows, folds, 1, inner, "stack");
        List<int[]> tested = new ArrayList<>();
        List<List<double[]>> predicted = new ArrayList<>();
        int classes = rows.classes();
        for (int f = 0; f < splits.folds(0); f++) {
            FitFailure.ifInterrupted();
            Split split = splits.at(0, f);
            int[] test = split.test().toArray();
            TrainingRows side = rows.some(split.train().toArray());
            Seed fold = inner.with(f);
            Table raw = rows.rows().features().select(test);
            predicted.add(recipe.members().stream()
                    .map(m -> Pipeline.of(m, side, fold).probabilities(raw))
                    .toList());
            tested.add(test);
        }
        int[] order = tested.stream().flatMapToInt(Arrays::stream).toArray();
        TrainingRows ordered = rows.some(order);
        List<Column> columns = new ArrayList<>();
        for (int m = 0; m < recipe.members().size(); m++) {
            for (int c = 1; c < classes; c++) {
                double[] values = new double[order.length];
                int at = 0;
                for (List<double[]> fold : predicted) {
                    double[] p = fold.get(m);
                    for (int i = c; i < p.length; i += classes) {
                        values[at++] = p[i];
                    }
                }
                columns.add(Numbers.owning(name(recipe.members().get(m).name(), c), values));
            }
        }
        return Training.of(ordered.rows(), ordered.weights()).with(new Table(order.length, columns));
    }

    /** The columns of the training rows, not yet prepared. */
    Training training() {
        return training;
    }

    /** The same columns of other rows. */
    Table apply(Table raw) {
        if (members.isEmpty()) {
            return raw;
        }
        return ofMembers(
                memberNames(), trained.stream().map(t -> t.probabilities(raw)).toList(), raw.rows(), classes);
    }

    /** The members, each ready to predict. */
    List<FittedPipeline> predictors() {
        return trained.stream().map(Pipeline::predictor).toList();
    }

    List<String> memberNames() {
        return members.stream().map(Candidate::name).toList();
    }

    /** The columns that members' probabilities make. */
    static Table ofMembers(List<String> names, List<double[]> probabilities, int rows, int classes) {
        List<Column> columns = new ArrayList<>();
        for (int m = 0; m < names.size(); m++) {
            double[] p = probabilities.get(m);
            for (int c = 1; c < classes; c++) {
                double[] values = new double[rows];
                for (int i = 0; i < values.length; i++) {
                    values[i] = p[i * classes + c];
                }
                columns.add(Numbers.owning(name(names.get(m), c), values));
            }
        }
        return new Table(rows, columns);
    }

    /** The size of the largest member, 0 without members. */
    double largest() {
        return trained.stream().mapToDouble(Pipeline::size).max().orElse(0);
    }
}
