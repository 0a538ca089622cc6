/**
 * What a trained model learned, for a reader: rules, coefficients, densities, in the columns and units of the data.
 *
 * <p>Open {@link keenfold.view.model.ModelView} first, then {@code LearnedParts}, which has what each kind of model shows.
 */
@NullMarked
package keenfold.view.model;

import org.jspecify.annotations.NullMarked;
