/** Core results made readable: {@link keenfold.view.text} for the terminal. */
@NullMarked
package keenfold.view;

import org.jspecify.annotations.NullMarked;
