package keenfold.io.pmml;

import static keenfold.io.pmml.Expression.apply;
import static keenfold.io.pmml.Expression.literal;
import static keenfold.io.pmml.Expression.ref;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Checks;
import keenfold.core.data.Vector;
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

/**
 * Adds to a chain the models of the standard that do what a learned model does; the last of them gives the probabilities. A
 * model that the standard has no form for is refused with the reason.
 */
final class ModelForm implements LearnedModel.Cases<ModelChain> {
    private final ModelChain chain;
    private final List<Field> columns;

    private ModelForm(ModelChain chain, List<Field> columns) {
        this.chain = chain;
        this.columns = columns;
    }

    /** @param columns that the model is handed */
    static void add(LearnedModel model, List<Field> columns, ModelChain chain) {
        model.match(new ModelForm(chain, columns));
    }

    @Override
    public ModelChain classShares(ClassShares model) {
        chain.addConstant(model.shares().toArray());
        return chain;
    }

    @Override
    public ModelChain outsideModel(OutsideModel model) {
        throw Checks.wrong("a model of the classifier \"" + model.of()
                + "\", which is not Keen Fold's own, has no form in the standard");
    }

    @Override
    public ModelChain singleClass(SingleClass model) {
        return only(model.only());
    }

    private ModelChain only(int c) {
        double[] shares = new double[chain.labels().size()];
        shares[c] = 1;
        chain.addConstant(shares);
        return chain;
    }

    @Override
    public ModelChain logisticCoefficients(LogisticCoefficients model) {
        if (model.present().size() == 1) {
            return only(model.present().get(0));
        }
        List<Map<String, Double>> terms = new ArrayList<>();
        List<Double> intercepts = new ArrayList<>();
        for (Vector row : model.coefficients()) {
            terms.add(terms(row));
            intercepts.add(row.get(columns.size()));
        }
        chain.addLinear(model.present(), terms, intercepts, 1);
        return chain;
    }

    /** The coefficients of columns by field, but those that are 0. */
    private Map<String, Double> terms(Vector row) {
        Map<String, Double> own = new LinkedHashMap<>();
        for (int j = 0; j < columns.size(); j++) {
            if (row.get(j) != 0) {
                own.merge(columns.get(j).name(), row.get(j), Double::sum);
            }
        }
        return own;
    }

    /** With z = L⁻¹(x − mean) of each class, its score is a constant less half the sum of squares of z. */
    @Override
    public ModelChain normalDensities(NormalDensities model) {
        Checks.that(model.densities().size() > 1, "discriminant of one class");
        List<Map<String, Double>> terms = new ArrayList<>();
        List<Double> intercepts = new ArrayList<>();
        for (int k = 0; k < model.densities().size(); k++) {
            NormalDensities.Density density = model.densities().get(k);
            String label = chain.labels().get(model.present().get(k));
            Map<String, Double> own = new LinkedHashMap<>();
            whitened(model.columns(), density, label).forEach(name -> own.put(name, -0.5));
            terms.add(own);
            intercepts.add(density.logShare() - density.logRoot());
        }
        chain.addLinear(model.present(), terms, intercepts, 2);
        return chain;
    }

    private List<String> whitened(List<Integer> inUse, NormalDensities.Density density, String label) {
        List<String> z = new ArrayList<>();
        for (int a = 0; a < inUse.size(); a++) {
            Vector lower = density.lower().get(a);
            List<Expression> parts = new ArrayList<>();
            Expression x = ref(columns.get(inUse.get(a)).name());
            parts.add(apply("-", x, literal(density.mean().get(a))));
            for (int b = 0; b < a; b++) {
                if (lower.get(b) != 0) {
                    parts.add(apply("*", literal(-lower.get(b)), ref(z.get(b))));
                }
            }
            Expression made = apply("/", Expression.sum(parts), literal(lower.get(a)));
            z.add(chain.fields().number("z " + (a + 1) + " of " + label, made));
        }
        return z;
    }

    @Override
    public ModelChain nearestRows(NearestRows model) {
        throw Checks.wrong("nearest has no form in PMML: its neighbours are exactly so many rows,"
                + " whichever of equally near ones, and it leaves their probabilities open");
    }

