/**
 * Results for other programs: CSV after RFC 4180 and JSON with settled keys.
 *
 * <p>Numbers are written so that they read back equal, the same on every JDK; what is undefined is empty in CSV and null
 * in JSON. The order of rows is that of data sets, candidates, repeats, folds and rows, never that of finishing.
 */
@NullMarked
package keenfold.io.export;

import org.jspecify.annotations.NullMarked;
