package keenfold.core.run.pipeline;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import keenfold.core.classify.ClassifierKind.Input;
import keenfold.core.data.Column;
import keenfold.core.data.Numbers;
import keenfold.core.data.Table;

/**
 * The columns that the probabilities of members make: of each member, one after another, a column for each class, named after
 * the member and the number of the class.
 *
 * @param members names of the members; none where a classifier is handed columns of the data
 * @param classes K
 * @param everyClass whether all K classes have a column, as a vote counts them; otherwise all but the first, whose column
 *     would be a linear combination of the others and would make a second classifier's columns dependent
 */
record MemberColumns(List<String> members, int classes, boolean everyClass) {
    /** Copies the names. */
    MemberColumns {
        members = List.copyOf(members);
    }

    static MemberColumns of(Input input, List<String> members, int classes) {
        return new MemberColumns(members, classes, input == Input.MEMBERS);
    }

    boolean none() {
        return members.isEmpty();
    }

    /** The classes that have a column, by index. */
    private int[] counted() {
        return IntStream.range(everyClass ? 0 : 1, classes).toArray();
    }

    /** Names of the columns. */
    List<String> names() {
        List<String> names = new ArrayList<>();
        for (String member : members) {
            for (int c : counted()) {
                names.add(member + " " + (c + 1));
            }
        }
        return names;
    }

    /**
     * The columns, each value as the member gave it.
     *
     * @param probabilities of each member K values per row, row after row
     */
    Table table(List<double[]> probabilities, int rows) {
        List<String> names = names();
        List<Column> columns = new ArrayList<>();
        for (double[] p : probabilities) {
            for (int c : counted()) {
                double[] values = new double[rows];
                for (int i = 0; i < rows; i++) {
                    values[i] = p[i * classes + c];
                }
                columns.add(Numbers.owning(names.get(columns.size()), values));
            }
        }
        return new Table(rows, columns);
    }

    /** The columns of so many rows, all zero. */
    Table blank(int rows) {
        return table(members.stream().map(m -> new double[rows * classes]).toList(), rows);
    }
}
