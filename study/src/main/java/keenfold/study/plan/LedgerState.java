package keenfold.study.plan;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import keenfold.core.data.Notice;
import keenfold.io.ledger.LedgerContent;
import keenfold.io.ledger.LedgerReader;
import keenfold.results.LedgerHistory;

/** What is to be known of where fits come from. */
public final class LedgerState {
    private LedgerState() {}

    /**
     * Returns what happened to a ledger.
     *
     * @throws keenfold.io.InputException if it is none, or is damaged
     */
    public static LedgerHistory history(Path ledger) {
        LedgerReader.Told told = LedgerReader.history(ledger);
        return new LedgerHistory(
                ledger.toString(),
                told.format(),
                told.events().stream()
                        .map(e -> new LedgerHistory.Entry(e.at(), e.event(), e.subject(), e.details()))
                        .toList(),
                told.former());
    }

    /** Returns what a ledger lacks, and what was lost of it. */
    public static List<Notice> notices(Path ledger, LedgerContent content) {
        List<Notice> state = new ArrayList<>();
        content.damage().forEach(d -> state.add(Notice.plain("ledger-damaged", d)));
        int there = content.results().fits().size();
        if (there < content.expected()) {
            state.add(Notice.of(
                            "fits-missing",
                            "%s holds %d of %d fits of its plan; go on with run, since what lacks a split counts as"
                                    + " failed there",
                            ledger,
                            there,
                            content.expected())
                    .with("fits", there)
                    .with("expected", content.expected()));
        }
        return state;
    }
}
