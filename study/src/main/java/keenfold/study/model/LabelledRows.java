package keenfold.study.model;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import keenfold.core.data.Notice;
import keenfold.io.model.ModelFile;
import keenfold.results.table.NumberFormats;

/** How many rows got each label, and the rows whose class is known, for a score at the end. */
final class LabelledRows {
    private static final int LEAST_TOLD = 20;
    private static final double NOT_FAR = 0.2;

    private final List<String> labels;
    private final int positive;
    private int[] actual = new int[0];
    private double[] probability = new double[0];
    private int count;
    private final long[] labelled;
    private double most;

    LabelledRows(ModelFile model) {
        this.labels = model.classes();
        this.positive = model.predictor().positive();
        this.labelled = new long[labels.size()];
    }

    /** @param ofPositive probability of the positive class */
    void label(int as, double ofPositive) {
        labelled[as]++;
        most = Math.max(most, ofPositive);
    }

    /** Says it where the positive class is never given, though it is not far off. */
    Optional<Notice> never() {
        boolean told = labels.size() == 2
                && labelled[positive] == 0
                && labelled[1 - positive] >= LEAST_TOLD
                && most >= NOT_FAR;
        return told
                ? Optional.of(Notice.of(
                                "never-positive",
                                "no row is labelled \"%s\", the positive class: its probability is %s at most; rank rows by p:%s, or give the candidate a threshold: in the plan",
                                labels.get(positive),
                                NumberFormats.significant(most, 2),
                                labels.get(positive))
                        .with("probability", most))
                : Optional.empty();
    }

    /** How many rows got each label. */
    String counts() {
        return IntStream.range(0, labels.size())
                .mapToObj(c -> labels.get(c) + " " + labelled[c])
                .collect(Collectors.joining(", "));
    }

    void add(int is, double[] p, int from) {
        int classes = labels.size();
        if (count == actual.length) {
            actual = Arrays.copyOf(actual, Math.max(1024, count + count / 2));
            probability = Arrays.copyOf(probability, actual.length * classes);
        }
        System.arraycopy(p, from, probability, count * classes, classes);
        actual[count++] = is;
    }

    int[] actual() {
        return Arrays.copyOf(actual, count);
    }

    double[] probability() {
        return Arrays.copyOf(probability, count * labels.size());
    }
}
