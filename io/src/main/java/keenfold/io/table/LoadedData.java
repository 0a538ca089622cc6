package keenfold.io.table;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import keenfold.core.data.Column;
import keenfold.core.data.DataSet;
import keenfold.core.data.Notice;

/**
 * A data set as it was read.
 *
 * @param data the rows that have a class and are not held back
 * @param fingerprint SHA-256, in hexadecimal, of the parsed values of the used columns, rows held back included
 * @param notices what was seen and what to do, notice by notice
 * @param heldBack the rows held back, if any; for {@code train} alone
 * @param tested which rows of {@code data} came from a second file, if there is one
 * @param dates names of the columns that hold dates, as days since 1970-01-01
 * @param given per row of {@code data} where a column says it is tested
 */
public record LoadedData(
        DataSet data,
        String fingerprint,
        List<Notice> notices,
        Optional<DataSet> heldBack,
        Optional<Chosen> tested,
        Set<String> dates,
        Optional<Column> given) {
    /** Copies list and set. */
    public LoadedData {
        dates = Set.copyOf(dates);
        notices = List.copyOf(notices);
    }
}
