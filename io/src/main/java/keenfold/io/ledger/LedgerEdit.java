package keenfold.io.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import keenfold.core.data.Checks;
import keenfold.core.data.Plural;
import keenfold.core.data.Suggestion;
import keenfold.core.data.ValueException;
import keenfold.io.InputException;
import keenfold.io.Reason;
import keenfold.io.ledger.table.CandidateTable;
import keenfold.io.ledger.table.DataSetTable;
import keenfold.io.ledger.table.Event;
import keenfold.io.ledger.table.HistoryTable;
import keenfold.io.ledger.table.PlanTable;
import keenfold.io.ledger.table.PlanVersion;
import keenfold.io.plan.Plan;
import keenfold.io.plan.PlanEdit;
import keenfold.io.plan.PlanReader;

/** Changes to a ledger that make no fit: notes, other names, and taking away what is not wanted any more. */
public final class LedgerEdit {
    private final Path file;
    private final Instant now;

    /**
     * @param file a ledger
     * @param now the time that is written beside a change
     */
    public LedgerEdit(Path file, Instant now) {
        this.file = file;
        this.now = now;
    }

    /** A change to an open ledger. */
    private interface Change<T> {
        T make(WritableLedger open) throws SQLException;
    }

    private <T> T changed(Change<T> change) {
        try (WritableLedger open = WritableLedger.of(file)) {
            return change.make(open);
        } catch (ValueException e) {
            throw new InputException(file.toString(), String.valueOf(e.getMessage()), e);
        } catch (SQLException e) {
            throw LedgerFile.unusable(file, e);
        }
    }

    /**
     * Adds a note.
     *
     * @throws InputException if the text is blank, or the ledger cannot be written
     */
    public void note(String text) {
        changed(open -> {
            Checks.that(!text.isBlank(), "a note without words");
            HistoryTable.add(open.connection(), Event.of(now, Event.NOTE, "", text.strip()));
            open.commit();
            return true;
        });
    }

    /**
     * Calls the candidates of an entry of the plan otherwise, or one that is not in the plan any more ({@code NAME@N}).
     *
     * @throws InputException if there is no such candidate, or the new name cannot be one or is taken
     */
    public void rename(String from, String to) {
        changed(open -> {
            Connection connection = open.connection();
            LedgerView view = LedgerView.of(file, connection, false);
            List<CandidateTable.Row> rows = CandidateTable.read(connection);
            List<CandidateTable.Row> former = rows.stream()
                    .filter(r -> r.place().isEmpty() && LedgerView.formerName(r).equals(from))
                    .toList();
            if (former.isEmpty()) {
                renameInPlan(connection, view.plan(), rows, from, to);
            } else {
                PlanReader.plainName(to);
                Checks.that(
                        rows.stream().noneMatch(r -> r.name().equals(to)),
                        "there is a candidate called \"%s\" already",
                        to);
                CandidateTable.Row row = former.get(0);
                CandidateTable.rename(connection, row.id(), to, to);
            }
            HistoryTable.add(connection, Event.of(now, Event.RENAMED, from, "to " + to));
            open.commit();
            return true;
        });
    }

    private void renameInPlan(Connection connection, Plan plan, List<CandidateTable.Row> rows, String from, String to)
            throws SQLException {
        List<String> families =
                plan.candidates().stream().map(c -> c.family()).distinct().toList();
        if (!families.contains(from)) {
            plan.candidates().stream()
                    .filter(c -> c.name().equals(from))
                    .findFirst()
                    .ifPresent(c -> {
                        throw Checks.wrong(String.format(
                                "\"%s\" is a member of \"%s\", an entry of the plan; give that another name",
                                from, c.family()));
                    });
            throw Checks.wrong("no candidate is called \"" + from + "\"" + Suggestion.hint(from, families));
        }
        Plan renamed = PlanEdit.renamed(plan, from, to);
        CandidateTable.place(connection, version(connection, renamed), renamed.candidates(), ids(rows));
        placeDataSets(connection, renamed);
    }

