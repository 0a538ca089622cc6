package keenfold.view.chart;

import java.awt.Shape;
import java.awt.geom.Path2D;
import java.awt.geom.PathIterator;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
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
import org.apache.batik.svggen.SVGShape;
import org.jspecify.annotations.Nullable;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NamedNodeMap;
import org.w3c.dom.Node;

/**
 * Draws into SVG, in which each mark is an element of its own that knows its candidate and what it says. Title and caption
 * can be left out of what was drawn.
 */
final class MarkedSvg extends SVGGraphics2D {
    private static final String SVG = "http://www.w3.org/2000/svg";

    private final Document document;
    /** Attributes that everything has. */
    private final Element shared;

    private final Element body;
    private final List<Element> words = new ArrayList<>();
    private boolean first = true;

    private MarkedSvg(Document document, SVGGeneratorContext context) {
        super(context, false);
        this.document = document;
        this.shared = document.createElementNS(SVG, "g");
        this.body = document.createElementNS(SVG, "g");
        this.shapeConverter = new ShortPaths(context);
    }

    /** Writes paths of straight lines in few letters. */
    private static final class ShortPaths extends SVGShape {
        private final Document document;

        ShortPaths(SVGGeneratorContext context) {
            super(context);
            this.document = context.getDOMFactory();
        }

        @Override
        public @Nullable Element toSVG(Shape shape) {
            Optional<String> path = shape instanceof Path2D ? Tidy.path(shape.getPathIterator(null)) : Optional.empty();
            if (path.isEmpty()) {
                return super.toSVG(shape);
            }
            if (path.get().isEmpty()) {
                return null;
            }
            Element element = document.createElementNS(SVG, "path");
            element.setAttribute("d", path.get());
            if (shape.getPathIterator(null).getWindingRule() == PathIterator.WIND_EVEN_ODD) {
                element.setAttribute("fill-rule", "evenodd");
            }
            return element;
        }
    }

    static MarkedSvg empty() {
        try {
            Document document = DocumentBuilderFactory.newDefaultInstance()
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

    /** Ends the title or the caption. */
    void endWords() {
        Element group = document.createElementNS(SVG, "g");
        close(group);
        if (group.hasChildNodes()) {
            body.removeChild(group);
            words.add(group);
        }
    }

    /** Begins a mark, or words. */
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
                shared.setAttribute(
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
        body.appendChild(into);
    }

    /** Ends the drawing. */
    void end() {
        close(document.createElementNS(SVG, "g"));
        shared.setAttribute("font-family", Fonts.FAMILIES);
        shared.setAttribute("stroke-linejoin", "round");
        Tidy.colours(shared);
        Tidy.colours(body);
        words.forEach(Tidy::colours);
    }

    /**
     * Returns the document, as XML without a declaration, once it is ended.
     *
     * @param worded whether title and caption are in it
     * @param top where what is shown begins, in whole points
     * @param title what the figure is, for those who do not see it
     */
    String text(boolean worded, double top, double width, double height, String title) {
        Node all = shared.cloneNode(false);
        all.appendChild(body);
        if (worded) {
            words.forEach(all::appendChild);
        }
        Element root = document.createElementNS(SVG, "svg");
        root.setAttribute("viewBox", String.format(Locale.ROOT, "0 %.0f %.0f %.0f", top, width, height));
        root.setAttribute("width", String.format(Locale.ROOT, "%.0f", width));
        root.setAttribute("height", String.format(Locale.ROOT, "%.0f", height));
        root.setAttribute("data-program", "keenfold");
        root.setAttribute("role", "img");
        root.setAttribute("aria-label", title);
        root.appendChild(all);
        try {
            Transformer transformer = TransformerFactory.newDefaultInstance().newTransformer();
            transformer.setOutputProperty(OutputKeys.OMIT_XML_DECLARATION, "yes");
            StringWriter out = new StringWriter();
            transformer.transform(new DOMSource(root), new StreamResult(out));
            return out.toString();
        } catch (TransformerException e) {
            throw new IllegalStateException(e);
        }
    }
}
