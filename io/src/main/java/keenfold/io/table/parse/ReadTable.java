package keenfold.io.table.parse;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedMap;
import java.util.TreeMap;
import java.util.stream.Collectors;
import keenfold.core.data.Table;

/**
 * A table as it was read.
 *
 * @param columns in the order of the file
 * @param notices what is odd about the text, one sentence each
 * @param tokens by column, the texts that were taken for missing values, with how often each was
 */
public record ReadTable(
        List<ReadColumn> columns, List<String> notices, Map<String, SortedMap<String, Integer>> tokens) {
    /** Copies the lists. */
    public ReadTable {
        columns = List.copyOf(columns);
        notices = List.copyOf(notices);
        tokens = Map.copyOf(tokens);
    }

    /** Returns the number of rows. */
    public int rows() {
        return columns.get(0).column().rows();
    }

    /** Returns the values alone. */
    public Table table() {
        return new Table(rows(), columns.stream().map(ReadColumn::column).toList());
    }

    /** Says which texts of a column were taken for missing values; nothing if none were but empty ones. */
    public Optional<String> missingTexts(String column) {
        SortedMap<String, Integer> own = tokens.getOrDefault(column, new TreeMap<>());
        return own.isEmpty()
                ? Optional.empty()
                : Optional.of(own.entrySet().stream()
                                .map(e -> "\"" + e.getKey() + "\" (" + e.getValue()
                                        + (e.getValue() == 1 ? " row)" : " rows)"))
                                .collect(Collectors.joining(", "))
                        + " stands for a missing value; if it is a class, say what is missing instead: missing: [\"\"] in a"
                        + " plan, or --missing \"\"");
    }

    /** Returns the columns' names. */
    public List<String> names() {
        return columns.stream().map(c -> c.column().name()).toList();
    }
}
