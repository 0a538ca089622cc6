/**
 * Tables of results: columns with their key, heading and kind of value, and rows.
 */
@NullMarked
package keenfold.results.table;

import org.jspecify.annotations.NullMarked;
