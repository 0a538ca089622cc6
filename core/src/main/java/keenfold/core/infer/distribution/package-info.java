/**
 * Distributions: the t, beta, chi-square and studentised range, and exact signed ranks. No function whose last bit differs between
 * machines.
 */
@NullMarked
package keenfold.core.infer.distribution;

import org.jspecify.annotations.NullMarked;
