/**
 * Ledgers: the SQLite file that a run fills, with every fit, score and prediction.
 *
 * <p>{@link keenfold.io.ledger.LedgerWriter} is the sink of a run: it holds an operating-system lock, writes in batches
 * and can be killed at any instant; {@link keenfold.io.ledger.LedgerReader} gives what is there back as
 * {@link keenfold.core.run.result.Results}. The schema stands in {@code schema.sql} beside these classes and is explained in
 * docs/ledger.md.
 */
@NullMarked
package keenfold.io.ledger;

import org.jspecify.annotations.NullMarked;
