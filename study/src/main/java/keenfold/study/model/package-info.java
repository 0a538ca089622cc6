/**
 * Training a model, and labelling new rows.
 */
@NullMarked
package keenfold.study.model;

import org.jspecify.annotations.NullMarked;
