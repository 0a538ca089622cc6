/**
 * From the texts of a table to columns of numbers or categories, and what is odd about them.
 */
@NullMarked
package keenfold.io.table.parse;

import org.jspecify.annotations.NullMarked;
