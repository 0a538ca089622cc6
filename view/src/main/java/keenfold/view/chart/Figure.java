package keenfold.view.chart;

import java.util.List;

/**
 * A figure before it is drawn.
 *
 * @param kind what it shows
 * @param title one line
 * @param caption what is to be known for reading it: units, n, how intervals were made
 * @param frames at least one
 * @param across how many frames stand side by side
 * @param data the numbers behind it
 */
public record Figure(FigureKind kind, String title, String caption, List<Frame> frames, int across, FigureData data) {
    /** Copies the frames. */
    public Figure {
        frames = List.copyOf(frames);
    }
}
