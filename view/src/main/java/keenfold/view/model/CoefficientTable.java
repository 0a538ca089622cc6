package keenfold.view.model;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.data.Vector;
import keenfold.core.run.pipeline.ColumnOrigin;

/**
 * Coefficients of prepared columns, led back to the columns and units of the data.
 *
 * @param columns where the prepared columns come from
 * @param labels of the classes
 * @param positive index of the positive class
 */
record CoefficientTable(List<ColumnOrigin> columns, List<String> labels, int positive) {
    /**
     * Coefficients on the scale of the data, the intercept first.
     *
     * @param beta one row a score, the intercept last
     * @param present the classes of the rows; two for one row, which speaks for the second
     * @param odds whether exp(coefficient) means something
     */
    ModelPart part(List<Vector> beta, List<Integer> present, String what, boolean odds) {
        boolean one = beta.size() == 1;
        // Of two classes the positive one is spoken for.
        boolean turned = one && present.size() == 2 && present.get(0) == positive;
        List<String> titles = new ArrayList<>(List.of("column"));
        if (one) {
            titles.add("per unit");
            if (odds) {
                titles.add("odds times");
            }
            titles.add("as prepared");
        } else {
            present.forEach(c -> titles.add(labels.get(c)));
        }
        List<List<Object>> rows = new ArrayList<>();
        double[] intercepts = new double[beta.size()];
        List<Integer> order = IntStream.range(0, columns.size())
                .boxed()
                .sorted(Comparator.comparingDouble((Integer j) ->
                        -beta.stream().mapToDouble(b -> Math.abs(b.get(j))).sum()))
                .toList();
        int zero = 0;
        for (int k = 0; k < beta.size(); k++) {
            intercepts[k] = beta.get(k).get(columns.size());
            for (int j = 0; j < columns.size(); j++) {
                intercepts[k] += beta.get(k).get(j) * columns.get(j).offset();
            }
        }
        List<Object> first = new ArrayList<>(List.of("(intercept)"));
        double sign = turned ? -1 : 1;
        if (one) {
            first.add(sign * intercepts[0]);
            if (odds) {
                first.add(Double.NaN);
            }
            first.add(sign * beta.get(0).get(columns.size()));
        } else {
            Arrays.stream(intercepts).forEach(first::add);
        }
        rows.add(first);
        for (int j : order) {
            ColumnOrigin m = columns.get(j);
            if (beta.stream().allMatch(b -> b.get(j) == 0)) {
                zero++;
                continue;
            }
            List<Object> row = new ArrayList<>(List.of(m.head()));
            for (Vector b : beta) {
                double per = sign * b.get(j) * m.slope();
                row.add(per);
                if (one && odds) {
                    row.add(StrictMath.exp(per));
                }
            }
            if (one) {
                row.add(sign * beta.get(0).get(j));
            }
            rows.add(row);
        }
        List<String> lines = new ArrayList<>();
        if (one) {
            lines.add("per unit of the column as it is in the data; the largest as prepared first");
        }
        if (zero > 0) {
            lines.add(zero + (zero == 1 ? " column has" : " columns have") + " the coefficient 0");
        }
        String of = one ? " " + labels.get(present.get(turned ? 0 : 1)) + ")" : " each class)";
        return new ModelPart(what + of, lines, titles, rows);
    }
}
