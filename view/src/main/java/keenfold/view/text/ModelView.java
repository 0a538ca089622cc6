package keenfold.view.text;

import java.math.BigDecimal;
import java.math.MathContext;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.State;
import keenfold.core.data.Table;
import keenfold.core.run.Meaning;
import keenfold.core.run.Predictor;

/** What a trained candidate has learned, in the columns and units of its data. */
public final class ModelView {
    private static final int MOST_SHOWN = 6;

    private final Predictor predictor;
    private final List<Meaning> columns;
    private final List<String> labels;
    private final Set<String> dates;
    private final List<Part> parts = new ArrayList<>();

    /** A share of a whole, which is shown with three decimals. */
    public record Share(double value) {}

    /**
     * A part of what was learned: a table, or a few lines.
     *
     * @param title what it is
     * @param lines stand above the table
     * @param columns of the table; none for lines alone
     * @param rows texts, numbers (NaN where nothing is), shares and whole numbers
     */
    public record Part(String title, List<String> lines, List<String> columns, List<List<Object>> rows) {
        /** Copies the lists. */
        public Part {
            lines = List.copyOf(lines);
            columns = List.copyOf(columns);
            rows = List.copyOf(rows);
        }

        /** Returns it as text. */
        public String render(Ink ink) {
            StringBuilder text = new StringBuilder(ink.strong(title) + "\n");
            lines.forEach(l -> text.append(Wrap.lines(l, 2)));
            if (!columns.isEmpty()) {
                TextTable table = TextTable.empty();
                for (int c = 0; c < columns.size(); c++) {
                    int at = c;
                    boolean number =
                            rows.stream().anyMatch(r -> r.get(at) instanceof Number || r.get(at) instanceof Share);
                    // What is indented keeps its left end.
                    boolean indented =
                            rows.stream().anyMatch(r -> r.get(at).toString().startsWith(" "));
                    table.column(
                            columns.get(c),
                            number
                                    ? TextTable.Align.POINT
                                    : c == 0 && !indented ? TextTable.Align.NAME : TextTable.Align.LEFT);
                }
                rows.forEach(r -> table.row(r.stream().map(Part::cell).toList()));
                text.append(table.render(ink));
            }
            return text.toString();
        }

        private static String cell(Object value) {
            if (value instanceof Double number) {
                return number.isNaN() ? "" : Figures.significant(number, 4);
            }
            return value instanceof Share share ? Figures.fixed(share.value, 3) : value.toString();
        }
    }

    private ModelView(Predictor predictor, Table raw, List<String> labels, Set<String> dates) {
        this.predictor = predictor;
        this.columns = Meaning.of(predictor, raw);
        this.labels = labels;
        this.dates = dates;
    }

    /**
     * Returns what was learned, part by part; members follow the one that they are handed to.
     *
     * @param raw the columns of the data, with or without rows
     * @param labels of the classes
     * @param dates names of the number columns that are dates
     */
    public static List<Part> parts(Predictor predictor, Table raw, List<String> labels, Set<String> dates) {
        ModelView view = new ModelView(predictor, raw, labels, dates);
        view.add();
        for (int m = 0; m < predictor.members().size(); m++) {
            String name = predictor.memberNames().get(m);
            for (Part p : parts(predictor.members().get(m), raw, labels, dates)) {
                view.parts.add(new Part("member " + name + ": " + p.title, p.lines, p.columns, p.rows));
            }
        }
        return view.parts;
    }

    private void add() {
        State model = predictor.model().state().orElseThrow();
        switch (model.kind()) {
            case "majority" -> shares("class shares of the training rows", model.numbers("shares"));
            case "one-class" -> {
                double[] shares = new double[labels.size()];
                shares[model.whole("only", 0, shares.length - 1)] = 1;
                shares("the one class that was there", shares);
            }
            case "tree" -> tree(model.part("root"));
            case "forest" -> forest(model);
            case "boosting" -> boosting(model);
            case "logistic" ->
                coefficients(
                        model.rows("coefficients", columns.size() + 1),
                        model.wholes("present", 0, labels.size() - 1),
                        "coefficients (log-odds of",
                        true);
            case "naive-bayes" -> naiveBayes(model);
            case "discriminant" -> discriminant(model);
            case "svm" -> svm(model);
            case "network" -> network(model);
            case "nearest" -> nearest(model);
            case "vote" -> vote(model);
            default -> parts.add(new Part(model.kind(), List.of(), List.of(), List.of()));
        }
        finish();
    }

