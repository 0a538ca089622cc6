/**
 * Classification trees and forests of them, grown on binned columns.
 *
 * <p>Open {@link keenfold.core.classify.tree.Tree} first.
 */
@NullMarked
package keenfold.core.classify.tree;

import org.jspecify.annotations.NullMarked;
