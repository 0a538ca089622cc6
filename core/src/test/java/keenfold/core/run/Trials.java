package keenfold.core.run;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import keenfold.core.classify.catalog.ClassifierKinds;
import keenfold.core.data.Categories;
import keenfold.core.data.Classes;
import keenfold.core.data.DataSet;
import keenfold.core.data.Numbers;
import keenfold.core.data.RandomSource;
import keenfold.core.data.Seed;
import keenfold.core.data.Table;
import keenfold.core.metric.catalog.MetricName;
import keenfold.core.prepare.Settings;
import keenfold.core.run.candidate.Candidate;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.Results;
import keenfold.core.run.result.Task;
import keenfold.core.split.Scheme;

/** Small comparisons for tests. */
public final class Trials {
    private Trials() {}

    /** A data set of three normal columns, the first of which tells the classes apart by {@code shift}. */
    public static DataSet data(String name, long seed, int rows, double shift, int groups) {
        RandomSource chance = new Seed(seed).with(name).chance();
        int[] y = new int[rows];
        double[][] x = new double[3][rows];
        String[] group = new String[rows];
        for (int i = 0; i < rows; i++) {
            y[i] = i < 4 ? i % 2 : chance.below(10) < 3 ? 1 : 0;
            for (int j = 0; j < 3; j++) {
                x[j][i] = chance.normal() + (j == 0 ? shift * y[i] : 0);
            }
            group[i] = "g" + (i < groups ? i : chance.below(Math.max(1, groups)));
        }
        return DataSet.of(
                name,
                new Table(rows, List.of(Numbers.of("a", x[0]), Numbers.of("b", x[1]), Numbers.of("c", x[2]))),
                new Classes(List.of("no", "yes"), 1),
                y,
                groups > 0 ? Optional.of(Categories.of("group", group)) : Optional.empty(),
                IntStream.rangeClosed(1, rows).toArray());
    }

    /** A candidate called {@code name}, of a classifier with settings such as {@code neighbours=3}. */
    public static Candidate candidate(String name, String kind, String... settings) {
        Settings all = Settings.none();
        for (String setting : settings) {
            String[] parts = setting.split("=", 2);
            all = all.with(parts[0], parts[1]);
        }
        int slash = name.indexOf('/');
        String family = slash < 0 ? name : name.substring(0, slash);
        List<String> varied = slash < 0 ? List.of() : List.of(settings[0].split("=", 2)[0]);
        return new Candidate(name, family, ClassifierKinds.of(kind).orElseThrow(), all, varied);
    }

    public static Task task(DataSet data, Scheme splits, String... metrics) {
        return Task.of(
                data,
                splits.divide(data, 5),
                Arrays.stream(metrics).map(MetricName::parse).toList());
    }

    /** All fits of a comparison, in order. */
    public static List<Fit> fits(Comparison comparison, int threads) {
        List<Fit> fits = new ArrayList<>();
        Runner.on(Parallel.of(threads)).run(comparison, comparison.units(), (unit, done) -> fits.addAll(done));
        fits.sort(Comparator.comparingInt(Fit::task)
                .thenComparingInt(Fit::candidate)
                .thenComparingInt(Fit::repeat)
                .thenComparingInt(Fit::fold));
        return fits;
    }

    public static Results results(Comparison comparison) {
        return new Results(comparison.tasks(), comparison.candidates(), fits(comparison, 2), comparison.seed());
    }
}