    @Override
    public ModelChain columnDensities(ColumnDensities model) {
        new ColumnDensitiesForm(chain, model, columns).add();
        return chain;
    }

    @Override
    public ModelChain classTree(ClassTree model) {
        chain.add(new TreeForm(chain, columns).tree(model.nodes()));
        return chain;
    }

    @Override
    public ModelChain classForest(ClassForest model) {
        TreeForm form = new TreeForm(chain, columns);
        chain.add(Segment.several(
                "average", true, model.trees().stream().map(form::tree).toList()));
        return chain;
    }

    @Override
    public ModelChain boostedTrees(BoostedTrees model) {
        TreeForm form = new TreeForm(chain, columns);
        List<Expression> scores = new ArrayList<>();
        for (int k = 0; k < model.start().size(); k++) {
            int place = k;
            Expression start = literal(model.start().get(k));
            List<Segment> trees =
                    model.rounds().stream().map(r -> form.values(r.get(place))).toList();
            if (trees.isEmpty()) {
                scores.add(start);
                continue;
            }
            String sum = chain.fields().put("sum of trees " + (k + 1));
            chain.add(Segment.several("sum", false, trees).with(List.of(Segment.Output.predicted(sum))));
            scores.add(apply("+", ref(sum), start));
        }
        chain.addSoftmax(model.present(), scores);
        return chain;
    }

    @Override
    public ModelChain supportVectors(SupportVectors model) {
        Checks.that(
                model.present().size() == 2,
                "svm of %d classes has no form in PMML: its votes of pairs give no probabilities, and those of Keen Fold"
                        + " solve a system of equations",
                model.present().size());
        SupportVectors.Pair pair = model.pairs().get(0);
        String f = chain.fields().put("margin");
        if (model.linear()) {
            // The standard's machine of coefficients is read by few programs, a linear model by all.
            chain.addLinearNumber(f, terms(model.coefficients().get(0)), pair.bias());
        } else {
            chain.add(new KernelMachineForm(model, columns).margin(f));
        }
        Expression line = apply("+", apply("*", literal(pair.slope()), ref(f)), literal(pair.offset()));
        // As Keen Fold does, so that no row is ever certain.
        Expression share = Expression.within(1e-7, 1 - 1e-7, Expression.logistic(line));
        chain.addPlain(
                model.present().stream().map(chain.labels()::get).toList(),
                List.of(apply("-", literal(1), share), share),
                "none");
        return chain;
    }

    @Override
    public ModelChain networkWeights(NetworkWeights model) {
        chain.add(new NetworkForm(chain, model, columns).network());
        return chain;
    }

    @Override
    public ModelChain memberVotes(MemberVotes model) {
        int classes = chain.labels().size();
        List<List<Expression>> sums = new ArrayList<>();
        chain.labels().forEach(l -> sums.add(new ArrayList<>()));
        for (int m = 0; m < model.members(); m++) {
            List<Expression> own = new ArrayList<>();
            for (int c = 0; c < classes; c++) {
                own.add(ref(columns.get(m * classes + c).name()));
            }
            for (int c = 0; c < classes; c++) {
                Expression voice = model.byLabel() ? most(own, c) : own.get(c);
                sums.get(c).add(apply("*", literal(model.weight(m)), voice));
            }
        }
        chain.addPlain(
                chain.labels(),
                sums.stream()
                        .map(voices -> apply("/", Expression.sum(voices), literal(model.totalWeight())))
                        .toList(),
                "none");
        return chain;
    }

    /** 1 where a class is the most probable one, the first among equals; 0 elsewhere. */
    private static Expression most(List<Expression> own, int c) {
        List<Expression> all = new ArrayList<>();
        for (int d = 0; d < own.size(); d++) {
            if (d != c) {
                all.add(apply(d < c ? "greaterThan" : "greaterOrEqual", own.get(c), own.get(d)));
            }
        }
        return apply("if", all.size() == 1 ? all.get(0) : apply("and", all), literal(1), literal(0));
    }
}
