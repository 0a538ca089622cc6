package keenfold.core.learned;

import keenfold.core.data.Checks;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * A vote of members. Its columns are, of each member, one after another, the probabilities of all classes.
 *
 * @param classes K
 * @param members how many
 * @param byLabel whether each gives its whole voice to its most probable class, the first among equals
 * @param weights one per member; none for equal ones
 */
public record MemberVotes(int classes, int members, boolean byLabel, Vector weights) implements LearnedModel {
    static final String KIND = "vote";

    /** Returns the weight of a member's voice, 1 where all weigh the same. */
    public double weight(int member) {
        return weights.size() == 0 ? 1 : weights.get(member);
    }

    /** Returns the weight of all voices. */
    public double totalWeight() {
        return weights.size() == 0 ? members : weights.stream().sum();
    }

    /** Returns the share that a member has of all voices. */
    public double share(int member) {
        return weight(member) / totalWeight();
    }

    @Override
    public State state() {
        return State.of(KIND)
                .with("classes", classes)
                .with("members", members)
                .with("by-label", byLabel)
                .with("weights", weights);
    }

    static MemberVotes of(State state, int columns) {
        Vector weights = state.numbers("weights");
        int members = state.whole("members", 1, 10_000);
        int classes = LearnedModel.classes(state);
        LearnedModel.requireColumns(state, members * classes, columns);
        Checks.that(weights.size() == 0 || weights.size() == members, "vote: %d weights", weights.size());
        return new MemberVotes(classes, members, state.truth("by-label"), weights);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.memberVotes(this);
    }
}
