package keenfold.io.pmml;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import keenfold.core.data.Checks;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnDensities;

/** A naive Bayes classifier as a model of the standard. */
final class ColumnDensitiesForm {
    private final ModelChain chain;
    private final ColumnDensities model;
    private final List<Field> columns;
    private final List<Integer> present;
    private final List<Consumer<Xml>> inputs = new ArrayList<>();
    private final Set<String> used = new LinkedHashSet<>();

    ColumnDensitiesForm(ModelChain chain, ColumnDensities model, List<Field> columns) {
        this.chain = chain;
        this.model = model;
        this.columns = columns;
        this.present = model.present();
    }

    void add() {
        double[] shares = model.logShares().stream().map(StrictMath::exp).toArray();
        for (int j = 0; j < columns.size(); j++) {
            Field column = columns.get(j);
            model.columns()
                    .get(j)
                    .<Boolean>match(n -> normal(n, column), ColumnDensitiesForm::kernels, l -> levels(l, column));
        }
        if (inputs.isEmpty()) {
            chain.addConstant(shares);
            return;
        }
        String target = chain.fields().target();
        chain.add(Segment.classifier("NaiveBayesModel", List.of("threshold", 0), used, xml -> {
            xml.open("BayesInputs");
            inputs.forEach(i -> i.accept(xml));
            xml.close();
            xml.open("BayesOutput", "fieldName", target);
            counts(xml, shares);
            xml.close();
        }));
    }

    private static boolean kernels(ColumnDensities.Kernels density) {
        throw Checks.wrong("naive-bayes with kernel densities has no form in PMML:"
                + " it has normal ones for numbers, and no kernels");
    }

    private boolean normal(ColumnDensities.Normals density, Field column) {
        if (!density.varies()) {
            return false;
        }
        used.add(column.name());
        return inputs.add(xml -> {
            xml.open("BayesInput", "fieldName", column.name()).open("TargetValueStats");
            for (int c : present) {
                xml.open("TargetValueStat", "value", chain.labels().get(c))
                        .leaf(
                                "GaussianDistribution",
                                "mean",
                                density.mean().get(c),
                                "variance",
                                density.variance().get(c))
                        .close();
            }
            xml.close().close();
        });
    }

    private boolean levels(ColumnDensities.LevelShares density, Field column) {
        List<Vector> logs = density.logs();
        int[] seen = IntStream.range(0, Math.min(logs.size(), column.levels().size()))
                .filter(l -> logs.get(l).size() > 0)
                .toArray();
        if (seen.length == 0) {
            return false;
        }
        for (int c : present) {
            for (int level : seen) {
                Checks.that(
                        StrictMath.exp(logs.get(level).get(c)) > 0,
                        "naive-bayes: class \"%s\" has no \"%s\" in \"%s\", and without pseudo-counts that rules it out;"
                                + " PMML has no form for a row that every class is ruled out for",
                        chain.labels().get(c),
                        column.levels().get(level),
                        column.column());
            }
        }
        // A level that had no training row says nothing, as a missing value does.
        Expression known = new Expression(Set.of(column.name()), xml -> {
            xml.open("MapValues", "outputColumn", "known", "dataType", "string");
            xml.leaf("FieldColumnPair", "field", column.name(), "column", "level");
            xml.open("InlineTable");
            for (int level : seen) {
                String text = column.levels().get(level);
                StepForm.row(xml, "level", text, "known", text);
            }
            xml.close().close();
        });
        String field = chain.fields().category("known(" + column.column() + ")", known);
        used.add(field);
        return inputs.add(xml -> {
            xml.open("BayesInput", "fieldName", field);
            for (int level : seen) {
                xml.open("PairCounts", "value", column.levels().get(level));
                counts(xml, logs.get(level).stream().map(StrictMath::exp).toArray());
                xml.close();
            }
            xml.close();
        });
    }

    private void counts(Xml xml, double[] shares) {
        xml.open("TargetValueCounts");
        for (int c : present) {
            xml.leaf("TargetValueCount", "value", chain.labels().get(c), "count", shares[c]);
        }
        xml.close();
    }
}
