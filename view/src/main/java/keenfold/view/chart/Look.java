package keenfold.view.chart;

import java.util.Optional;
import keenfold.core.data.Checks;

/**
 * How large a figure is drawn, and what stands above it.
 *
 * @param width in points (1/72 inch in print, pixels on a screen)
 * @param height in points; absent to go by what is in it
 * @param fontSize in points
 * @param title in place of its own
 * @param words whether title and caption are drawn
 */
public record Look(double width, Optional<Double> height, double fontSize, Optional<String> title, boolean words) {
    /** As wide as a page's text, with title and caption. */
    public static final Look DEFAULT = new Look(720, Optional.empty(), 11, Optional.empty(), true);

    /** As wide as a phone's screen, without title and caption. */
    public static final Look NARROW = new Look(360, Optional.empty(), 11, Optional.empty(), false);

    /** Letters as large as those of a caption in a paper. */
    public static final double PAPER_FONT = 8;

    /** One column of a paper, in points. */
    public static final double ONE_COLUMN = 252;

    /** Two columns of a paper, in points. */
    public static final double TWO_COLUMNS = 516;

    /** Checks the ranges. */
    public Look {
        Checks.that(width >= 200 && width <= 10000, "width = %s: expected 200 … 10000 points", width);
        Checks.that(
                height.isEmpty() || (height.get() >= 150 && height.get() <= 20000),
                "height = %s: expected 150 … 20000 points",
                height.orElse(0.0));
        Checks.that(fontSize >= 4 && fontSize <= 72, "font size = %s: expected 4 … 72 points", fontSize);
    }

    /** Returns the same without title and caption, which then stand beside it. */
    public Look bare() {
        return new Look(width, height, fontSize, Optional.empty(), false);
    }
}
