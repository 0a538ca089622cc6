package keenfold.view.chart;

import de.rototor.pdfbox.graphics2d.PdfBoxGraphics2D;
import de.rototor.pdfbox.graphics2d.PdfBoxGraphics2DFontTextDrawer;
import java.awt.Font;
import java.awt.Graphics2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import keenfold.view.text.Wrap;
import org.apache.pdfbox.pdfwriter.compress.CompressParameters;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.apache.pdfbox.pdmodel.PDPageContentStream;
import org.apache.pdfbox.pdmodel.common.PDRectangle;
import org.apache.pdfbox.pdmodel.font.PDFont;
import org.apache.pdfbox.pdmodel.font.PDType0Font;
import org.jspecify.annotations.Nullable;

/** A figure as PDF: one page of its size, strokes as strokes, text as text in the typeface that is embedded. */
final class PdfDrawing {
    /** The producer of the files, by which they are known again: it stands among their first hundred bytes. */
    private static final String PROGRAM = "Keen Fold";

    private PdfDrawing() {}

    static byte[] of(Figure figure, Look look) {
        Graphics2D measure = new BufferedImage(1, 1, BufferedImage.TYPE_INT_RGB).createGraphics();
        float width = (float) look.width();
        float height = (float) new Painter(figure, look, measure).height();
        measure.dispose();
        try (PDDocument document = new PDDocument();
                InputStream typeface = Fonts.file()) {
            PDPage page = new PDPage(new PDRectangle(width, height));
            document.addPage(page);
            document.getDocumentInformation().setProducer(PROGRAM);
            document.getDocumentInformation().setTitle(Wrap.visible(figure.title()));
            // Otherwise it would be made of the time of day.
            document.setDocumentId(1L);
            PdfBoxGraphics2D g = new PdfBoxGraphics2D(document, width, height);
            g.setFontTextDrawer(new Embedded(PDType0Font.load(document, typeface)));
            new Painter(figure, look, g).paint();
            g.dispose();
            try (PDPageContentStream content = new PDPageContentStream(document, page)) {
                content.drawForm(g.getXFormObject());
            }
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            document.save(out, CompressParameters.NO_COMPRESSION);
            return out.toByteArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Writes plain text in the embedded typeface; bold text, and letters that it lacks, as outlines. */
    private static final class Embedded extends PdfBoxGraphics2DFontTextDrawer {
        private final PDFont typeface;

        Embedded(PDFont typeface) {
            this.typeface = typeface;
        }

        @Override
        protected @Nullable PDFont mapFont(Font font, IFontTextDrawerEnv env)
                throws IOException, java.awt.FontFormatException {
            return font.isPlain() && font.getFamily().equals(Fonts.plain(1).getFamily()) ? typeface : null;
        }
    }
}