    private void finish() {
        State state = predictor.state();
        if (state.has("calibration")) {
            List<State> curves = state.part("calibration").parts("curves");
            List<String> lines = new ArrayList<>();
            for (int k = 0; k < curves.size(); k++) {
                String of = labels.get(curves.size() == 1 ? 1 : k);
                State c = curves.get(k);
                lines.add(
                        c.kind().equals("platt")
                                ? "platt, p of " + of + " = "
                                        + logistic(c.number("slope"), "log-odds", c.number("offset"))
                                : "isotonic, p of " + of + ": " + c.numbers("values").length + " steps from "
                                        + number(c.numbers("values")[0]) + " to "
                                        + number(c.numbers("values")[c.numbers("values").length - 1]));
            }
            parts.add(new Part("calibration", lines, List.of(), List.of()));
        }
        predictor
                .threshold()
                .ifPresent(t -> parts.add(new Part(
                        "threshold",
                        List.of(labels.get(predictor.positive()) + " is predicted from the probability " + number(t)
                                + " on"),
                        List.of(),
                        List.of())));
    }

    private static String number(double x) {
        return Double.isFinite(x)
                ? new BigDecimal(x)
                        .round(new MathContext(4))
                        .stripTrailingZeros()
                        .toPlainString()
                : Figures.significant(x, 4);
    }

    /** 1/(1 + exp(−(slope·of + offset))). */
    private static String logistic(double slope, String of, double offset) {
        return "1/(1 + exp(-(" + number(slope) + " * " + of + (offset < 0 ? " - " : " + ") + number(Math.abs(offset))
                + ")))";
    }

    private void shares(String title, double[] shares) {
        List<List<Object>> rows = new ArrayList<>();
        for (int c = 0; c < shares.length; c++) {
            rows.add(List.of(labels.get(c), new Share(shares[c])));
        }
        parts.add(new Part(title, List.of(), List.of("class", "share"), rows));
    }

    // Trees.

    /** What is true of the rows that go to one side of a split. */
    static String condition(Meaning column, double threshold, boolean left, Set<String> dates) {
        return switch (column.kind()) {
            case LEVEL ->
                column.raw() + (left ? " is not " : " is ") + column.levels().get(0);
            case MISSING -> column.raw() + (left ? " is there" : " is missing");
            case NUMBER -> {
                double at = column.raw(threshold);
                yield column.raw()
                        + (left ? " <= " : " > ")
                        + (dates.contains(column.raw())
                                ? java.time.LocalDate.ofEpochDay((long) Math.floor(at + 1e-6))
                                        .toString()
                                : number(at));
            }
            case PLACE -> {
                List<String> low = column.upTo(threshold);
                List<String> of = left
                        ? low
                        : column.levels().stream().filter(l -> !low.contains(l)).toList();
                yield of.size() <= MOST_SHOWN
                        ? column.raw() + " is " + String.join(" or ", of)
                        : column.head() + (left ? " <= " : " > ") + number(column.head(threshold));
            }
            default -> column.head() + (left ? " <= " : " > ") + number(column.head(threshold));
        };
    }

    /**
     * A node of a tree.
     *
     * @param depth how many splits stand above it
     * @param condition what is true of its rows, beside what is of the node above
     * @param weight of its training rows: their number, where all count alike
     * @param shares of the classes
     * @param leaf its number from 1; 0 if it is split
     */
    public record Rule(int depth, String condition, double weight, List<Double> shares, int leaf) {
        /** Copies the shares. */
        public Rule {
            shares = List.copyOf(shares);
        }

