/**
 * Model files: a trained candidate with what is needed to use it, and where it comes from.
 *
 * <p>Open {@link keenfold.io.model.ModelFile} first. A file is gzipped JSON and holds data alone: reading one runs no code of
 * it, takes memory in proportion to the file, and refuses what is damaged or foreign with the reason.
 */
@NullMarked
package keenfold.io.model;

import org.jspecify.annotations.NullMarked;
