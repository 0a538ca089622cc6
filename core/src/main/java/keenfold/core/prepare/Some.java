package keenfold.core.prepare;

import java.util.List;

/**
 * The columns that a step works on.
 *
 * @param names of columns, or of those they were made of by one-hot; none stands for all columns
 */
record Some(List<String> names) {
    Some {
        names = List.copyOf(names);
    }

    static Setting setting() {
        return Setting.names("columns", "the columns that it works on; all that it can, if left out");
    }

    boolean has(String column) {
        return names.isEmpty() || names(column);
    }

    /** Whether a name stands here; {@code colour} also stands for {@code colour=red}. */
    boolean names(String column) {
        return names.stream().anyMatch(n -> column.equals(n) || column.startsWith(n + "="));
    }
}
