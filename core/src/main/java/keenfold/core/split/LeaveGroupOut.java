package keenfold.core.split;

import java.util.Arrays;
import keenfold.core.data.Checks;
import keenfold.core.data.DataSet;
import keenfold.core.data.Seed;

/** Each group tested alone, by models of all other groups, in the order of the groups' names. */
public record LeaveGroupOut() implements Scheme {
    @Override
    public String label() {
        return "leave-group-out";
    }

    @Override
    public Splits divide(DataSet data, Blocks blocks, Seed seed) {
        Checks.that(
                data.groups().isPresent(),
                "leave-group-out needs groups, which data set \"%s\" has not; name their column with groups:, or use"
                        + " leave-one-out",
                data.name());
        Checks.that(blocks.count() > 1, "data set \"%s\" has only one group; leave-group-out needs two", data.name());
        // Numbered by name and not by first row, so that fold 3 is the third group of a sorted list.
        int[] least = new int[blocks.count()];
        Arrays.fill(least, Integer.MAX_VALUE);
        for (int i = 0; i < data.rows(); i++) {
            least[blocks.of(i)] =
                    Math.min(least[blocks.of(i)], data.groups().orElseThrow().code(i));
        }
        int[] rank = new int[least.length];
        Arrays.setAll(
                rank, b -> (int) Arrays.stream(least).filter(l -> l < least[b]).count());
        int[] foldOf = new int[data.rows()];
        Arrays.setAll(foldOf, i -> rank[blocks.of(i)]);
        return Splits.partitions(new int[][] {foldOf});
    }
}
