package keenfold.core.classify.catalog;

import java.util.function.Function;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.classify.OneClass;
import keenfold.core.classify.baseline.Majority;
import keenfold.core.classify.bayes.NaiveBayes;
import keenfold.core.classify.boosting.Boosting;
import keenfold.core.classify.discriminant.Discriminant;
import keenfold.core.classify.ensemble.Vote;
import keenfold.core.classify.linear.Logistic;
import keenfold.core.classify.neighbours.NearestNeighbours;
import keenfold.core.classify.network.Network;
import keenfold.core.classify.svm.Svm;
import keenfold.core.classify.tree.Forest;
import keenfold.core.classify.tree.Tree;
import keenfold.core.data.Checks;
import keenfold.core.learned.BoostedTrees;
import keenfold.core.learned.ClassForest;
import keenfold.core.learned.ClassShares;
import keenfold.core.learned.ClassTree;
import keenfold.core.learned.ColumnDensities;
import keenfold.core.learned.LearnedModel;
import keenfold.core.learned.LogisticCoefficients;
import keenfold.core.learned.MemberVotes;
import keenfold.core.learned.NearestRows;
import keenfold.core.learned.NetworkWeights;
import keenfold.core.learned.NormalDensities;
import keenfold.core.learned.OutsideModel;
import keenfold.core.learned.SingleClass;
import keenfold.core.learned.SupportVectors;

/** Makes trained classifiers again from what they learned: they give the same probabilities to the last bit. */
public final class Models implements LearnedModel.Cases<Model> {
    private final Function<OutsideModel, Model> outside;

    private Models(Function<OutsideModel, Model> outside) {
        this.outside = outside;
    }

    /**
     * Returns the classifier that learned this.
     *
     * @throws IllegalArgumentException if it is of a kind from outside that is not there, or keeps no models
     */
    public static Model restored(LearnedModel learned) {
        return restored(learned, Models::ofKind);
    }

    /**
     * Returns the classifier that learned this.
     *
     * @param outside makes those of kinds from outside
     */
    public static Model restored(LearnedModel learned, Function<OutsideModel, Model> outside) {
        return learned.match(new Models(outside));
    }

    /**
     * Returns the classifier of a kind from outside that learned this.
     *
     * @throws IllegalArgumentException if there is no such kind, or it keeps no models
     */
    public static Model ofKind(OutsideModel learned) {
        return ClassifierKinds.of(learned.of())
                .flatMap(ClassifierKind::restorer)
                .orElseThrow(() -> Checks.wrong("it is of a classifier \"" + learned.of()
                        + "\", which is not there, or makes no model again of what it learned; a plug-in is named in"
                        + " KEENFOLD_PARTS"))
                .apply(learned.learned());
    }

    @Override
    public Model classShares(ClassShares model) {
        return Majority.restored(model);
    }

    @Override
    public Model singleClass(SingleClass model) {
        return new OneClass(model.classes(), model.only());
    }

    @Override
    public Model logisticCoefficients(LogisticCoefficients model) {
        return Logistic.restored(model);
    }

    @Override
    public Model normalDensities(NormalDensities model) {
        return Discriminant.restored(model);
    }

    @Override
    public Model nearestRows(NearestRows model) {
        return NearestNeighbours.restored(model);
    }

    @Override
    public Model columnDensities(ColumnDensities model) {
        return NaiveBayes.restored(model);
    }

    @Override
    public Model classTree(ClassTree model) {
        return Tree.restored(model);
    }

    @Override
    public Model classForest(ClassForest model) {
        return Forest.restored(model);
    }

    @Override
    public Model boostedTrees(BoostedTrees model) {
        return Boosting.restored(model);
    }

    @Override
    public Model supportVectors(SupportVectors model) {
        return Svm.restored(model);
    }

    @Override
    public Model networkWeights(NetworkWeights model) {
        return Network.restored(model);
    }

    @Override
    public Model outsideModel(OutsideModel model) {
        return outside.apply(model);
    }

    @Override
    public Model memberVotes(MemberVotes model) {
        return Vote.restored(model);
    }
}
