package keenfold.core.run.pipeline;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.learned.LearnedStep;
import keenfold.core.prepare.Preparation;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.run.candidate.Recipe;

/** A recipe's columns and steps, fitted to training rows: shared by all settings whose steps do the same. */
public final class Prepared {
    private final Optional<Columns> columns;
    private final Optional<Preparation> preparation;

    private Prepared(Optional<Columns> columns, Optional<Preparation> preparation) {
        this.columns = columns;
        this.preparation = preparation;
    }

    /**
     * Fits columns and steps.
     *
     * @param scope the seed of everything that is fitted to these rows, whichever candidate it belongs to; members are
     *     seeded from it as if they stood alone
     * @throws keenfold.core.learned.FitFailure if a member or step cannot learn from these rows
     */
    public static Prepared of(Recipe recipe, Settings settings, TrainingRows rows, Seed scope) {
        Columns columns = Columns.of(recipe, settings, rows, scope);
        return new Prepared(
                Optional.of(columns),
                Optional.of(Preparation.fit(recipe.steps(settings), columns.training(), scope.with("steps"))));
    }

    /** Returns what leaves the columns of the data as they are, for a model that is there already. */
    public static Prepared asTheyAre() {
        return new Prepared(Optional.empty(), Optional.empty());
    }

    /** The prepared training rows. */
    public Training training() {
        return preparation.orElseThrow().training();
    }

    /** Other rows, prepared. */
    public Table apply(Table raw) {
        Table table = columns.isPresent() ? columns.get().apply(raw) : raw;
        return preparation.isPresent() ? preparation.get().apply(table) : table;
    }

    List<LearnedStep> steps() {
        return preparation.map(Preparation::steps).orElse(List.of());
    }

    List<FittedPipeline> members() {
        return columns.map(Columns::predictors).orElse(List.of());
    }

    /** The columns of members; none where the classifier is handed columns of the data. */
    MemberColumns memberColumns() {
        return columns.map(Columns::form).orElseGet(() -> new MemberColumns(List.of(), 2, false));
    }

    /** The size of the largest member, 0 without members. */
    double largest() {
        return columns.map(Columns::largest).orElse(0.0);
    }
}
