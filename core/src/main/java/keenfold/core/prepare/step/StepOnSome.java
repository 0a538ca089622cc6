package keenfold.core.prepare.step;

import java.util.List;
import keenfold.core.prepare.Step;

/** A step that works on all columns, or on those that its settings name. */
interface StepOnSome extends Step {
    /** Returns the columns that it works on. */
    Some some();

    @Override
    default List<String> named() {
        return some().names();
    }
}
