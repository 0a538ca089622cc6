package keenfold.core.run;

import java.util.List;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Settings;
import keenfold.core.prepare.Step;
import keenfold.core.prepare.Steps;

/**
 * What is fitted in a fold: preparing steps, a classifier and its settings, under a name.
 *
 * @param name unique in its plan; a member of a family is called FAMILY/VALUE
 * @param family the plan entry it comes from; its own name if nothing is varied there
 * @param kind the classifier
 * @param settings as written
 * @param varied names of the settings that tell the members of its family apart, in plan order
 */
public record Candidate(String name, String family, ClassifierKind kind, Settings settings, List<String> varied) {
    /** Checks the settings by making the classifier once. */
    public Candidate {
        varied = List.copyOf(varied);
        kind.make(settings);
    }

    /** Returns the steps it gets: those that its classifier needs. */
    public List<Step> steps() {
        return Steps.neededBy(kind.make(settings).needs());
    }
}
