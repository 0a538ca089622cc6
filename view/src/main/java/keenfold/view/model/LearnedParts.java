package keenfold.view.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Lists;
import keenfold.core.data.Vector;
import keenfold.core.learned.BoostedTrees;
import keenfold.core.learned.ClassForest;
import keenfold.core.learned.ClassNodes;
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
import keenfold.core.run.pipeline.ColumnOrigin;
import keenfold.core.run.pipeline.FittedPipeline;
import keenfold.view.model.ModelPart.Share;

/** What each kind of model has to show, in the columns and units of the data. */
final class LearnedParts implements LearnedModel.Cases<List<ModelPart>> {
    private static final String NOT_READ_OFF =
            "What single columns do cannot be read off it; draw --figure columns says"
                    + " what prediction loses without one.";

    private final FittedPipeline predictor;
    private final List<ColumnOrigin> columns;
    private final List<String> labels;
    private final Set<String> dates;

    LearnedParts(FittedPipeline predictor, List<ColumnOrigin> columns, List<String> labels, Set<String> dates) {
        this.predictor = predictor;
        this.columns = columns;
        this.labels = labels;
        this.dates = dates;
    }

    private CoefficientTable coefficients() {
        return new CoefficientTable(columns, labels, predictor.positive());
    }

    @Override
    public List<ModelPart> classShares(ClassShares model) {
        return List.of(
                shares("class shares of the training rows", model.shares().toArray()));
    }

    @Override
    public List<ModelPart> outsideModel(OutsideModel model) {
        return List.of(new ModelPart(
                "what it learned",
                List.of("Only the classifier \"" + model.of() + "\" itself understands it."),
                List.of("part", "value"),
                OutsideParts.of(model.learned())));
    }

    @Override
    public List<ModelPart> singleClass(SingleClass model) {
        double[] shares = new double[labels.size()];
        shares[model.only()] = 1;
        return List.of(shares("the one class that was there", shares));
    }

    private ModelPart shares(String title, double[] shares) {
        List<List<Object>> rows = new ArrayList<>();
        for (int c = 0; c < shares.length; c++) {
            rows.add(List.of(labels.get(c), new Share(shares[c])));
        }
        return new ModelPart(title, List.of(), List.of("class", "share"), rows);
    }

    // Trees.

    @Override
    public List<ModelPart> classTree(ClassTree model) {
        List<TreeRule> rules = TreeRule.of(model.nodes(), columns, dates);
        boolean counts = rules.stream().allMatch(r -> r.weight() == Math.rint(r.weight()));
        List<String> titles = new ArrayList<>(List.of("rule", counts ? "rows" : "weight"));
        titles.addAll(labels);
        titles.add("leaf");
        List<List<Object>> rows = new ArrayList<>();
        for (TreeRule rule : rules) {
            List<Object> row = new ArrayList<>(List.of("  ".repeat(rule.depth()) + rule.condition()));
            row.add(counts ? (Object) (int) rule.weight() : (Object) rule.weight());
            rule.shares().forEach(share -> row.add(new Share(share)));
            row.add(rule.leaf() == 0 ? "" : rule.leaf() + ": " + labels.get(rule.most()));
            rows.add(row);
        }
        int leaves = rules.get(rules.size() - 1).leaf();
        return List.of(new ModelPart(
                "tree of " + leaves + (leaves == 1 ? " leaf" : " leaves"),
                List.of("each line with the training rows that come to it and their class shares"),
                titles,
                rows));
    }

    @Override
    public List<ModelPart> classForest(ClassForest model) {
        double leaves =
                model.trees().stream().mapToDouble(ClassNodes::leaves).average().orElse(0);
        return shares(
                predictor.model().columnWeights(columns.size()),
                model.trees().size() + " trees of " + ShortNumber.of(leaves)
                        + " leaves on average; a column's share of the decrease of impurity by all splits");
    }

    @Override
    public List<ModelPart> boostedTrees(BoostedTrees model) {
        double[] splits = new double[columns.size()];
        for (List<BoostedTrees.ValueNodes> round : model.rounds()) {
            for (BoostedTrees.ValueNodes tree : round) {
                for (int i = 0; i < tree.left().size(); i++) {
                    splits[tree.columns().get(i)] += tree.leaf(i) ? 0 : 1;
                }
            }
        }
        int rounds = model.rounds().size();
        int trees = rounds == 0 ? 0 : model.start().size();
        return shares(
                splits,
                rounds + " rounds of " + trees + (model.start().size() == 1 ? " tree" : " trees") + ", learning rate "
                        + ShortNumber.of(model.rate()) + "; a column's share of the "
                        + (int) Arrays.stream(splits).sum() + " splits");
    }

