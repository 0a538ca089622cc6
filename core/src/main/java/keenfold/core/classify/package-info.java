/**
 * Classifiers: from labelled rows to a function that gives class probabilities.
 *
 * <p>Open {@link keenfold.core.classify.Classifier} first. A classifier is an immutable description; {@code fit} gives an
 * immutable {@link keenfold.core.classify.Model}, whose {@link keenfold.core.learned.LearnedModel} can be kept. Each method has a
 * folder of its own, with its {@link keenfold.core.classify.ClassifierKind} (settings and catalog text), its fit and its kernels;
 * {@code catalog} lists them. What stands here is shared by several methods.
 *
 * <p>Every classifier takes case weights (weight 2 means that the row is there twice), gives probabilities that sum to
 * one, and gives probability 0 to a class without training rows. What is drawn at random comes from the generator that
 * is handed in. Kernels are single-threaded and use no function whose last bit differs between machines.
 */
@NullMarked
package keenfold.core.classify;

import org.jspecify.annotations.NullMarked;
