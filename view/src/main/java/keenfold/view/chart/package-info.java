/**
 * Figures: what is drawn, and how.
 *
 * <p>Open {@link keenfold.view.chart.FigureKind} first: each kind makes a {@link keenfold.view.chart.Figure} of what
 * {@code core} computed, that is frames of marks with the numbers behind them. {@link keenfold.view.chart.Drawing} draws a
 * figure as SVG or PNG, {@link keenfold.view.chart.Sketch} in characters: all three from the same figure. Nothing here
 * computes a statistic; figures are the same to the last byte for the same numbers.
 */
@NullMarked
package keenfold.view.chart;

import org.jspecify.annotations.NullMarked;
