package keenfold.results;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.table.ResultTable;

/**
 * A closer look at scores: one table, whose rows are told apart by data set, candidate and metric.
 *
 * @param evaluation what it was made of
 * @param aspect what is looked at: "by" for rows by something, "look" for other looks
 * @param kind its value
 * @param table of all rows
 * @param more what is to be known besides what is to be known of the fits
 */
public record Look(Evaluation evaluation, String aspect, String kind, ResultTable table, List<Notice> more)
        implements Result {
    /** Copies the list. */
    public Look {
        more = List.copyOf(more);
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put(aspect, kind);
        document.put("rows", table);
        return document;
    }

    @Override
    public List<Notice> notices() {
        List<Notice> notices = new ArrayList<>(evaluation.notices());
        notices.addAll(more);
        return notices;
    }
}
