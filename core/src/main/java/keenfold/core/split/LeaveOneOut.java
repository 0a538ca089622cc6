package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;

/**
 * Each row tested alone, by models of all others; rows that are bound because they are equal, together.
 *
 * <p>Reference: Lachenbruch and Mickey (1968), Estimation of error rates in discriminant analysis, Technometrics 10(1),
 * doi:10.1080/00401706.1968.10490530.
 */
public record LeaveOneOut() implements Scheme {
    @Override
    public String label() {
        return "leave-one-out";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        Checks.that(
                data.groups().isEmpty(),
                "leave-one-out would train on rows of the group that it tests; use leave-group-out for data set \"%s\"",
                data.name());
        Checks.that(blocks.count() > 1, "data set \"%s\" has only one row", data.name());
        int[] foldOf = new int[data.rows()];
        Arrays.setAll(foldOf, blocks::of);
        return Splits.partitions(new int[][] {foldOf});
    }
}