        /** Returns the class that has the largest share, the first among equals. */
        public int most() {
            return IntStream.range(0, shares.size()).reduce(0, (a, b) -> shares.get(b) > shares.get(a) ? b : a);
        }
    }

    /** Returns the nodes of a tree, each before those below it, the left side first; nothing for other classifiers. */
    public static List<Rule> rules(Predictor predictor, Table raw, Set<String> dates) {
        State model = predictor.model().state().orElseThrow();
        return model.kind().equals("tree")
                ? rules(model.part("root"), Meaning.of(predictor, raw), predictor.classes(), dates)
                : List.of();
    }

    private static List<Rule> rules(State nodes, List<Meaning> columns, int classes, Set<String> dates) {
        int[] split = nodes.wholes("columns", -1, columns.size() - 1);
        double[] thresholds = nodes.numbers("thresholds");
        double[] weights = nodes.numbers("weights");
        double[] shares = nodes.numbers("shares");
        List<Rule> all = new ArrayList<>();
        Deque<Integer> open = new ArrayDeque<>();
        int[] begun = new int[split.length];
        int leaf = 0;
        for (int i = 0; i < split.length; i++) {
            String condition = "all rows";
            if (i > 0) {
                while (begun[open.element()] == 2) {
                    open.pop();
                }
                int above = open.element();
                boolean left = begun[above]++ == 0;
                condition = condition(columns.get(split[above]), thresholds[above], left, dates);
            }
            int depth = open.size();
            if (split[i] >= 0) {
                open.push(i);
            } else {
                leaf++;
            }
            List<Double> own = Arrays.stream(shares, i * classes, (i + 1) * classes)
                    .boxed()
                    .toList();
            all.add(new Rule(depth, condition, weights[i], own, split[i] >= 0 ? 0 : leaf));
        }
        return all;
    }

    private void tree(State nodes) {
        List<Rule> rules = rules(nodes, columns, labels.size(), dates);
        boolean counts = rules.stream().allMatch(r -> r.weight() == Math.rint(r.weight()));
        List<String> titles = new ArrayList<>(List.of("rule", counts ? "rows" : "weight"));
        titles.addAll(labels);
        titles.add("leaf");
        List<List<Object>> rows = new ArrayList<>();
        for (Rule rule : rules) {
            List<Object> row = new ArrayList<>(List.of("  ".repeat(rule.depth()) + rule.condition()));
            row.add(counts ? (Object) (int) rule.weight() : (Object) rule.weight());
            rule.shares().forEach(share -> row.add(new Share(share)));
            row.add(rule.leaf() == 0 ? "" : rule.leaf() + ": " + labels.get(rule.most()));
            rows.add(row);
        }
        int leaves = rules.get(rules.size() - 1).leaf();
        parts.add(new Part(
                "tree of " + leaves + (leaves == 1 ? " leaf" : " leaves"),
                List.of("each line with the training rows that come to it and their class shares"),
                titles,
                rows));
    }

    private void forest(State model) {
        List<State> roots = model.parts("roots");
        double leaves = roots.stream()
                .mapToDouble(r ->
                        Arrays.stream(r.numbers("columns")).filter(c -> c < 0).count())
                .average()
                .orElse(0);
        importance(
                predictor.model().columnWeights(columns.size()),
                roots.size() + " trees of " + number(leaves) + " leaves on average; a column's share of the decrease of"
                        + " impurity by all splits");
    }

    private void boosting(State model) {
        double[] splits = new double[columns.size()];
        int trees = 0;
        for (State round : model.parts("rounds")) {
            for (State tree : round.parts("trees")) {
                trees++;
                double[] of = tree.numbers("columns");
                double[] left = tree.numbers("left");
                for (int i = 0; i < of.length; i++) {
                    splits[(int) of[i]] += left[i] >= 0 ? 1 : 0;
                }
            }
        }
        importance(
                splits,
                model.parts("rounds").size() + " rounds of "
                        + trees / Math.max(1, model.parts("rounds").size())
                        + (model.numbers("start").length == 1 ? " tree" : " trees") + ", learning rate "
                        + number(model.number("rate")) + "; a column's share of the "
                        + (int) Arrays.stream(splits).sum() + " splits");
    }