    /**
     * Calls a data set otherwise.
     *
     * @throws InputException if there is no such data set in the plan, or the new name cannot be one or is taken
     */
    public void renameDataSet(String from, String to) {
        changed(open -> {
            Connection connection = open.connection();
            Plan plan = LedgerView.of(file, connection, false).plan();
            List<DataSetTable.Row> sets = DataSetTable.read(connection);
            List<String> names = plan.data().stream().map(d -> d.name()).toList();
            Checks.that(names.contains(from), "no data set is called \"%s\"%s", from, Suggestion.hint(from, names));
            Checks.that(
                    sets.stream().noneMatch(s -> s.name().equals(to)), "there is a data set called \"%s\" already", to);
            Plan renamed = PlanEdit.renamedDataSet(plan, from, to);
            int version = version(connection, renamed);
            CandidateTable.place(connection, version, renamed.candidates(), ids(CandidateTable.read(connection)));
            for (DataSetTable.Row set : sets) {
                if (set.name().equals(from)) {
                    DataSetTable.rename(connection, set.id(), to);
                }
            }
            placeDataSets(connection, renamed);
            HistoryTable.add(connection, Event.of(now, Event.RENAMED, "data set " + from, "to " + to));
            open.commit();
            return true;
        });
    }

    /** The ids of the candidates of the plan, in its order. */
    private static List<Integer> ids(List<CandidateTable.Row> rows) {
        return PlanChange.ordered(rows, CandidateTable.Row::place).stream()
                .map(CandidateTable.Row::id)
                .toList();
    }

    private int version(Connection connection, Plan plan) throws SQLException {
        int fits = LedgerFile.number(connection, "SELECT count(*) FROM fit");
        return PlanTable.add(connection, plan, fits, Event.time(now), Head.program());
    }

    /** Says of the data sets of a new version of the plan where they stand; splits stay as they are. */
    private static void placeDataSets(Connection connection, Plan plan) throws SQLException {
        PlanVersion last = PlanTable.last(connection);
        Map<String, DataSetTable.Row> rows = new LinkedHashMap<>();
        for (DataSetTable.Row row : DataSetTable.read(connection)) {
            rows.put(row.name(), row);
        }
        DataSetTable.unplace(connection);
        for (int t = 0; t < plan.data().size(); t++) {
            DataSetTable.Row row = rows.get(plan.data().get(t).name());
            if (row == null) {
                throw Checks.wrong("data set " + (t + 1) + " of the plan is not there");
            }
            DataSetTable.place(
                    connection, row.id(), t, last.number(), plan.data().get(t), row.repeats());
        }
    }

    /**
     * What was taken away.
     *
     * @param names of candidates or data sets
     * @param fits how many
     * @param bytes that the file is smaller by
     */
    public record Forgotten(List<String> names, int fits, long bytes) {
        /** Copies the list. */
        public Forgotten {
            names = List.copyOf(names);
        }
    }

    /**
     * Takes candidates away with their fits: by name, by the name of their entry in the plan, or as {@code NAME@N}.
     *
     * @throws InputException if there is no such candidate, or what stays needs it
     */
    public Forgotten forget(List<String> names) {
        return forgotten(connection -> {
            LedgerView view = LedgerView.of(file, connection, false);
            List<CandidateTable.Row> rows = CandidateTable.read(connection);
            List<CandidateTable.Row> gone = new ArrayList<>();
            for (String name : names) {
                List<CandidateTable.Row> named = rows.stream()
                        .filter(r -> r.place().isPresent() ? matches(view.plan(), r, name) : matches(r, name))
                        .toList();
                Checks.that(
                        !named.isEmpty(), "no candidate is called \"%s\"%s", name, Suggestion.hint(name, known(rows)));
                named.stream().filter(r -> !gone.contains(r)).forEach(gone::add);
            }
            return removeCandidates(connection, view.plan(), rows, gone);
        });
    }

    /**
     * Takes everything away that is not in the plan any more.
     *
     * @throws InputException if there is nothing
     */
    public Forgotten forgetFormer() {
        return forgotten(connection -> {
            LedgerView view = LedgerView.of(file, connection, false);
            List<CandidateTable.Row> rows = CandidateTable.read(connection);
            Checks.that(!view.former().isEmpty(), "everything in it is in its plan");
            for (DataSetTable.Row row : DataSetTable.read(connection)) {
                if (row.place().isEmpty()) {
                    DataSetTable.remove(connection, row.id());
                }
            }
            for (CandidateTable.Row row : rows) {
                if (row.place().isEmpty()) {
                    CandidateTable.remove(connection, row.id());
                }
            }
            return view.former();
        });
    }

