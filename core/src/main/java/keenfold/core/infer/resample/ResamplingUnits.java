package keenfold.core.infer.resample;

import java.util.Arrays;
import java.util.Optional;
import keenfold.core.data.Categories;
import keenfold.core.metric.Outcomes;

/** The units that a draw resamples: rows that were tested at least once, or their groups. */
public final class ResamplingUnits {
    private final int[] unitOfRow;
    private final int count;
    private final boolean grouped;

    private ResamplingUnits(int[] unitOfRow, int count, boolean grouped) {
        this.unitOfRow = unitOfRow;
        this.count = count;
        this.grouped = grouped;
    }

    static ResamplingUnits of(AlignedPredictions panel, Optional<Categories> groups) {
        boolean[] tested = new boolean[panel.rows()];
        if (!panel.admitted().isEmpty()) {
            for (Outcomes part : panel.parts(panel.admitted().get(0))) {
                for (int i = 0; i < part.size(); i++) {
                    tested[part.row(i)] = true;
                }
            }
        }
        int[] unit = new int[tested.length];
        int[] renumber = new int[groups.map(g -> g.levels().size()).orElse(tested.length)];
        Arrays.fill(renumber, -1);
        int count = 0;
        for (int i = 0; i < unit.length; i++) {
            unit[i] = -1;
            if (tested[i]) {
                int own = groups.isPresent() ? groups.get().code(i) : i;
                if (renumber[own] < 0) {
                    renumber[own] = count++;
                }
                unit[i] = renumber[own];
            }
        }
        return new ResamplingUnits(unit, count, groups.isPresent());
    }

    /** Number of units, m. */
    public int count() {
        return count;
    }

    /** Unit of a row, −1 if the row was never tested. */
    int of(int row) {
        return unitOfRow[row];
    }

    /** Returns whether whole groups are drawn, and not single rows. */
    public boolean grouped() {
        return grouped;
    }

    int rows() {
        return unitOfRow.length;
    }
}
