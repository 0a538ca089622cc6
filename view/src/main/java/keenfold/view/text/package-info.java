/**
 * Core results as text of at most 100 columns.
 *
 * <p>Open {@link keenfold.view.text.ScoresView} first. {@link keenfold.results.table.NumberFormats} alone turns numbers into text,
 * {@link keenfold.view.text.TextTable} alone lays them out, {@link keenfold.view.text.Ink} alone knows colour; meaning is
 * never in colour alone. Views take core records and return text; they compute nothing.
 */
@NullMarked
package keenfold.view.text;

import org.jspecify.annotations.NullMarked;