    /**
     * Takes data sets away with their fits.
     *
     * @throws InputException if there is no such data set, or none would be left
     */
    public Forgotten forgetDataSets(List<String> names) {
        return forgotten(connection -> {
            Plan plan = LedgerView.of(file, connection, false).plan();
            List<DataSetTable.Row> rows = DataSetTable.read(connection);
            List<DataSetTable.Row> gone = new ArrayList<>();
            for (String name : names) {
                List<DataSetTable.Row> named = rows.stream()
                        .filter(r -> name.equals(r.place().isPresent() ? r.name() : LedgerView.formerName(r)))
                        .toList();
                Checks.that(
                        !named.isEmpty(),
                        "no data set is called \"%s\"%s",
                        name,
                        Suggestion.hint(
                                name, rows.stream().map(DataSetTable.Row::name).toList()));
                gone.addAll(named);
            }
            Set<String> inPlan = gone.stream()
                    .filter(r -> r.place().isPresent())
                    .map(DataSetTable.Row::name)
                    .collect(Collectors.toSet());
            if (!inPlan.isEmpty()) {
                Plan left = PlanEdit.withoutDataSets(plan, inPlan);
                int version = version(connection, left);
                CandidateTable.place(connection, version, left.candidates(), ids(CandidateTable.read(connection)));
                placeDataSets(connection, left);
            }
            for (DataSetTable.Row row : gone) {
                DataSetTable.remove(connection, row.id());
            }
            return gone.stream().map(r -> "data set " + r.name()).toList();
        });
    }

    private static boolean matches(Plan plan, CandidateTable.Row row, String name) {
        return row.name().equals(name)
                || plan.candidates().get(row.place().orElseThrow()).family().equals(name);
    }

    private static boolean matches(CandidateTable.Row row, String name) {
        return LedgerView.formerName(row).equals(name);
    }

    private static List<String> known(List<CandidateTable.Row> rows) {
        return rows.stream()
                .map(r -> r.place().isPresent() ? r.name() : LedgerView.formerName(r))
                .toList();
    }

    private List<String> removeCandidates(
            Connection connection, Plan plan, List<CandidateTable.Row> rows, List<CandidateTable.Row> gone)
            throws SQLException {
        Set<String> inPlan = gone.stream()
                .filter(r -> r.place().isPresent())
                .map(CandidateTable.Row::name)
                .collect(Collectors.toSet());
        if (!inPlan.isEmpty()) {
            Plan left = PlanEdit.without(plan, inPlan);
            Map<String, Integer> ids = new LinkedHashMap<>();
            rows.stream().filter(r -> r.place().isPresent()).forEach(r -> ids.put(r.name(), r.id()));
            CandidateTable.place(
                    connection,
                    version(connection, left),
                    left.candidates(),
                    left.candidates().stream()
                            .map(c -> ids.getOrDefault(c.name(), -1))
                            .toList());
            placeDataSets(connection, left);
        }
        for (CandidateTable.Row row : gone) {
            CandidateTable.remove(connection, row.id());
        }
        return gone.stream()
                .map(r -> r.place().isPresent() ? r.name() : LedgerView.formerName(r))
                .toList();
    }

    /** Takes something away, whose names are returned. */
    private interface Removal {
        List<String> of(Connection connection) throws SQLException;
    }

    private Forgotten forgotten(Removal removal) {
        long before = bytes();
        Forgotten gone = changed(open -> {
            Connection connection = open.connection();
            int fits = LedgerFile.number(connection, "SELECT count(*) FROM fit");
            List<String> names = removal.of(connection);
            int left = LedgerFile.number(connection, "SELECT count(*) FROM fit");
            HistoryTable.add(
                    connection,
                    Event.of(now, Event.FORGOTTEN, String.join(", ", names), Plural.of(fits - left, "fit")));
            open.commit();
            open.giveSpaceBack();
            return new Forgotten(names, fits - left, 0);
        });
        return new Forgotten(gone.names(), gone.fits(), before - bytes());
    }

    private long bytes() {
        try {
            return Files.exists(file) ? Files.size(file) : 0;
        } catch (IOException e) {
            throw new InputException(file.toString(), "cannot be read: " + Reason.ofReading(e), e);
        }
    }
}
