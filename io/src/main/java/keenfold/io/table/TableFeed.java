package keenfold.io.table;

/** Hands over the rows of one table, from the first on each time it is asked. */
interface TableFeed {
    /**
     * Hands over the columns' names, then every value of every row.
     *
     * @throws keenfold.io.InputException if the table cannot be read
     */
    void feed(TableSink intake);
}
