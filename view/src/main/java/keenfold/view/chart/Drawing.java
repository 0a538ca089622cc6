package keenfold.view.chart;

import java.awt.Color;
import java.awt.Graphics2D;
import java.awt.Rectangle;
import java.awt.image.BufferedImage;
import java.awt.image.Raster;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.metadata.IIOMetadataNode;
import javax.imageio.stream.ImageOutputStream;
import keenfold.core.data.Checks;
import keenfold.view.text.Wrap;

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
            default -> throw new IllegalArgumentException("format " + format + ": expected one of " + FORMATS);
        };
    }

    /** Returns a figure as an SVG document, its marks with what they say. */
    public static String svg(Figure figure, Look look) {
        MarkedSvg g = MarkedSvg.empty();
        Painter painter = new Painter(figure, look, g);
        painter.paint();
        String text = g.text(look.width(), painter.height(), Wrap.visible(figure.title()));
        g.dispose();
        return text;
    }

    /** The PNG writer's scale: a fifth larger than what it does by itself, in two thirds of the time. */
    private static final float LITTLE_PACKED = 0.8f;

    /** What drew an image, as PNG's keyword "Software" says it. */
    private static IIOMetadataNode program() {
        IIOMetadataNode entry = new IIOMetadataNode("tEXtEntry");
        entry.setAttribute("keyword", "Software");
        entry.setAttribute("value", "Keen Fold");
        IIOMetadataNode texts = new IIOMetadataNode("tEXt");
        texts.appendChild(entry);
        IIOMetadataNode all = new IIOMetadataNode("javax_imageio_png_1.0");
        all.appendChild(texts);
        return all;
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
        BufferedImage image = new Uncopied((int) Math.ceil(look.width() * scale), (int) Math.ceil(height * scale));
        Graphics2D g = image.createGraphics();
        g.setPaint(Color.WHITE);
        g.fillRect(0, 0, image.getWidth(), image.getHeight());
        g.scale(scale, scale);
        new Painter(figure, look, g).paint();
        g.dispose();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try {
            ImageIO.setUseCache(false);
            ImageWriter writer = ImageIO.getImageWritersByFormatName("png").next();
            IIOMetadata about = writer.getDefaultImageMetadata(ImageTypeSpecifier.createFromRenderedImage(image), null);
            about.mergeTree("javax_imageio_png_1.0", program());
            try (ImageOutputStream to = ImageIO.createImageOutputStream(out)) {
                writer.setOutput(to);
                ImageWriteParam fast = writer.getDefaultWriteParam();
                fast.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
                fast.setCompressionQuality(LITTLE_PACKED);
                writer.write(null, new IIOImage(image, null, about), fast);
            } finally {
                writer.dispose();
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return out.toByteArray();
    }

    /** An image that the PNG writer, which asks for one line after the other, need not copy: a third of its time. */
    private static final class Uncopied extends BufferedImage {
        Uncopied(int width, int height) {
            super(width, height, BufferedImage.TYPE_3BYTE_BGR);
        }

        @Override
        public Raster getData(Rectangle part) {
            return getRaster().createChild(part.x, part.y, part.width, part.height, part.x, part.y, null);
        }
    }
}
