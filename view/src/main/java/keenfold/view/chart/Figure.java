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
    /** Named places side by side, such as the predicted classes of a matrix, that have room on a phone's screen. */
    private static final int MOST_NARROW = 6;

    /** Copies the frames. */
    public Figure {
        frames = List.copyOf(frames);
    }

    /** Returns whether all of it can still be read when it is drawn as wide as a phone's screen. */
    public boolean fitsNarrow() {
        return kind != FigureKind.TREE
                && frames.stream().allMatch(f -> !f.x().named() || f.x().names().size() <= MOST_NARROW);
    }
}
