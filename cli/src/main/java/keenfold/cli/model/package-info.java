/**
 * Commands about a trained model: train it, predict new rows with it, show what it learned.
 */
@NullMarked
package keenfold.cli.model;

import org.jspecify.annotations.NullMarked;
