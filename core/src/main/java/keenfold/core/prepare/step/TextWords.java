package keenfold.core.prepare.step;

import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import keenfold.core.data.Categories;
import keenfold.core.data.CodePoints;
import keenfold.core.data.Column;
import keenfold.core.data.Vector;
import keenfold.core.learned.ColumnTransform;
import keenfold.core.learned.FitFailure;
import keenfold.core.learned.LearnedStep;
import keenfold.core.learned.WordCounts;
import keenfold.core.learned.Words;
import keenfold.core.prepare.About;
import keenfold.core.prepare.Setting;
import keenfold.core.prepare.Setting.Bounds;
import keenfold.core.prepare.Setting.Simpler;
import keenfold.core.prepare.StepKind;
import keenfold.core.prepare.Training;

/**
 * Turns columns of texts into columns of numbers, one for each word of a vocabulary that is learned from the training rows: the
 * words that are in the most of them.
 *
 * @param by what the numbers are
 * @param most words of a column's vocabulary
 * @param rows the least training rows that a word of it is in
 */
record TextWords(By by, int most, int rows, Some some) implements StepOnSome {
    private static final String NAME = "words";
    private static final Setting COLUMNS = Setting.names("columns", "the columns of texts; required");
    private static final Setting BY = Setting.word(
            "by",
            "counts",
            List.of("counts", "tf-idf"),
            "how often the word is in the text, or that with rare words counting more, texts scaled to length 1");
    private static final Setting MOST = new Setting(
            "most",
            Setting.Type.WHOLE,
            "100",
            Bounds.from(1).to(WordCounts.MOST),
            List.of(),
            Simpler.LOWER,
            "most words of a column");
    private static final Setting ROWS = Setting.whole("rows", 2, 1, Simpler.HIGHER, "least training rows with a word");

    /** The kind. */
    static final StepKind KIND = new StepKind(
            NAME,
            "turns texts into counts of their words",
            new About(
                    "words are runs of letters, digits and marks on them, in small letters. The vocabulary: of the words in at"
                            + " least so many training rows, those in the most (ties by code point). tf-idf: count x"
                            + " ln(N/n), N training rows, n of them with the word, then the numbers of a text divided by the"
                            + " root of the sum of their squares. A missing text has no words; words outside the vocabulary"
                            + " count for nothing",
                    "",
                    "Manning, Raghavan and Schütze (2008), Introduction to Information Retrieval, sections 6.2 to 6.4"),
            false,
            List.of(COLUMNS, BY, MOST, ROWS),
            s -> new TextWords(
                    s.constant(BY, By.class),
                    s.whole(MOST),
                    s.whole(ROWS),
                    new Some(Keep.named(NAME, s, COLUMNS).names())));

    /** What the numbers are. */
    enum By {
        COUNTS,
        TF_IDF
    }

    @Override
    public boolean makesColumns() {
        return true;
    }

    @Override
    public LearnedStep fit(Training training) {
        Some own = some.in(training.table());
        return new LearnedStep.ColumnByColumn(training.table().columns().stream()
                .map(c -> own.has(c.name()) ? transform(c, training) : ColumnTransform.KEEP)
                .toList());
    }

    private ColumnTransform transform(Column column, Training training) {
        return column.match(
                n -> {
                    throw new FitFailure(String.format(
                            Locale.ROOT,
                            "%s: column \"%s\" holds numbers; read it as text by text: in the plan",
                            NAME,
                            n.name()));
                },
                k -> vocabulary(k, training));
    }

    private ColumnTransform vocabulary(Categories column, Training training) {
        double[] ofLevel = new double[column.levels().size()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                ofLevel[column.code(i)] += training.weight(i);
            }
        }
        Map<String, Double> rowsWith = new TreeMap<>(CodePoints.ORDER);
        for (int level = 0; level < ofLevel.length; level++) {
            double weight = ofLevel[level];
            if (weight > 0) {
                new HashSet<>(Words.of(column.levels().get(level)))
                        .forEach(word -> rowsWith.merge(word, weight, Double::sum));
            }
        }
        // A stable sort, so that ties stay in the order of code points.
        List<String> words = rowsWith.entrySet().stream()
                .filter(e -> e.getValue() >= rows)
                .sorted(Map.Entry.<String, Double>comparingByValue().reversed())
                .limit(most)
                .map(Map.Entry::getKey)
                .sorted(CodePoints.ORDER)
                .toList();
        double all = training.totalWeight();
        double[] weights = words.stream()
                .mapToDouble(w -> by == By.COUNTS ? 1 : StrictMath.log(all / rowsWith.getOrDefault(w, all)))
                .toArray();
        return new WordCounts(words, Vector.of(weights), by == By.TF_IDF);
    }
}
