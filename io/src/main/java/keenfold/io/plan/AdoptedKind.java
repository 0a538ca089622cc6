package keenfold.io.plan;

import java.util.List;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.data.RandomSource;
import keenfold.core.learned.FitFailure;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.candidate.Recipe;

/** Candidates whose predictions or scores were made elsewhere: they stand in the plans of ledgers, and cannot be run. */
public final class AdoptedKind {
    /** The classifier's name in such plans. */
    public static final String NAME = "adopted";

    static final ClassifierKind KIND = new ClassifierKind(
            NAME, "made elsewhere, and adopted; cannot be run", List.of(), settings -> new NotHere());

    /** Stands for what cannot be run. */
    private static final class NotHere implements Classifier {
        @Override
        public Needs needs() {
            return Needs.NOTHING;
        }

        @Override
        public Model fit(Training training, RandomSource chance) {
            throw new FitFailure("it was adopted, and cannot be run here");
        }
    }

    private AdoptedKind() {}

    /** Checks a name, which may hold a slash, as the names of a family's members do. */
    static String name(String text) {
        PlanReader.plainName(text.replace('/', '-'));
        return text;
    }

    /**
     * Returns a candidate of a name.
     *
     * @throws IllegalArgumentException if it holds a comma or control character
     */
    public static Candidate candidate(String name) {
        return new Candidate(
                name(name),
                name,
                new Recipe(java.util.Optional.of(List.of()), KIND, List.of()),
                Settings.none(),
                java.util.Map.of(),
                java.util.Optional.empty(),
                java.util.Optional.empty());
    }

    /** Returns whether a candidate was adopted. */
    public static boolean is(Candidate candidate) {
        return candidate.kind().name().equals(NAME);
    }
}
