package keenfold.view.chart;

import java.util.List;

/**
 * Marks on two axes.
 *
 * @param title stands above, may be empty
 * @param x the level axis
 * @param y the upright axis; of names, the first stands on top
 * @param marks in the order of drawing
 */
public record Frame(String title, Axis x, Axis y, List<Mark> marks) {
    /** Copies the marks. */
    public Frame {
        marks = List.copyOf(marks);
    }
}