    /** Shares by column of the data: what several prepared columns of one have is added up. */
    private List<ModelPart> shares(double[] byColumn, String line) {
        Map<String, Double> sums = new LinkedHashMap<>();
        double total = Arrays.stream(byColumn).sum();
        for (int j = 0; j < byColumn.length; j++) {
            ColumnOrigin m = columns.get(j);
            sums.merge(m.raw().isEmpty() ? m.head() : m.raw(), byColumn[j], Double::sum);
        }
        List<List<Object>> rows = new ArrayList<>();
        double most = sums.values().stream().mapToDouble(v -> v).max().orElse(0);
        sums.entrySet().stream()
                .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
                .forEach(e -> rows.add(List.of(
                        e.getKey(),
                        new Share(total > 0 ? e.getValue() / total : 0),
                        most > 0 ? "=".repeat((int) Math.max(0, Math.rint(40 * e.getValue() / most))) : "")));
        return List.of(new ModelPart(
                "columns",
                List.of(
                        line,
                        "This is what the model made use of in training, and favours columns of many values; what"
                                + " prediction loses without a column says draw --figure columns."),
                List.of("column", "share", ""),
                rows));
    }

    // Linear ones.

    @Override
    public List<ModelPart> logisticCoefficients(LogisticCoefficients model) {
        return List.of(coefficients().part(model.coefficients(), model.present(), "coefficients (log-odds of", true));
    }

    @Override
    public List<ModelPart> normalDensities(NormalDensities model) {
        List<Integer> inUse = model.columns();
        List<Integer> present = model.present();
        List<NormalDensities.Density> densities = model.densities();
        boolean pooled = model.pooled();
        List<String> titles = new ArrayList<>(List.of("column"));
        for (int c : present) {
            titles.add("mean, " + labels.get(c));
        }
        for (int k = 0; k < (pooled ? 1 : present.size()); k++) {
            titles.add(pooled ? "sd" : "sd, " + labels.get(present.get(k)));
        }
        List<List<Object>> rows = new ArrayList<>();
        for (int a = 0; a < inUse.size(); a++) {
            ColumnOrigin m = columns.get(inUse.get(a));
            List<Object> row = new ArrayList<>(List.of(m.head()));
            for (NormalDensities.Density d : densities) {
                row.add(m.head(d.mean().get(a)));
            }
            for (NormalDensities.Density d : pooled ? densities.subList(0, 1) : densities) {
                double squares = 0;
                for (double l : d.lower().get(a).toArray()) {
                    squares += l * l;
                }
                row.add(Math.sqrt(squares) / Math.abs(m.slope()));
            }
            rows.add(row);
        }
        List<String> lines = new ArrayList<>();
        lines.add(
                pooled
                        ? "one covariance for all classes: the border between two is a plane"
                        : "each class with a covariance of its own: borders are curved");
        if (inUse.size() < columns.size()) {
            lines.add((columns.size() - inUse.size()) + " prepared columns are determined by others and left out");
        }
        ModelPart table = new ModelPart("normal densities", lines, titles, rows);
        return pooled && present.size() == 2
                ? List.of(table, coefficients().part(List.of(plane(model)), present, "border (log-odds of", true))
                : List.of(table);
    }

    /** w = Σ⁻¹(m₂ − m₁) by the Cholesky factor, and the intercept last. */
    private Vector plane(NormalDensities model) {
        List<NormalDensities.Density> densities = model.densities();
        double[][] lower = Lists.rows(densities.get(0).lower());
        Vector first = densities.get(0).mean();
        Vector second = densities.get(1).mean();
        int p = model.columns().size();
        double[] w = new double[p];
        for (int a = 0; a < p; a++) {
            double sum = second.get(a) - first.get(a);
            for (int b = 0; b < a; b++) {
                sum -= lower[a][b] * w[b];
            }
            w[a] = sum / lower[a][a];
        }
        for (int a = p - 1; a >= 0; a--) {
            double sum = w[a];
            for (int b = a + 1; b < p; b++) {
                sum -= lower[b][a] * w[b];
            }
            w[a] = sum / lower[a][a];
        }
        double[] all = new double[columns.size() + 1];
        double intercept = densities.get(1).logShare() - densities.get(0).logShare();
        for (int a = 0; a < p; a++) {
            all[model.columns().get(a)] = w[a];
            intercept -= w[a] * (first.get(a) + second.get(a)) / 2;
        }
        all[columns.size()] = intercept;
        return Vector.of(all);
    }

