/**
 * Candidates that are programs of the user's.
 *
 * <p>{@link keenfold.io.command.CommandKind} is the kind of classifier that plans name; its models hand a program tables as
 * CSV files and read class probabilities back. docs/command.md says what lies where.
 */
@NullMarked
package keenfold.io.command;

import org.jspecify.annotations.NullMarked;
