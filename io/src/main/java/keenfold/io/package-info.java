/**
 * Files and formats, to and from the types of the core.
 *
 * <p>{@link keenfold.io.InputException} is how every package below says that a file cannot be used.
 */
@NullMarked
package keenfold.io;

import org.jspecify.annotations.NullMarked;
