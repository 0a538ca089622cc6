package keenfold.view.chart;

import com.pngencoder.PngEncoder;
import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.image.BufferedImage;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.zip.CRC32;
import keenfold.core.data.Checks;

/** Figures as SVG, PDF and PNG, from the same strokes. */
public final class Drawing {
    /** What figures can be written as, by the ends of file names. */
    public static final List<String> FORMATS = List.of("svg", "pdf", "png");

    private static final int MOST_PIXELS = 100_000_000;

    private Drawing() {}

    /**
     * Returns a figure as a file.
     *
     * @param format one of {@link #FORMATS}
     * @param scale of PNG: pixels per point, above 0
     * @throws IllegalArgumentException if the format is none of them, or the image would have too many pixels
     */
    public static byte[] of(String format, Figure figure, Look look, double scale) {
        return switch (format) {
            case "svg" -> svg(figure, look).getBytes(StandardCharsets.UTF_8);
            case "pdf" -> PdfDrawing.of(figure, look);
            case "png" -> png(figure, look, scale);
            default -> throw Checks.wrong("format " + format + ": expected one of " + FORMATS);
        };
    }

    /** Returns a figure as an SVG document, its marks with what they say. */
    public static String svg(Figure figure, Look look) {
        return SvgDrawing.of(figure, look).whole();
    }

    /** From the next level on files are a sixth smaller and take twice the time. */
    private static final int LITTLE_PACKED = 3;

    /** Where the first chunk of a PNG file, which says how large the image is, ends. */
    private static final int HEADER = 33;

    /** What drew an image, as PNG's keyword "Software" says it. */
    private static byte[] program() {
        byte[] content = "tEXtSoftware\0Keen Fold".getBytes(StandardCharsets.ISO_8859_1);
        CRC32 crc = new CRC32();
        crc.update(content);
        return ByteBuffer.allocate(content.length + 2 * Integer.BYTES)
                .putInt(content.length - Integer.BYTES)
                .put(content)
                .putInt((int) crc.getValue())
                .array();
    }

    /**
     * Returns a figure as a PNG image.
     *
     * @param scale pixels per point, above 0
     * @throws IllegalArgumentException if the image would have more than 100 million pixels
     */
    public static byte[] png(Figure figure, Look look, double scale) {
        Checks.that(scale > 0 && scale <= 20, "scale = %s: expected above 0, at most 20 pixels a point", scale);
        Graphics2D measure = new BufferedImage(1, 1, BufferedImage.TYPE_INT_RGB).createGraphics();
        double height = new Painter(figure, look, measure).height();
        measure.dispose();
        double pixels = look.width() * scale * height * scale;
        Checks.that(
                pixels <= MOST_PIXELS,
                "%.0f x %.0f pixels: expected at most 100 million; draw it smaller",
                look.width() * scale,
                height * scale);
        BufferedImage image = new BufferedImage(
                (int) Math.ceil(look.width() * scale), (int) Math.ceil(height * scale), BufferedImage.TYPE_INT_RGB);
        Graphics2D g = image.createGraphics();
        g.setPaint(Color.WHITE);
        g.fillRect(0, 0, image.getWidth(), image.getHeight());
        g.scale(scale, scale);
        new Painter(figure, look, g).paint();
        g.dispose();
        // By one thread, since figures are drawn by several.
        byte[] png = new PngEncoder()
                .withBufferedImage(image)
                .withCompressionLevel(LITTLE_PACKED)
                .withMultiThreadedCompressionEnabled(false)
                .toBytes();
        byte[] program = program();
        return ByteBuffer.allocate(png.length + program.length)
                .put(png, 0, HEADER)
                .put(program)
                .put(png, HEADER, png.length - HEADER)
                .array();
    }
}