    @Override
    public List<ModelPart> supportVectors(SupportVectors model) {
        List<Integer> present = model.present();
        String shape = model.shape().name().toLowerCase(Locale.ROOT);
        List<String> lines = new ArrayList<>();
        if (model.linear()) {
            lines.add("linear kernel");
        } else {
            lines.add(shape + " kernel of width " + ShortNumber.of(model.scale(columns.size()))
                    + (shape.equals("polynomial") ? " and degree " + model.degree() : "") + ", "
                    + model.support().size() + " support vectors");
        }
        for (SupportVectors.Pair pair : model.pairs()) {
            lines.add(labels.get(present.get(pair.second())) + " against " + labels.get(present.get(pair.first()))
                    + ": p = " + ShortNumber.logistic(pair.slope(), "margin", pair.offset()));
        }
        if (!model.linear()) {
            lines.add(NOT_READ_OFF);
        }
        ModelPart machine = ModelPart.ofLines("support vector machine", lines);
        if (!model.linear() || present.size() != 2) {
            return List.of(machine);
        }
        double[] beta = Arrays.copyOf(model.coefficients().get(0).toArray(), columns.size() + 1);
        beta[columns.size()] = model.pairs().get(0).bias();
        return List.of(machine, coefficients().part(List.of(Vector.of(beta)), present, "margin (towards", false));
    }

    // The rest.

    @Override
    public List<ModelPart> columnDensities(ColumnDensities model) {
        List<ModelPart> parts = new ArrayList<>();
        parts.add(shares(
                "class shares", model.logShares().stream().map(StrictMath::exp).toArray()));
        parts.addAll(new DensityTable(columns, labels).parts(model));
        return parts;
    }

    @Override
    public List<ModelPart> nearestRows(NearestRows model) {
        List<String> lines = new ArrayList<>();
        lines.add(model.neighbours() + " neighbours among "
                + model.targets().size() + " training rows, which the model keeps; "
                + model.distance().name().toLowerCase(Locale.ROOT) + " distance, votes "
                + (model.byDistance() ? "by the inverse of the distance" : "alike"));
        lines.add("measured in: " + columns.stream().map(ColumnOrigin::head).collect(Collectors.joining(", ")));
        lines.add("A step of 1 in the distance is, in a column as it is in the data:");
        List<List<Object>> rows = new ArrayList<>();
        for (ColumnOrigin m : columns) {
            if (m.kind() != ColumnOrigin.Kind.CATEGORY) {
                rows.add(List.of(m.head(), 1 / Math.abs(m.slope())));
            }
        }
        if (rows.isEmpty() || model.distance() == NearestRows.Distance.MIXED) {
            lines.remove(lines.size() - 1);
            rows = List.of();
        }
        return List.of(new ModelPart(
                "nearest neighbours", lines, rows.isEmpty() ? List.of() : List.of("column", "one step"), rows));
    }

    @Override
    public List<ModelPart> networkWeights(NetworkWeights model) {
        String shape = columns.size() + " inputs" + (", " + model.units() + " tanh units").repeat(model.layers()) + ", "
                + (model.outputs() == 1 ? "1 logistic output" : model.outputs() + " outputs (softmax)") + "; "
                + model.weights().size() + " weights";
        return List.of(ModelPart.ofLines("network", List.of(shape, NOT_READ_OFF)));
    }

    @Override
    public List<ModelPart> memberVotes(MemberVotes model) {
        List<List<Object>> rows = new ArrayList<>();
        for (int m = 0; m < predictor.members().size(); m++) {
            String name = predictor.memberNames().get(m);
            rows.add(List.of(name, predictor.members().get(m).classifier(), new Share(model.share(m))));
        }
        return List.of(new ModelPart(
                "members, which vote by " + (model.byLabel() ? "label" : "probability"),
                List.of(),
                List.of("member", "classifier", "share of the vote"),
                rows));
    }
}
