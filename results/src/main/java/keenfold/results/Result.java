package keenfold.results;

import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.table.ResultTable;

/** Something that was found: a table, the same as a document, and what its readers should know. */
public interface Result {
    /** Returns all of it as one table. */
    ResultTable table();

    /**
     * Returns it as an object of JSON: texts, numbers, truths, lists, maps, tables, and empty optionals for null.
     */
    Map<String, Object> document();

    /** Returns what is to be known before it is looked at. */
    default List<Notice> warnings() {
        return List.of();
    }

    /** Returns what else is to be known. */
    List<Notice> notices();
}
