package keenfold.core.data;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** Names of columns as people write them: {@code A}, or {@code A..B} for all columns from A to B in the order of the table. */
public final class ColumnRange {
    private static final String TO = "..";

    private ColumnRange() {}

    /**
     * Returns the names that are meant, without doubles. A column whose own name has two dots in it is meant by that name.
     *
     * @param asked names and ranges
     * @param columns of the table, in order; an end of a range also stands for the columns that one-hot made of it
     * @return names; one that is neither a column nor a range of columns as it stands
     */
    public static List<String> expanded(Collection<String> asked, List<String> columns) {
        Set<String> all = new LinkedHashSet<>();
        Set<String> known = new HashSet<>(columns);
        for (String name : asked) {
            List<String> range = known.contains(name) ? List.of() : range(name, columns);
            if (range.isEmpty()) {
                all.add(name);
            } else {
                all.addAll(range);
            }
        }
        return new ArrayList<>(all);
    }

    /** The columns of a range; none if it is none. Names may have dots, so that each two of them are tried. */
    private static List<String> range(String text, List<String> columns) {
        for (int at = text.indexOf(TO); at >= 0; at = text.indexOf(TO, at + 1)) {
            String from = text.substring(0, at);
            String to = text.substring(at + TO.length());
            int first = -1;
            int last = -1;
            for (int j = 0; j < columns.size(); j++) {
                if (first < 0 && stands(from, columns.get(j))) {
                    first = j;
                }
                if (stands(to, columns.get(j))) {
                    last = j;
                }
            }
            if (first >= 0 && last >= 0) {
                Checks.that(
                        first <= last,
                        "\"%s\": the second column stands before the first; write the range in the order of the table",
                        text);
                return columns.subList(first, last + 1);
            }
        }
        return List.of();
    }

    private static boolean stands(String end, String column) {
        return column.startsWith(end) && (column.length() == end.length() || column.charAt(end.length()) == '=');
    }
}
