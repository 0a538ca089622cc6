/**
 * SQLite databases, opened in one place: {@link keenfold.io.sqlite.SqliteFile} for every file, whether it is a table of the
 * user's or a ledger. A database may come from a stranger, so its name is never read as options, and its content may start
 * nothing.
 */
@org.jspecify.annotations.NullMarked
package keenfold.io.sqlite;
