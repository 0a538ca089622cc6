package keenfold.io.table;

import java.util.List;
import keenfold.core.data.DataSet;

/**
 * A data set as it was read.
 *
 * @param data the rows that have a class
 * @param fingerprint SHA-256, in hexadecimal, of the parsed values of the used columns
 * @param notices what was seen and what to do, one sentence each
 */
public record LoadedData(DataSet data, String fingerprint, List<String> notices) {
    /** Copies the list. */
    public LoadedData {
        notices = List.copyOf(notices);
    }
}
