/**
 * Tables from files.
 *
 * <p>{@link keenfold.io.table.DataReader} makes a data set of a {@link keenfold.io.table.DataSpec};
 * {@link keenfold.io.table.TableReader} below it reads delimited text into typed columns in one pass, finding the
 * separator and the kind of each column by itself. Whatever is odd ends in an {@link keenfold.io.InputException} with
 * file, line and column, or in a notice; never in a silently wrong number.
 */
@NullMarked
package keenfold.io.table;

import org.jspecify.annotations.NullMarked;
