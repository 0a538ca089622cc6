package keenfold.io.table.parse;

import java.nio.charset.Charset;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * How a file is to be read; what is not said is found out.
 *
 * @param separator between fields; found by itself if empty
 * @param missing texts that stand for a missing value
 * @param text columns to be read as categories whatever they hold
 * @param number columns to be read as numbers; a word in them is an error
 * @param decimal what stands before the decimals of a number: a point or a comma
 * @param encoding of the text; UTF-8 if empty
 */
public record TableFormat(
        Optional<Character> separator,
        Set<String> missing,
        Set<String> text,
        Set<String> number,
        char decimal,
        Optional<Charset> encoding) {
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
    }

    /** Returns the same with more columns read as categories. */
    public TableFormat withText(Set<String> more) {
        Set<String> all = new java.util.HashSet<>(text);
        all.addAll(more);
        return new TableFormat(separator, missing, all, number, decimal, encoding);
    }
}
