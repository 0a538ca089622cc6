/**
 * Tables, classes and chance: what every other package of the core stands on.
 *
 * <p>Open {@link keenfold.core.data.DataSet} first: a {@link keenfold.core.data.Table} of feature columns, the
 * {@link keenfold.core.data.Classes} of its target and, if there are any, the groups of its rows. Columns are stored
 * by column, numbers as primitive arrays (a missing number is NaN), categories as codes (a missing one is −1). Sides
 * of a split are {@link keenfold.core.data.Rows}: row numbers with case counts, never copies.
 *
 * <p>All types here are immutable and safe to share between threads, except {@link keenfold.core.data.RandomSource}, which
 * belongs to one thread. Randomness enters the core through {@link keenfold.core.data.Seed} alone.
 */
@NullMarked
package keenfold.core.data;

import org.jspecify.annotations.NullMarked;
