package keenfold.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.classify.ClassifierKind;
import keenfold.core.classify.Model;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Classes;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.Metric;
import keenfold.core.metric.Outcomes;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.prepare.Training;

/**
 * How well classifiers do with some settings on the tables of {@link VariedTable}: each is trained on several draws of rows
 * and scored on {@value #TESTED} others. Prints accuracy, auc and log-loss, means over draws, as a table of Markdown.
 */
public final class PresetStudy {
    private static final int TESTED = 4000;
    private static final int DRAWS = 4;
    private static final int FEWER_DRAWS = 2;
    private static final int MANY_ROWS = 1200;
    private static final List<String> METRICS = List.of("accuracy", "auc", "log-loss");

    private PresetStudy() {}

    /**
     * Runs it.
     *
     * @param arguments classifiers as {@code KIND[:SETTING=VALUE...]}
     */
    public static void main(String[] arguments) {
        List<List<double[]>> all = VariedTable.ALL.parallelStream()
                .map(table ->
                        Arrays.stream(arguments).map(a -> scores(table, a)).toList())
                .toList();
        System.out.println(Arrays.stream(arguments).collect(Collectors.joining("` | `", "| table | `", "` |")));
        System.out.println("|---" + "|---".repeat(arguments.length) + "|");
        for (int t = 0; t < all.size(); t++) {
            VariedTable table = VariedTable.ALL.get(t);
            System.out.printf(
                    Locale.ROOT,
                    "| %s %dx%dx%d | %s |%n",
                    table.name(),
                    table.rows(),
                    table.columns(),
                    table.classes(),
                    all.get(t).stream().map(PresetStudy::text).collect(Collectors.joining(" | ")));
        }
        System.out.println(IntStream.range(0, arguments.length)
                .mapToObj(a -> text(IntStream.range(0, METRICS.size())
                        .mapToDouble(m -> all.stream()
                                .mapToDouble(of -> of.get(a)[m])
                                .average()
                                .orElse(Double.NaN))
                        .toArray()))
                .collect(Collectors.joining(" | ", "| mean | ", " |")));
    }

    private static String text(double[] scores) {
        return String.format(Locale.ROOT, "%.3f %.3f %.3f", scores[0], scores[1], scores[2]);
    }

    /** Returns accuracy, auc and log-loss of a classifier, trained on rows of a table. */
    static double[] scores(VariedTable table, String classifier) {
        String[] words = classifier.split(":");
        Settings settings = Settings.none();
        for (int k = 1; k < words.length; k++) {
            String[] setting = words[k].split("=");
            settings = settings.with(setting[0], setting[1]);
        }
        ClassifierKind kind = ClassifierKinds.of(words[0]).orElseThrow();
        int draws = table.rows() > MANY_ROWS ? FEWER_DRAWS : DRAWS;
        double[] sums = new double[METRICS.size()];
        for (int draw = 0; draw < draws; draw++) {
            Training training = table.training(draw);
            Training test = table.test(TESTED);
            double[][] scale = scale(training.table());
            Model model = kind.make(settings)
                    .fit(
                            training.with(scaled(training.table(), scale)),
                            new Seed(draw).with("fit").chance());
            Outcomes outcomes = Outcomes.of(
                    table.classes(),
                    0,
                    IntStream.range(0, TESTED).toArray(),
                    test.targets(),
                    model.probabilities(scaled(test.table(), scale)));
            for (int m = 0; m < sums.length; m++) {
                sums[m] += metric(METRICS.get(m), table.classes()).score(outcomes) / draws;
            }
        }
        return sums;
    }

    private static Metric metric(String name, int classes) {
        List<String> labels = IntStream.range(0, classes)
                .mapToObj(c -> String.format(Locale.ROOT, "class%02d", c))
                .toList();
        return MetricName.parse(name).bind(new Classes(labels, classes - 1), new int[classes]);
    }

    /** Returns mean and deviation of each column. */
    private static double[][] scale(Table table) {
        return Arrays.stream(Training.columns(table))
                .map(x -> {
                    double mean = Arrays.stream(x).average().orElse(0);
                    double squares =
                            Arrays.stream(x).map(v -> (v - mean) * (v - mean)).sum();
                    return new double[] {mean, squares > 0 ? Math.sqrt(squares / x.length) : 1};
                })
                .toArray(double[][]::new);
    }

    private static Table scaled(Table table, double[][] scale) {
        double[][] x = Training.columns(table);
        List<Column> made = new ArrayList<>();
        for (int j = 0; j < x.length; j++) {
            double[] of = scale[j];
            made.add(Numbers.of(
                    "x" + j, Arrays.stream(x[j]).map(v -> (v - of[0]) / of[1]).toArray()));
        }
        return new Table(table.rows(), made);
    }
}
