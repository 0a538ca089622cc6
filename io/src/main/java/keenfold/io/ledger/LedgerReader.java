package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import keenfold.core.data.ValueException;
import keenfold.core.run.result.Fit;
import keenfold.core.run.result.HalfFit;
import keenfold.core.run.result.Results;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ShellWords;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.StoredFits;
import keenfold.io.plan.Plan;
import keenfold.io.sqlite.WriteAheadLog;

/** Reads ledgers; a writer may be at work meanwhile. */
public final class LedgerReader {
    private final Path file;
    private final Connection connection;

    private LedgerReader(Path file, Connection connection) {
        this.file = file;
        this.connection = connection;
    }

    /**
     * Reads a ledger: what its plan compares.
     *
     * @throws InputException if it is none, is of another format, or is damaged
     */
    public static LedgerContent read(Path file) {
        return read(file, false);
    }

    /**
     * Reads a ledger.
     *
     * @param withFormer whether candidates and data sets that are not in the plan any more are read too
     * @throws InputException if it is none, is of another format, or is damaged
     */
    public static LedgerContent read(Path file, boolean withFormer) {
        return opened(file, reader -> reader.content(withFormer));
    }

    /** What is read of an open ledger. */
    private interface Reading<T> {
        T of(LedgerReader reader) throws SQLException;
    }

    private static <T> T opened(Path file, Reading<T> reading) {
        try (Connection connection = LedgerFile.openForReading(file)) {
            LedgerReader reader = new LedgerReader(file, connection);
            try {
                return reading.of(reader);
            } catch (ValueException e) {
                // Whatever is made of the values of a ledger checks them.
                throw reader.hurt(String.valueOf(e.getMessage()));
            }
        } catch (SQLException e) {
            throw LedgerFile.unreadable(file, e);
        }
    }

    /** Returns what was lost of a ledger without the database saying so, in words; none as a rule. */
    public static List<String> damage(Path file) {
        try {
            return WriteAheadLog.isCutShort(file)
                    ? List.of(file + "-wal, the journal that an interrupted writer left, is damaged in the middle: what"
                            + " was written after that is lost; run does those fits again")
                    : List.of();
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }

    /** Reads only the plan of a ledger. */
    public static Plan plan(Path file) {
        return opened(file, reader -> PlanTable.read(reader.connection, file));
    }

    /** Reads only the fingerprints of a ledger's data sets, in plan order. */
    public static List<String> fingerprints(Path file) {
        return opened(file, reader -> DataSetTable.fingerprints(reader.connection));
    }

    /** Returns SHA-256 of the files of the programs that a candidate of the plan started; nothing if it started none. */
    public static Optional<String> program(Path file, String candidate) {
        return opened(file, reader -> CandidateTable.read(reader.connection).stream()
                .filter(c -> c.place().isPresent() && c.name().equals(candidate))
                .findFirst()
                .flatMap(CandidateTable.Row::program));
    }

    /**
     * What is told of a ledger beside its fits.
     *
     * @param events what happened to it, the first one first
     * @param former names of candidates and data sets that are not in the plan any more
     * @param format of the file
     */
    public record Told(List<Event> events, List<String> former, int format) {
        /** Copies the lists. */
        public Told {
            events = List.copyOf(events);
            former = List.copyOf(former);
        }
    }

    /** Reads what happened to a ledger. */
    public static Told history(Path file) {
        return opened(
                file,
                reader -> new Told(
                        HistoryTable.read(reader.connection),
                        LedgerView.of(file, reader.connection, false).former(),
                        LedgerFile.FORMAT));
    }

    /**
     * Reads the fits of runs on halves of the rows, of which there may be ten times as many as of the run itself; only one
     * method of testing needs them.
     *
     * @param withFormer as for {@link #read}
     */
    public static List<HalfFit> halves(Path file, boolean withFormer) {
        return opened(file, reader -> {
            LedgerView view = LedgerView.of(file, reader.connection, withFormer);
            return view.fits().ofHalves(view);
        });
    }

    private LedgerContent content(boolean withFormer) throws SQLException {
        LedgerView view = LedgerView.of(file, connection, withFormer);
        Plan plan = view.plan();
        StoredFits stored = view.fits();
        List<Fit> fits = stored.ofSplits(view);
        int all = stored.count();
        int counted = stored.counted();
        if (counted != all) {
            throw hurt(all + " fits are there, and " + counted + " in their index");
        }
        int splits = view.tasks().stream().mapToInt(t -> t.splits().count()).sum();
        return new LedgerContent(
                plan,
                new Results(view.tasks(), plan.candidates(), fits, plan.seed().orElse(0L), List.of(), view.kept()),
                splits * plan.candidates().size(),
                PlanTable.stated(connection, file),
                HistoryTable.read(connection),
                view.former(),
                PlanTable.last(connection).program(),
                damage(file));
    }

    private InputException hurt(String how) {
        return new InputException(
                file.toString(),
                "the ledger is damaged: " + how + "; keenfold merge "
                        + ShellWords.quoted(file.toString())
                        + " -o NEW.kfl rescues what is sound, and run does the rest");
    }
}
