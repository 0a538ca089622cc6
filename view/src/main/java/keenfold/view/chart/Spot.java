package keenfold.view.chart;

/**
 * A point of a figure, in the units of its axes.
 *
 * @param x along
 * @param y up
 */
public record Spot(double x, double y) {}
