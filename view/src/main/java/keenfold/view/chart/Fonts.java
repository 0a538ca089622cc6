package keenfold.view.chart;

import java.awt.Font;
import java.awt.FontFormatException;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;

/** The one typeface of figures, which comes with the program so that layouts are the same everywhere. */
final class Fonts {
    /** What a page shows where the typeface is missing; of much the same widths. */
    static final String FAMILIES = "'DejaVu Sans', Verdana, sans-serif";

    private static final Font PLAIN = load();

    private Fonts() {}

    private static Font load() {
        try (InputStream in = Fonts.class.getResourceAsStream("DejaVuSans.ttf")) {
            if (in == null) {
                throw new IllegalStateException("DejaVuSans.ttf is not in the jar");
            }
            return Font.createFont(Font.TRUETYPE_FONT, in);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (FontFormatException e) {
            throw new IllegalStateException("DejaVuSans.ttf cannot be read", e);
        }
    }

    static Font plain(double size) {
        return PLAIN.deriveFont((float) size);
    }

    static Font strong(double size) {
        return PLAIN.deriveFont(Font.BOLD, (float) size);
    }

    /** A font that shows a text: the typeface, or what the machine has for letters that it lacks. */
    static Font showing(Font font, String text) {
        return font.canDisplayUpTo(text) < 0 ? font : new Font(Font.SANS_SERIF, font.getStyle(), font.getSize());
    }
}
