package keenfold.io.command;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Column;
import keenfold.core.data.Table;
import keenfold.core.prepare.Training;

/**
 * What a program is asked to do.
 *
 * @param kind of work
 * @param classes labels, in their order
 * @param answered indices of the classes that its answer must name
 * @param training the rows to learn from; none if it learned before
 * @param test the rows to predict; none if it is only to learn
 * @param kept what it learned before; none if it is to learn now
 * @param seed that chance depends on
 */
record Task(
        Kind kind,
        List<String> classes,
        List<Integer> answered,
        Optional<Training> training,
        Optional<Table> test,
        Optional<KeptFiles> kept,
        int seed) {
    /** Kinds of work, as about.json names them. */
    enum Kind {
        /** To learn and to predict, at once. */
        FIT,
        /** To learn, and to keep what it learned. */
        TRAIN,
        /** To predict by what it kept. */
        PREDICT;

        String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    Task {
        classes = List.copyOf(classes);
        answered = List.copyOf(answered);
    }

    /** The columns that rows have. */
    List<Column> columns() {
        return test.or(() -> training.map(Training::table)).map(Table::columns).orElse(List.of());
    }

    static Task fit(Training training, Table test, int seed) {
        return new Task(
                Kind.FIT,
                training.labels(),
                present(training),
                Optional.of(training),
                Optional.of(test),
                Optional.empty(),
                seed);
    }

    static Task train(Training training, int seed) {
        return new Task(
                Kind.TRAIN,
                training.labels(),
                present(training),
                Optional.of(training),
                Optional.empty(),
                Optional.empty(),
                seed);
    }

    /** The classes that have training rows. */
    static List<Integer> present(Training training) {
        double[] weights = training.classWeights();
        return java.util.stream.IntStream.range(0, weights.length)
                .filter(c -> weights[c] > 0)
                .boxed()
                .toList();
    }
}
