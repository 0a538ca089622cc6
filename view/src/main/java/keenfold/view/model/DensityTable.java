package keenfold.view.model;

import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnDensities;
import keenfold.core.run.pipeline.ColumnOrigin;
import keenfold.view.model.ModelPart.Share;

/** The densities of a naive Bayes classifier, in the units of the data. */
final class DensityTable {
    private final List<ColumnOrigin> columns;
    private final List<String> labels;
    private final List<List<Object>> numbers = new ArrayList<>();
    private final List<List<Object>> levels = new ArrayList<>();
    private final List<String> unused = new ArrayList<>();

    /**
     * @param columns where the prepared columns come from
     * @param labels of the classes
     */
    DensityTable(List<ColumnOrigin> columns, List<String> labels) {
        this.columns = columns;
        this.labels = labels;
    }

    List<ModelPart> parts(ColumnDensities model) {
        for (int j = 0; j < columns.size(); j++) {
            ColumnOrigin m = columns.get(j);
            model.columns().get(j).<Boolean>match(n -> normals(m, n), k -> kernels(m, k), l -> levels(m, l));
        }
        boolean kernel = model.columns().stream().anyMatch(ColumnDensities.Kernels.class::isInstance);
        List<ModelPart> parts = new ArrayList<>();
        if (!numbers.isEmpty()) {
            List<String> titles = new ArrayList<>(List.of("column"));
            labels.forEach(l -> titles.addAll(List.of("mean, " + l, (kernel ? "width, " : "sd, ") + l)));
            parts.add(new ModelPart(
                    kernel ? "numbers: kernel densities" : "numbers: normal densities",
                    unused.isEmpty()
                            ? List.of()
                            : List.of("does not vary, and is left out: " + String.join(", ", unused)),
                    titles,
                    numbers));
        }
        if (!levels.isEmpty()) {
            List<String> titles = new ArrayList<>(List.of("column", "level"));
            titles.addAll(labels);
            parts.add(new ModelPart("categories: shares within each class", List.of(), titles, levels));
        }
        return parts;
    }

    private boolean normals(ColumnOrigin m, ColumnDensities.Normals density) {
        if (!density.varies()) {
            return unused.add(m.head());
        }
        List<Object> row = new ArrayList<>(List.of(m.head()));
        for (int c = 0; c < labels.size(); c++) {
            row.add(m.head(density.mean().get(c)));
            row.add(Math.sqrt(density.variance().get(c)) / Math.abs(m.slope()));
        }
        return numbers.add(row);
    }

    private boolean kernels(ColumnOrigin m, ColumnDensities.Kernels density) {
        if (!density.varies()) {
            return unused.add(m.head());
        }
        List<Object> row = new ArrayList<>(List.of(m.head()));
        for (ColumnDensities.Kernel kernel : density.densities()) {
            row.add(m.head(kernel.mean()));
            row.add(kernel.width() / Math.abs(m.slope()));
        }
        return numbers.add(row);
    }

    private boolean levels(ColumnOrigin m, ColumnDensities.LevelShares density) {
        for (int l = 0; l < density.logs().size(); l++) {
            Vector logs = density.logs().get(l);
            if (logs.size() > 0) {
                List<Object> row = new ArrayList<>(List.of(m.head(), m.levels().get(l)));
                logs.stream().forEach(x -> row.add(new Share(StrictMath.exp(x))));
                levels.add(row);
            }
        }
        return true;
    }
}
