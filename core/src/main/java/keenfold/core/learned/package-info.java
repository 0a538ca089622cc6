/**
 * What classifiers learn, as plain values without a way to predict: what model files keep, PMML says and {@code show} shows.
 *
 * <p>{@link keenfold.core.learned.LearnedModel} is sealed, so that whoever does something with all of them, such as writing
 * them in another form, cannot leave one out. Java wants a sealed type and its kinds in one package (Java Language
 * Specification 17, 8.1.6), which is why they stand here and not beside the classifiers that learn them.
 */
@NullMarked
package keenfold.core.learned;

import org.jspecify.annotations.NullMarked;
