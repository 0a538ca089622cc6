package keenfold.results;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import keenfold.core.data.Notice;
import keenfold.results.table.ResultTable;

/**
 * What happened to a ledger: versions of its plan, what was added, renamed and forgotten, looks at rows held back, notes.
 *
 * @param ledger the file
 * @param format of the file
 * @param events the first one first
 * @param former names of candidates and data sets that are in the ledger, and not in its plan any more
 */
public record LedgerHistory(String ledger, int format, List<Entry> events, List<String> former) implements Result {
    /** Copies the lists. */
    public LedgerHistory {
        events = List.copyOf(events);
        former = List.copyOf(former);
    }

    /**
     * An event.
     *
     * @param at when, as ISO 8601 in UTC; empty if that is not known
     * @param event what happened
     * @param subject to what
     * @param details more of it
     */
    public record Entry(String at, String event, String subject, String details) {}

    @Override
    public ResultTable table() {
        return ResultTable.<Entry>define()
                .text("at", Entry::at)
                .text("event", Entry::event)
                .text("subject", Entry::subject)
                .text("details", Entry::details)
                .of(events);
    }

    @Override
    public Map<String, Object> document() {
        Map<String, Object> document = new LinkedHashMap<>();
        document.put("ledger", ledger);
        document.put("format", format);
        document.put("not_in_plan", former);
        List<Object> all = new ArrayList<>();
        for (Entry event : events) {
            Map<String, Object> one = new LinkedHashMap<>();
            one.put("at", event.at());
            one.put("event", event.event());
            one.put("subject", event.subject());
            one.put("details", event.details());
            all.add(one);
        }
        document.put("events", all);
        return document;
    }

    @Override
    public List<Notice> notices() {
        return List.of();
    }
}
