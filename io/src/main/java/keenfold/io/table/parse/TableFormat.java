package keenfold.io.table.parse;

import java.nio.charset.Charset;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.Checks;
import keenfold.core.data.ColumnRange;

/**
 * How a file is to be read; what is not said is found out.
 *
 * @param separator between fields; found by itself if empty
 * @param missing texts that stand for a missing value
 * @param text columns to be read as categories whatever they hold: names, ranges of names, or {@value #ALL}
 * @param number columns to be read as numbers, names or ranges of names; a word in them is an error
 * @param spared columns that {@value #ALL} does not mean
 * @param decimal what stands before the decimals of a number: a point or a comma
 * @param encoding of the text; UTF-8 if empty
 */
public record TableFormat(
        Optional<Character> separator,
        Set<String> missing,
        Set<String> text,
        Set<String> number,
        Set<String> spared,
        char decimal,
        Optional<Charset> encoding) {
    /** Stands for all columns but those read as numbers; a column of that name is meant where there is one. */
    public static final String ALL = "all";

    /** What stands for a missing value unless the plan says otherwise. */
    public static final List<String> MISSING = List.of("", "NA", "NaN", "?");

    /** Nothing is said. */
    public static final TableFormat PLAIN =
            new TableFormat(Optional.empty(), Set.copyOf(MISSING), Set.of(), Set.of(), '.', Optional.empty());

    /** Copies the sets. */
    public TableFormat {
        missing = Set.copyOf(missing);
        text = Set.copyOf(text);
        number = Set.copyOf(number);
        spared = Set.copyOf(spared);
    }

    /** Returns a format whose {@value #ALL} spares no column. */
    public TableFormat(
            Optional<Character> separator,
            Set<String> missing,
            Set<String> text,
            Set<String> number,
            char decimal,
            Optional<Charset> encoding) {
        this(separator, missing, text, number, Set.of(), decimal, encoding);
    }

    /** Returns the same, whose {@value #ALL} spares some columns. */
    public TableFormat sparing(Set<String> columns) {
        return new TableFormat(separator, missing, text, number, columns, decimal, encoding);
    }

    /**
     * Returns the same with ranges and {@value #ALL} resolved by the columns of a table.
     *
     * @throws IllegalArgumentException if a range runs backwards, or a column is to be both
     */
    public TableFormat of(List<String> columns) {
        Set<String> numbers = new HashSet<>(ColumnRange.expanded(number, columns));
        Set<String> texts = new HashSet<>(ColumnRange.expanded(text, columns));
        texts.stream().filter(numbers::contains).findFirst().ifPresent(both -> {
            throw Checks.wrong("column \"" + both + "\" cannot be read both as text or labels and as a number");
        });
        if (texts.contains(ALL) && !columns.contains(ALL)) {
            texts.remove(ALL);
            columns.stream()
                    .filter(c -> !numbers.contains(c) && !spared.contains(c))
                    .forEach(texts::add);
        }
        return new TableFormat(separator, missing, texts, numbers, spared, decimal, encoding);
    }

    /** Returns the same with more columns read as categories. */
    public TableFormat withText(Set<String> more) {
        Set<String> all = new HashSet<>(text);
        all.addAll(more);
        return new TableFormat(separator, missing, all, number, spared, decimal, encoding);
    }
}
