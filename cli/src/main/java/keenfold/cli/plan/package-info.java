/**
 * Commands before a run: look at a table, list what can be in a plan, draft one, show its splits.
 */
@NullMarked
package keenfold.cli.plan;

import org.jspecify.annotations.NullMarked;
