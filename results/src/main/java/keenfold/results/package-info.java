/**
 * Results: what was found, each as one table with its notices; text, page, CSV and JSON are made of them.
 */
@NullMarked
package keenfold.results;

import org.jspecify.annotations.NullMarked;
