/**
 * The commands: one thin class each, that reads its arguments, makes one call and writes what comes back.
 *
 * <p>{@link keenfold.cli.Main} is where a process begins and ends; {@link keenfold.cli.Keenfold} lists the commands;
 * {@link keenfold.cli.console.Console} is all that commands know of the terminal.
 */
@NullMarked
package keenfold.cli;

import org.jspecify.annotations.NullMarked;
