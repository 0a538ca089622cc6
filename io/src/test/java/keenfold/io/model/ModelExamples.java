package keenfold.io.model;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import keenfold.core.data.DataSet;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.core.split.KFold;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanReader;
import keenfold.io.table.DataReader;
import keenfold.io.table.LoadedData;
import keenfold.io.table.parse.TableFormat;
import keenfold.results.ModelScore;

/** Candidates of every kind, and small tables of two and three classes with gaps to train them on. */
public final class ModelExamples {
    /** Every classifier, step and wrapper, in every form that learns something else. */
    public static final String CANDIDATES =
            """
              majority: {classifier: majority}
              bayes: {classifier: naive-bayes}
              shapes: {classifier: naive-bayes, density: kernel}
              unsmoothed: {classifier: naive-bayes, pseudo-count: 0}
              logit: {classifier: logistic}
              lasso: {classifier: logistic, penalty: lasso, strength: 3}
              near: {classifier: nearest, neighbours: 3}
              mixed: {classifier: nearest, neighbours: 4, distance: mixed, votes: by-distance}
              plane: {classifier: discriminant}
              bent: {classifier: discriminant, pooled: 0.3, diagonal: 0.3}
              bush: {classifier: tree, depth: 4}
              woods: {classifier: forest, trees: 7}
              climb: {classifier: boosting, rounds: 6}
              straight: {classifier: svm, kernel: linear}
              border: {classifier: svm}
              net: {classifier: network, units: 3}
              poll: {classifier: vote, members: [bayes, near], by: label, weights: [2, 1]}
              pile: {classifier: stack, members: [bayes, bush]}
              steps1: {prepare: [{fill: {with: mode, mark: yes}}, {one-hot: 2}, {rescale: {high: 2}}, {drop-constant: 0.9}], classifier: logistic}
              steps2: {prepare: [{fill: {with: constant, value: 3, level: none}}, ordinal, log, {drop-correlated: 0.8}, interactions, {strongest: 4}], classifier: discriminant}
              steps3: {prepare: [fill, {power: fitted}, {bins: {bins: 4, columns: [x]}}, one-hot, standardise, {components: 3}], classifier: nearest}
              steps5: {prepare: [fill, {date-parts: x}, one-hot, standardise], classifier: logistic}
              steps6: {prepare: [{target-means: {prior: 3, columns: [site]}}, fill, {words: hue}], classifier: tree}
              steps7: {prepare: [target-means, fill], classifier: naive-bayes}
              steps4: {prepare: [fill, {bins: {bins: 3, as: numbers}}, {ordinal: count}, {keep-only: [x, y, hue]}, {leave-out: [y]}], classifier: naive-bayes}
              tuned: {classifier: tree, depth: {choose: [1, 3]}, tuning: {folds: 3}}
              soft: {classifier: tree, depth: 3, calibrate: isotonic}
              curve: {classifier: svm, calibrate: platt, balance: weights}
            """;

    private final Path folder;

    /** Writes the tables into a folder. */
    public ModelExamples(Path folder) {
        this.folder = folder;
        for (int classes : new int[] {2, 3}) {
            Random chance = new Random(classes);
            StringBuilder csv = new StringBuilder("x,y,z,hue,site,kind\n");
            for (int i = 0; i < 90; i++) {
                int k = i % classes;
                csv.append(chance.nextGaussian() + k).append(',');
                csv.append(i % 11 == 0 ? "" : Double.toString(chance.nextGaussian() - k))
                        .append(',');
                csv.append(chance.nextInt(5)).append(',');
                csv.append(i % 7 == 0 ? "" : List.of("amber", "gold", "pale").get((k + chance.nextInt(2)) % 3));
                csv.append(',').append(List.of("hill", "moor").get(chance.nextInt(2)));
                csv.append(",k").append(k).append('\n');
            }
            try {
                Files.writeString(folder.resolve("d" + classes + ".csv"), csv);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    /** Returns the table of so many classes. */
    public LoadedData loaded(int classes) {
        return DataReader.read(plan(classes, CANDIDATES).data().get(0), List.of(folder));
    }

    /** Returns a plan of candidates. */
    public static Plan plan(int classes, String candidates) {
        return PlanReader.parse(
                "plan.yaml",
                "keenfold: 1\ndata: [{file: d" + classes + ".csv, target: kind}]\nseed: 4\ncandidates:\n" + candidates);
    }

    /** Returns the rows that candidates are trained on: the first 60. */
    public DataSet some(int classes) {
        return loaded(classes).data().select(IntStream.range(0, 60).toArray());
    }

    /** Trains a candidate on them. */
    public FittedPipeline trained(Candidate candidate, DataSet some) {
        return FittedPipeline.train(candidate, some, new KFold(3, 1, true).divide(some, 1), 4);
    }

    /** Returns the model file of a trained candidate. */
    public static ModelFile model(FittedPipeline predictor, DataSet data) {
        return new ModelFile(
                Schema.of(data.features(), Set.of(), TableFormat.PLAIN),
                "kind",
                data.classes().labels(),
                predictor,
                new Origin(
                        "c",
                        "",
                        data.name(),
                        data.rows(),
                        "f",
                        "plan",
                        4,
                        "test",
                        List.of(new ModelScore("auc", "cross-validated", 0.7, Double.NaN, Double.NaN))));
    }
}
