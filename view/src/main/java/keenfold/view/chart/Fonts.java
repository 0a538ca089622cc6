package keenfold.view.chart;

import java.awt.Font;
import java.awt.FontFormatException;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.text.AttributedCharacterIterator;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;

/** The one typeface of figures, which comes with the program so that layouts are the same everywhere. */
final class Fonts {
    /** What a page shows where the typeface is missing; of much the same widths. */
    static final String FAMILIES = "'DejaVu Sans', Verdana, sans-serif";

    private static final String CONFIGURED = "sun.awt.fontconfig";

    /** Whether the machine has typefaces of its own, for letters that ours lacks. */
    private static final boolean MORE = prepare();

    private static final Font PLAIN = load();

    private Fonts() {}

    /**
     * Lets Java draw text on a Linux without fontconfig, such as a bare container: it asks that library which typefaces
     * there are, and gives up where it is missing, even if none of them is wanted. A configuration that names none will do.
     */
    private static boolean prepare() {
        boolean linux =
                System.getProperty("os.name", "").toLowerCase(Locale.ROOT).contains("linux");
        if (!linux || System.getProperty(CONFIGURED) != null || fontconfig()) {
            return true;
        }
        try {
            Path none = Files.createTempFile("keenfold", ".properties");
            none.toFile().deleteOnExit();
            Files.writeString(none, "version=1\nsequence.allfonts=default\n");
            System.setProperty(CONFIGURED, none.toString());
            return false;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static boolean fontconfig() {
        return Stream.of("/usr/lib", "/usr/lib64", "/lib", "/lib64", "/usr/local/lib")
                .map(Path::of)
                .filter(Files::isDirectory)
                .anyMatch(Fonts::holdsFontconfig);
    }

    private static boolean holdsFontconfig(Path folder) {
        try (Stream<Path> files = Files.find(
                folder, 2, (p, a) -> p.getFileName().toString().startsWith("libfontconfig.so") && a.isRegularFile())) {
            return files.findFirst().isPresent();
        } catch (IOException | UncheckedIOException e) {
            // A folder that cannot be looked into is as good as none.
            return false;
        }
    }

    /** Returns the file of the typeface. */
    static InputStream file() {
        InputStream in = Fonts.class.getResourceAsStream("DejaVuSans.ttf");
        if (in == null) {
            throw new IllegalStateException("DejaVuSans.ttf is not in the jar");
        }
        return in;
    }

    private static Font load() {
        try (InputStream in = file()) {
            return Font.createFont(Font.TRUETYPE_FONT, in);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (FontFormatException e) {
            throw new IllegalStateException("DejaVuSans.ttf cannot be read", e);
        }
    }

    static Font plain(double size) {
        return new Named(PLAIN.deriveFont((float) size));
    }

    static Font strong(double size) {
        return new Named(PLAIN.deriveFont(Font.BOLD, (float) size));
    }

    /** The typeface with its name at hand: Java looks it up in the file for each text that is drawn. */
    private static final class Named extends Font {
        private static final long serialVersionUID = 1;

        private static final String FAMILY = Fonts.PLAIN.getFamily();

        Named(Font font) {
            super(font);
        }

        @Override
        public String getFamily() {
            return FAMILY;
        }

        @Override
        public Font deriveFont(Map<? extends AttributedCharacterIterator.Attribute, ?> attributes) {
            return new Named(super.deriveFont(attributes));
        }
    }

    /** A font that shows a text: the typeface, or what the machine has for letters that it lacks. */
    static Font showing(Font font, String text) {
        return !MORE || font.canDisplayUpTo(text) < 0
                ? font
                : new Font(Font.SANS_SERIF, font.getStyle(), font.getSize());
    }
}
