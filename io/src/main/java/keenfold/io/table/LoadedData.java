package keenfold.io.table;

import java.util.List;
import java.util.Optional;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;

/**
 * A data set as it was read.
 *
 * @param data the rows that have a class and are not held back
 * @param fingerprint SHA-256, in hexadecimal, of the parsed values of the used columns, rows held back included
 * @param notices what was seen and what to do, one sentence each
 * @param heldBack the rows held back, if any; for {@code train} alone
 * @param tested which rows of {@code data} came from a second file, if there is one
 * @param orderKind what the order of the rows is made of, if there is one
 * @param given per row of {@code data} where a column says it is tested
 */
public record LoadedData(
        DataSet data,
        String fingerprint,
        List<String> notices,
        Optional<DataSet> heldBack,
        Optional<Chosen> tested,
        Optional<ReadColumn.Kind> orderKind,
        Optional<Column> given) {
    /** Copies the list. */
    public LoadedData {
        notices = List.copyOf(notices);
    }
}
