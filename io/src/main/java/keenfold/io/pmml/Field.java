package keenfold.io.pmml;

import java.util.List;

/**
 * A column as the document knows it.
 *
 * @param name of the field
 * @param column the name that the column has in Keen Fold
 * @param numeric whether it holds numbers
 * @param levels of a category in the order of their codes; empty for numbers
 */
record Field(String name, String column, boolean numeric, List<String> levels) {
    Field {
        levels = List.copyOf(levels);
    }
}
