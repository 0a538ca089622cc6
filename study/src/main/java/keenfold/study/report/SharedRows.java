package keenfold.study.report;

import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import keenfold.core.data.DataSet;
import keenfold.io.InputException;
import keenfold.io.plan.AdoptedKind;
import keenfold.io.plan.Plan;
import keenfold.results.Evaluation;

/** Data sets with the same rows are not independent evidence. */
public final class SharedRows {
    private SharedRows() {}

    /**
     * Refuses to compare across data sets that have rows in common.
     *
     * @param ledger that holds them
     */
    public static void refuse(Plan plan, Evaluation evaluation, Path ledger) {
        List<DataSet> data = evaluation.inferences().stream()
                .map(i -> i.panel().task().data())
                .toList();
        for (int a = 0; a < data.size(); a++) {
            for (int b = a + 1; b < data.size(); b++) {
                if (shared(plan, data.get(a), data.get(b))) {
                    throw new InputException(
                            ledger.toString(),
                            "data sets \"" + data.get(a).name() + "\" and \""
                                    + data.get(b).name()
                                    + "\" have rows of the same file in common: across data sets they would count"
                                    + " twice; compare across sets of different rows");
                }
            }
        }
    }

    /** Rows of an adopted table are known by number alone, and those of adopted scores not at all. */
    private static boolean shared(Plan plan, DataSet a, DataSet b) {
        boolean adopted = plan.candidates().stream().allMatch(AdoptedKind::is);
        if (adopted || !file(plan, a).equals(file(plan, b))) {
            return false;
        }
        Set<Integer> rows = new HashSet<>();
        for (int row : a.sourceRows()) {
            rows.add(row);
        }
        for (int row : b.sourceRows()) {
            if (rows.contains(row)) {
                return true;
            }
        }
        return false;
    }

    private static String file(Plan plan, DataSet data) {
        return plan.data().stream()
                .filter(d -> d.name().equals(data.name()))
                .map(d -> d.file())
                .findFirst()
                .orElse(data.name());
    }
}
