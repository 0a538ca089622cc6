package keenfold.results.table;

/**
 * A column of a table of results.
 *
 * @param key its name for programs, in CSV and JSON; empty if it is for people only
 * @param heading its name for people; empty above remarks
 * @param kind of its values
 * @param error key of the column that holds the standard errors of these numbers; empty for none
 * @param readers whom it is for
 */
public record Column(String key, String heading, ValueKind kind, String error, Readers readers) {
    /** Whom a column is for. */
    public enum Readers {
        /** People and programs. */
        ALL,
        /** Text and page. */
        PEOPLE,
        /** CSV and JSON. */
        PROGRAMS,
        /** CSV. */
        CSV,
        /** JSON. */
        JSON,
        /** Nobody: it serves the other columns, such as an error that is shown by digits alone. */
        NOBODY;

        boolean people() {
            return this == ALL || this == PEOPLE;
        }

        boolean csv() {
            return this == ALL || this == PROGRAMS || this == CSV;
        }

        boolean json() {
            return this == ALL || this == PROGRAMS || this == JSON;
        }
    }

    Column headed(String other) {
        return new Column(key, other, kind, error, readers);
    }

    Column withError(String other) {
        return new Column(key, heading, kind, other, readers);
    }

    Column withReaders(Readers others) {
        return new Column(key, heading, kind, error, others);
    }
}
