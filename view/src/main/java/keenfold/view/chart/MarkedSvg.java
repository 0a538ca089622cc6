package keenfold.view.chart;

import java.io.StringWriter;
import java.util.Locale;
import java.util.stream.Collectors;
import javax.xml.parsers.DocumentBuilderFactory;
import javax.xml.parsers.ParserConfigurationException;
import javax.xml.transform.OutputKeys;
import javax.xml.transform.Transformer;
import javax.xml.transform.TransformerException;
import javax.xml.transform.TransformerFactory;
import javax.xml.transform.dom.DOMSource;
import javax.xml.transform.stream.StreamResult;
import keenfold.view.text.Wrap;
import org.apache.batik.svggen.SVGGeneratorContext;
import org.apache.batik.svggen.SVGGraphics2D;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NamedNodeMap;

/** Draws into SVG, in which each mark is an element of its own that knows its candidate and what it says. */
final class MarkedSvg extends SVGGraphics2D {
    private static final String SVG = "http://www.w3.org/2000/svg";

    private final Document document;
    private final Element all;
    private boolean first = true;

    private MarkedSvg(Document document, SVGGeneratorContext context) {
        super(context, false);
        this.document = document;
        this.all = document.createElementNS(SVG, "g");
    }

    static MarkedSvg empty() {
        try {
            Document document = DocumentBuilderFactory.newInstance()
                    .newDocumentBuilder()
                    .getDOMImplementation()
                    .createDocument(SVG, "svg", null);
            SVGGeneratorContext context = SVGGeneratorContext.createDefault(document);
            context.setPrecision(2);
            context.setComment("");
            return new MarkedSvg(document, context);
        } catch (ParserConfigurationException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Draws text without what cannot stand in a document. */
    @Override
    public void drawString(String text, float x, float y) {
        super.drawString(Wrap.visible(text), x, y);
    }

    /** Begins a mark. */
    void begin() {
        close(document.createElementNS(SVG, "g"));
    }

    /** Ends the mark that was begun last. */
    void end(String about, String tip) {
        Element mark = document.createElementNS(SVG, "g");
        mark.setAttribute("class", "mark");
        if (!about.isEmpty()) {
            mark.setAttribute("data-about", Wrap.visible(about));
        }
        if (!tip.isEmpty()) {
            Element title = document.createElementNS(SVG, "title");
            title.setTextContent(tip.lines().map(Wrap::visible).collect(Collectors.joining("\n")));
            mark.appendChild(title);
        }
        close(mark);
    }

    /** Moves what was drawn since the last call into an element. */
    private void close(Element into) {
        Element drawn = getTopLevelGroup(false);
        if (first) {
            NamedNodeMap defaults = drawn.getAttributes();
            for (int i = 0; i < defaults.getLength(); i++) {
                all.setAttribute(
                        defaults.item(i).getNodeName(), defaults.item(i).getNodeValue());
            }
            first = false;
        }
        if (!drawn.hasChildNodes()) {
            return;
        }
        while (drawn.hasChildNodes()) {
            into.appendChild(drawn.getFirstChild());
        }
        Tidy.tidy(into);
        all.appendChild(into);
    }

    /**
     * Returns the document, as XML without a declaration.
     *
     * @param title what the figure is, for those who do not see it
     */
    String text(double width, double height, String title) {
        close(document.createElementNS(SVG, "g"));
        Element root = document.createElementNS(SVG, "svg");
        root.setAttribute("viewBox", String.format(Locale.ROOT, "0 0 %.0f %.0f", width, height));
        root.setAttribute("width", String.format(Locale.ROOT, "%.0f", width));
        root.setAttribute("height", String.format(Locale.ROOT, "%.0f", height));
        root.setAttribute("data-program", "keenfold");
        root.setAttribute("role", "img");
        root.setAttribute("aria-label", title);
        all.setAttribute("font-family", Fonts.FAMILIES);
        all.setAttribute("stroke-linejoin", "round");
        Tidy.colours(all);
        root.appendChild(all);
        try {
            Transformer transformer = TransformerFactory.newInstance().newTransformer();
            transformer.setOutputProperty(OutputKeys.OMIT_XML_DECLARATION, "yes");
            StringWriter out = new StringWriter();
            transformer.transform(new DOMSource(root), new StreamResult(out));
            return out.toString();
        } catch (TransformerException e) {
            throw new IllegalStateException(e);
        }
    }
}
