package keenfold.core.classify.ensemble;

import java.util.List;
import java.util.Optional;
import keenfold.core.classify.Classifier;
import keenfold.core.classify.Model;
import keenfold.core.data.Checks;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Table;
import keenfold.core.data.Vector;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.MemberVotes;
import keenfold.core.prepare.Needs;
import keenfold.core.prepare.Training;

/**
 * Members that vote.
 *
 * <p>Its columns are the members' predictions: of each member, one after another, the probabilities of all classes. By probability a class gets the weighted mean of what members give it; by label the weighted share of the members
 * whose most probable class it is (the first among equals).
 *
 * <p>Size: members − 1, times K − 1, beside the largest member's.
 *
 * <p>Reference: Kuncheva (2004), Combining Pattern Classifiers, chapters 4 and 5.
 *
 * @param byLabel whether labels vote, and not probabilities
 * @param weights one per member; none for equal ones
 */
public record Vote(boolean byLabel, List<Double> weights) implements Classifier {
    /** Checks the settings. */
    public Vote {
        weights = List.copyOf(weights);
        double sum = 0;
        for (double w : weights) {
            if (!(w >= 0)) {
                throw Checks.wrong("weights: " + w + ": expected numbers of at least 0");
            }
            sum += w;
        }
        if (!weights.isEmpty() && !(sum > 0)) {
            throw Checks.wrong("weights: at least one must be above 0");
        }
    }

    @Override
    public Needs needs() {
        return Needs.NOTHING;
    }

    @Override
    public Model fit(Training training, RandomSource chance) {
        int members = training.table().columns().size() / training.classes();
        if (!weights.isEmpty() && weights.size() != members) {
            throw new FitFailure("vote has " + weights.size() + " weights for " + members + " members");
        }
        return new Poll(members, training.classes());
    }

    /** Makes the model again of what it learned. */
    public static Model restored(MemberVotes learned) {
        List<Double> weights = learned.weights().stream().boxed().toList();
        return new Vote(learned.byLabel(), weights).new Poll(learned.members(), learned.classes());
    }

    private final class Poll implements Model {
        private final int members;
        private final int classes;

        Poll(int members, int classes) {
            this.members = members;
            this.classes = classes;
        }

        @Override
        public double[] probabilities(Table table) {
            double[][] x = Training.columns(table);
            double[] all = new double[table.rows() * classes];
            double total = 0;
            for (int m = 0; m < members; m++) {
                total += weight(m);
            }
            double[] own = new double[classes];
            for (int i = 0; i < table.rows(); i++) {
                for (int m = 0; m < members; m++) {
                    int most = 0;
                    for (int c = 0; c < classes; c++) {
                        own[c] = x[m * classes + c][i];
                        most = own[c] > own[most] ? c : most;
                    }
                    for (int c = 0; c < classes; c++) {
                        double voice = byLabel ? (c == most ? 1 : 0) : own[c];
                        all[i * classes + c] += weight(m) * voice;
                    }
                }
                // Divided last, so that voices that are whole numbers are counted without rounding.
                for (int c = 0; c < classes; c++) {
                    all[i * classes + c] /= total;
                }
            }
            return all;
        }

        private double weight(int member) {
            return weights.isEmpty() ? 1 : weights.get(member);
        }

        @Override
        public Optional<LearnedModel> learned() {
            double[] all = weights.stream().mapToDouble(Double::doubleValue).toArray();
            return Optional.of(new MemberVotes(classes, members, byLabel, Vector.of(all)));
        }

        @Override
        public double size() {
            return (members - 1.0) * (classes - 1);
        }
    }
}
