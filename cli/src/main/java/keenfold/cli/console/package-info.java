/**
 * What all commands share: the console, exit codes, options that several have.
 */
@NullMarked
package keenfold.cli.console;

import org.jspecify.annotations.NullMarked;
