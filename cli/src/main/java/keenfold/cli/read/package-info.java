/**
 * Commands that read a ledger: scores, differences, the pick, figures, the report, exports.
 */
@NullMarked
package keenfold.cli.read;

import org.jspecify.annotations.NullMarked;
