package keenfold.core.learned;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Categories;
import keenfold.core.data.Checks;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.State;
import keenfold.core.data.Vector;

/**
 * How often each of some words is in a text, times the weight of the word; a missing text has none. A number column stays. New
 * columns are named {@code column=word}.
 *
 * @param words in small letters, in the order of their columns
 * @param weights of the words
 * @param unitLength whether the numbers of a text are divided by the root of the sum of their squares, unless all are 0
 */
public record WordCounts(List<String> words, Vector weights, boolean unitLength) implements ColumnTransform {
    /** The most words: each is a column of numbers. */
    public static final int MOST = 10_000;

    /** Copies the words. */
    public WordCounts {
        words = List.copyOf(words);
        Checks.that(words.size() <= MOST, "%d words: at most %d are possible", words.size(), MOST);
        Checks.that(words.size() == weights.size(), "%d weights of %d words", weights.size(), words.size());
    }

    @Override
    public List<Column> of(Column column) {
        return column.match(List::of, this::counted);
    }

    private List<Column> counted(Categories column) {
        Map<String, Integer> places = new HashMap<>();
        words.forEach(word -> places.put(word, places.size()));
        double[][] values = new double[words.size()][column.rows()];
        for (int i = 0; i < column.rows(); i++) {
            if (!column.missing(i)) {
                double[] numbers = numbers(column.levels().get(column.code(i)), places);
                for (int k = 0; k < values.length; k++) {
                    values[k][i] = numbers[k];
                }
            }
        }
        List<Column> made = new ArrayList<>();
        for (int k = 0; k < values.length; k++) {
            made.add(Numbers.owning(column.name() + "=" + words.get(k), values[k]));
        }
        return made;
    }

    private double[] numbers(String level, Map<String, Integer> places) {
        double[] numbers = new double[words.size()];
        for (String word : Words.of(level)) {
            Integer place = places.get(word);
            if (place != null) {
                numbers[place]++;
            }
        }
        double squares = 0;
        for (int k = 0; k < numbers.length; k++) {
            numbers[k] *= weights.get(k);
            squares += numbers[k] * numbers[k];
        }
        if (unitLength && squares > 0) {
            double length = StrictMath.sqrt(squares);
            Arrays.setAll(numbers, k -> numbers[k] / length);
        }
        return numbers;
    }

    @Override
    public State state() {
        return State.of("words")
                .withTexts("words", words)
                .with("weights", weights)
                .with("unit-length", unitLength);
    }

    @Override
    public <R> R match(Cases<R> cases) {
        return cases.wordCounts(this);
    }
}