    /** Shares by column of the data: what several prepared columns of one have is added up. */
    private void importance(double[] byColumn, String line) {
        Map<String, Double> sums = new LinkedHashMap<>();
        double total = Arrays.stream(byColumn).sum();
        for (int j = 0; j < byColumn.length; j++) {
            Meaning m = columns.get(j);
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
        parts.add(new Part(
                "columns",
                List.of(
                        line,
                        "This is what the model made use of in training, and favours columns of many values; what"
                                + " prediction loses without a column says draw --figure columns."),
                List.of("column", "share", ""),
                rows));
    }

    // Linear ones.

    /**
     * Coefficients on the scale of the data, the intercept first.
     *
     * @param beta one row a score, the intercept last
     * @param present the classes of the rows; two for one row, which speaks for the second
     * @param odds whether exp(coefficient) means something
     */
    private void coefficients(double[][] beta, int[] present, String what, boolean odds) {
        boolean one = beta.length == 1;
        // Of two classes the positive one is spoken for.
        boolean turned = one && present.length == 2 && present[0] == predictor.positive();
        List<String> titles = new ArrayList<>(List.of("column"));
        if (one) {
            titles.add("per unit");
            if (odds) {
                titles.add("odds times");
            }
            titles.add("as prepared");
        } else {
            Arrays.stream(present).forEach(c -> titles.add(labels.get(c)));
        }
        List<List<Object>> rows = new ArrayList<>();
        double[] intercepts = new double[beta.length];
        List<Integer> order = IntStream.range(0, columns.size())
                .boxed()
                .sorted(Comparator.comparingDouble((Integer j) ->
                        -Arrays.stream(beta).mapToDouble(b -> Math.abs(b[j])).sum()))
                .toList();
        int zero = 0;
        for (int k = 0; k < beta.length; k++) {
            intercepts[k] = beta[k][columns.size()];
            for (int j = 0; j < columns.size(); j++) {
                intercepts[k] += beta[k][j] * columns.get(j).offset();
            }
        }
        List<Object> first = new ArrayList<>(List.of("(intercept)"));
        double sign = turned ? -1 : 1;
        if (one) {
            first.add(sign * intercepts[0]);
            if (odds) {
                first.add(Double.NaN);
            }
            first.add(sign * beta[0][columns.size()]);
        } else {
            Arrays.stream(intercepts).forEach(first::add);
        }
        rows.add(first);
        for (int j : order) {
            Meaning m = columns.get(j);
            if (Arrays.stream(beta).allMatch(b -> b[j] == 0)) {
                zero++;
                continue;
            }
            List<Object> row = new ArrayList<>(List.of(m.head()));
            for (double[] b : beta) {
                double per = sign * b[j] * m.slope();
                row.add(per);
                if (one && odds) {
                    row.add(StrictMath.exp(per));
                }
            }
            if (one) {
                row.add(sign * beta[0][j]);
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
        String of = one ? " " + labels.get(present[turned ? 0 : 1]) + ")" : " each class)";
        parts.add(new Part(what + of, lines, titles, rows));
    }

    private void discriminant(State model) {
        int[] inUse = model.wholes("columns", 0, columns.size() - 1);
        int[] present = model.wholes("present", 0, labels.size() - 1);
        List<State> densities = model.parts("densities");
        boolean pooled = densities.stream()
                .allMatch(
                        d -> Arrays.deepEquals(d.rows("lower"), densities.get(0).rows("lower")));
        List<String> titles = new ArrayList<>(List.of("column"));
        for (int c : present) {
            titles.add("mean, " + labels.get(c));
        }
        for (int k = 0; k < (pooled ? 1 : present.length); k++) {
            titles.add(pooled ? "sd" : "sd, " + labels.get(present[k]));
        }
        List<List<Object>> rows = new ArrayList<>();
        for (int a = 0; a < inUse.length; a++) {
            Meaning m = columns.get(inUse[a]);
            List<Object> row = new ArrayList<>(List.of(m.head()));
            for (State d : densities) {
                row.add(m.head(d.numbers("mean")[a]));
            }
            for (State d : pooled ? densities.subList(0, 1) : densities) {
                double squares = 0;
                for (double l : d.rows("lower")[a]) {
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
        if (inUse.length < columns.size()) {
            lines.add((columns.size() - inUse.length) + " prepared columns are determined by others and left out");
        }
        parts.add(new Part("normal densities", lines, titles, rows));
        if (pooled && present.length == 2) {
            coefficients(new double[][] {plane(densities, inUse)}, present, "border (log-odds of", true);
        }
    }

    /** w = Σ⁻¹(m₂ − m₁) by the Cholesky factor, and the intercept last. */
    private double[] plane(List<State> densities, int[] inUse) {
        double[][] lower = densities.get(0).rows("lower");
        double[] first = densities.get(0).numbers("mean");
        double[] second = densities.get(1).numbers("mean");
        int p = inUse.length;
        double[] w = new double[p];
        for (int a = 0; a < p; a++) {
            double sum = second[a] - first[a];
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
        double intercept =
                densities.get(1).number("log-share") - densities.get(0).number("log-share");
        for (int a = 0; a < p; a++) {
            all[inUse[a]] = w[a];
            intercept -= w[a] * (first[a] + second[a]) / 2;
        }
        all[columns.size()] = intercept;
        return all;
    }

    private void svm(State model) {
        int[] present = model.wholes("present", 0, labels.size() - 1);
        String shape = model.text("shape").toLowerCase(Locale.ROOT);
        List<State> pairs = model.parts("pairs");
        double width = model.number("width");
        List<String> lines = new ArrayList<>();
        if (shape.equals("linear")) {
            lines.add("linear kernel");
        } else {
            lines.add(shape + " kernel of width " + number(width > 0 ? width : Math.sqrt(columns.size()))
                    + (shape.equals("polynomial") ? " and degree " + model.whole("degree", 1, 1000) : "") + ", "
                    + model.parts("support").size() + " support vectors");
        }
        for (State pair : pairs) {
            lines.add(labels.get(present[pair.whole("second", 0, present.length - 1)]) + " against "
                    + labels.get(present[pair.whole("first", 0, present.length - 1)]) + ": p = "
                    + logistic(pair.number("slope"), "margin", pair.number("offset")));
        }
        if (!shape.equals("linear")) {
            lines.add("What single columns do cannot be read off it; draw --figure columns says what prediction loses"
                    + " without one.");
        }
        parts.add(new Part("support vector machine", lines, List.of(), List.of()));
        if (shape.equals("linear") && present.length == 2) {
            double[] beta = Arrays.copyOf(model.rows("coefficients")[0], columns.size() + 1);
            beta[columns.size()] = pairs.get(0).number("bias");
            coefficients(new double[][] {beta}, present, "margin (towards", false);
        }
    }

    // The rest.

    private void naiveBayes(State model) {
        double[] prior =
                Arrays.stream(model.numbers("prior")).map(StrictMath::exp).toArray();
        shares("class shares", prior);
        List<State> densities = model.parts("columns");
        List<List<Object>> numbers = new ArrayList<>();
        List<List<Object>> levels = new ArrayList<>();
        List<String> unused = new ArrayList<>();
        for (int j = 0; j < columns.size(); j++) {
            Meaning m = columns.get(j);
            State d = densities.get(j);
            if (d.kind().equals("levels")) {
                levels(m, d, levels);
            } else if (!d.truth("varies")) {
                unused.add(m.head());
            } else if (d.kind().equals("normal")) {
                List<Object> row = new ArrayList<>(List.of(m.head()));
                for (int c = 0; c < labels.size(); c++) {
                    row.add(m.head(d.numbers("mean")[c]));
                    row.add(Math.sqrt(d.numbers("variance")[c]) / Math.abs(m.slope()));
                }
                numbers.add(row);
            } else {
                List<Object> row = new ArrayList<>(List.of(m.head()));
                for (State density : d.parts("densities")) {
                    row.add(m.head(mean(density)));
                    row.add(density.number("width") / Math.abs(m.slope()));
                }
                numbers.add(row);
            }
        }
        boolean kernel = densities.stream().anyMatch(d -> d.kind().equals("kernels"));
        if (!numbers.isEmpty()) {
            List<String> titles = new ArrayList<>(List.of("column"));
            labels.forEach(l -> titles.addAll(List.of("mean, " + l, (kernel ? "width, " : "sd, ") + l)));
            parts.add(new Part(
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
            parts.add(new Part("categories: shares within each class", List.of(), titles, levels));
        }
    }

    private static double mean(State density) {
        double[] values = density.numbers("values");
        double[] weights = density.numbers("weights");
        double sum = 0;
        for (int i = 0; i < values.length; i++) {
            sum += weights[i] * values[i];
        }
        return sum / Arrays.stream(weights).sum();
    }

    private void levels(Meaning m, State density, List<List<Object>> rows) {
        double[][] logs = density.rows("logs");
        for (int l = 0; l < logs.length; l++) {
            if (logs[l].length > 0) {
                List<Object> row = new ArrayList<>(List.of(m.head(), m.levels().get(l)));
                Arrays.stream(logs[l]).forEach(x -> row.add(new Share(StrictMath.exp(x))));
                rows.add(row);
            }
        }
    }

    private void nearest(State model) {
        int[] targets = model.wholes("targets", 0, labels.size() - 1);
        List<String> lines = new ArrayList<>();
        lines.add(model.whole("neighbours", 1, Integer.MAX_VALUE) + " neighbours among "
                + targets.length + " training rows, which the model keeps; "
                + model.text("distance").toLowerCase(Locale.ROOT) + " distance, votes "
                + (model.truth("by-distance") ? "by the inverse of the distance" : "alike"));
        lines.add("measured in: " + columns.stream().map(Meaning::head).collect(Collectors.joining(", ")));
        lines.add("A step of 1 in the distance is, in a column as it is in the data:");
        List<List<Object>> rows = new ArrayList<>();
        for (Meaning m : columns) {
            if (m.kind() != Meaning.Kind.CATEGORY) {
                rows.add(List.of(m.head(), 1 / Math.abs(m.slope())));
            }
        }
        if (rows.isEmpty() || model.text("distance").equals("MIXED")) {
            lines.remove(lines.size() - 1);
            rows = List.of();
        }
        parts.add(new Part(
                "nearest neighbours", lines, rows.isEmpty() ? List.of() : List.of("column", "one step"), rows));
    }

    private void network(State model) {
        int layers = model.whole("layers", 0, 100);
        int units = model.whole("units", 0, 1_000_000);
        int outputs = model.whole("outputs", 1, 1_000_000);
        parts.add(new Part(
                "network",
                List.of(
                        columns.size() + " inputs" + (", " + units + " tanh units").repeat(layers) + ", "
                                + (outputs == 1 ? "1 logistic output" : outputs + " outputs (softmax)") + "; "
                                + model.numbers("weights").length + " weights",
                        "What single columns do cannot be read off it; draw --figure columns says what prediction loses"
                                + " without one."),
                List.of(),
                List.of()));
    }

    private void vote(State model) {
        double[] weights = model.numbers("weights");
        double total = weights.length == 0
                ? predictor.members().size()
                : Arrays.stream(weights).sum();
        List<List<Object>> rows = new ArrayList<>();
        for (int m = 0; m < predictor.members().size(); m++) {
            rows.add(List.of(
                    predictor.memberNames().get(m),
                    predictor.members().get(m).classifier(),
                    new Share((weights.length == 0 ? 1 : weights[m]) / total)));
        }
        parts.add(new Part(
                "members, which vote by " + (model.truth("by-label") ? "label" : "probability"),
                List.of(),
                List.of("member", "classifier", "share of the vote"),
                rows));
    }
}
