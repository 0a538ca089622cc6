package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import keenfold.core.classify.ClassifierKind.Input;
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
    private final MemberColumns form;

    private Columns(Training training, List<Candidate> members, List<Pipeline> trained, MemberColumns form) {
        this.training = training;
        this.members = members;
        this.trained = trained;
        this.form = form;
    }

    /**
     * Finds the columns of training rows; members are trained first.
     *
     * @param scope the seed of everything that is fitted to these rows; members have their own, as if they stood alone
     */
    static Columns of(Recipe recipe, Settings settings, TrainingRows rows, Seed scope) {
        Training own = Training.of(rows.rows(), rows.weights());
        Input input = recipe.kind().input();
        if (input == Input.COLUMNS) {
            return new Columns(own, List.of(), List.of(), MemberColumns.of(input, List.of(), rows.classes()));
        }
        List<Candidate> members = recipe.members();
        MemberColumns form =
                MemberColumns.of(input, members.stream().map(Candidate::name).toList(), rows.classes());
        List<Pipeline> trained =
                members.stream().map(m -> Pipeline.of(m, rows, scope)).toList();
        if (input == Input.MEMBERS) {
            // Nothing is learned from them, so that in-sample predictions need not be made.
            return new Columns(own.with(form.blank(own.rows())), members, trained, form);
        }
        return new Columns(outOfFold(recipe, settings, rows, scope, form), members, trained, form);
    }

    private static Training outOfFold(
            Recipe recipe, Settings settings, TrainingRows rows, Seed scope, MemberColumns form) {
        Seed inner = scope.with("stack");
        int folds =
                Integer.parseInt(settings.text(recipe.kind().setting("folds").orElseThrow()));
        Splits splits = InnerSplits.divide(rows, folds, 1, inner, "stack");
        List<int[]> tested = new ArrayList<>();
        List<List<double[]>> predicted = new ArrayList<>();
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
        int classes = rows.classes();
        List<double[]> joined = new ArrayList<>();
        for (int m = 0; m < recipe.members().size(); m++) {
            double[] values = new double[order.length * classes];
            int at = 0;
            for (List<double[]> fold : predicted) {
                double[] p = fold.get(m);
                System.arraycopy(p, 0, values, at, p.length);
                at += p.length;
            }
            joined.add(values);
        }
        return Training.of(ordered.rows(), ordered.weights()).with(form.table(joined, order.length));
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
        return form.table(trained.stream().map(t -> t.probabilities(raw)).toList(), raw.rows());
    }

    /** The members, each ready to predict. */
    List<FittedPipeline> predictors() {
        return trained.stream().map(Pipeline::predictor).toList();
    }

    /** What its columns are, where they are predictions of members. */
    MemberColumns form() {
        return form;
    }

    /** The size of the largest member, 0 without members. */
    double largest() {
        return trained.stream().mapToDouble(Pipeline::size).max().orElse(0);
    }
}
